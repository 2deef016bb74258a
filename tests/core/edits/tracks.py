"""Random edits of tracks, of several items at once, and across promos."""

from __future__ import annotations

from hypothesis import strategies as st
from hypothesis.stateful import rule

from glowreel.core import commands as c
from glowreel.core.content import KINDS
from glowreel.core.errors import Refusal
from glowreel.core.fragment import take
from glowreel.core.time import RATES, Rate, ticks
from glowreel.core.timeline import timeline
from tests.core.build import Table
from tests.core.edits.base import (
    PASSINGS,
    Editing,
    lengths,
    looks,
    pick,
    times,
)


class Tracks(Editing):
    @rule(n=pick, at=st.none() | times)
    def close_gaps(self, n: int, at: int | None) -> None:
        self.do(c.CloseGap(track=self.track(n), at=at))

    # ---- tracks and several items ----

    def track(self, n: int) -> str:
        tracks = [*self.table.promo.layers, *self.table.promo.sounds]
        return tracks[n % len(tracks)].id if tracks else "nothing"

    @rule(n=pick, flag=st.booleans(), field=st.sampled_from(["locked", "hidden", "muted", "solo"]))
    def set_track(self, n: int, flag: bool, field: str) -> None:
        self.do(c.SetTrack(track=self.track(n), **{field: flag}))

    @rule(n=pick, by=st.integers(-3, 3))
    def move_track(self, n: int, by: int) -> None:
        self.do(c.MoveTrack(track=self.track(n), by=by))
        self.do(c.StepTrack(item=self.item(n), by=1 if by > 0 else -1))
        if n == 7:
            self.do(c.RemoveTrack(track=self.track(n)))

    @rule(n=pick, other_n=pick, by=st.integers(-ticks(9), ticks(9)))
    def move_and_trim_several(self, n: int, other_n: int, by: int) -> None:
        both = (self.thing(n), self.thing(other_n))
        self.do(c.MoveItems(items=both, by=by))
        self.do(c.TrimBy(items=both, edge="end" if n % 2 else "start", by=by))
        self.do(c.TrimTo(items=both, length=abs(by) + ticks(0.2)))
        self.do(c.Group(items=both, apart=bool(other_n % 2)))

    @rule(n=pick, other_n=pick, at=times)
    def copies(self, n: int, other_n: int, at: int) -> None:
        both = (self.thing(n), self.thing(other_n))
        self.do(c.Duplicate(items=both))
        if all(key in timeline(self.table.promo).clip or key in timeline(self.table.promo).item for key in both):
            fragment = take(self.table.promo, set(both))
            self.do(c.Paste(fragment=fragment, at=at))

    @rule(moment=times)
    def all_of_it_in_another_promo(self, moment: int) -> None:
        """What is copied is seen there as it was here, part by part, in a format with changes of its own."""
        promo = self.table.promo
        everything = {part.id for part in (*promo.clips, *promo.items)}
        if not everything:
            return
        fragment = take(promo, everything)
        other = Table(promo.rate, family=f"copy{len(self.states)}-")
        other.promo = other.promo.changed(brand=promo.brand)
        try:
            other.do(c.Paste(fragment=fragment))
        except Refusal as refusal:
            assert refusal.code in ("too-long", "too-many", "too-much")
            return
        there = timeline(other.promo)
        # Copies keep the order that they have in the fragment, on tracks that may be others.
        copies = {name: [] for name in KINDS}
        for part in (*fragment.clips, *fragment.items):
            copies[part.kind].append(looks(promo, part, moment))
        for part in (*there.clip.values(), *there.item.values()):
            look = looks(other.promo, part, moment)
            assert look in copies[part.kind], "something looks otherwise where it was pasted"
            copies[part.kind].remove(look)
        assert not any(copies.values())

    @rule(rate=st.sampled_from(RATES), at=times, length=lengths)
    def paste_from_another_rate(self, rate: Rate, at: int, length: int) -> None:
        other = Table(rate, family=f"other{len(self.states)}-")
        other.do(c.InsertClips(media=("field", "still", "ridge")))
        other.do(c.Trim(item=other.promo.clips[0].id, length=length))
        other.do(c.AddWords(at=ticks(3), length=length))
        other.do(c.SetTransition(after=other.promo.clips[0].id, length=length))
        self.do(c.Paste(fragment=take(other.promo, {clip.id for clip in other.promo.clips}), at=at))

    @rule(rate=st.sampled_from(RATES))
    def another_rate(self, rate: Rate) -> None:
        before = timeline(self.table.promo)
        self.do(c.SetRate(rate=rate))
        after = timeline(self.table.promo)
        drift = len(self.table.promo.clips) * self.table.promo.rate.frame
        assert abs(after.main_length - before.main_length) <= max(drift, before.promo.rate.frame)

    @rule(n=pick)
    def detach_and_attach(self, n: int) -> None:
        clip = self.clip(n)
        self.do(c.DetachSound(clip=clip))
        if n % 2:
            self.do(c.AttachSound(clip=clip))

    @rule(n=pick, other_n=pick)
    def close_after_removing(self, n: int, other_n: int) -> None:
        self.do(c.Remove(items=(self.thing(n),), close=True))

    # ---- scenes, transitions, notes ----

    def a_scene(self, n: int) -> str:
        scenes = self.table.promo.scenes
        return scenes[n % len(scenes)].id if scenes else "nothing"

    @rule(n=pick, other_n=pick, at=times, length=lengths)
    def scenes(self, n: int, other_n: int, at: int, length: int) -> None:
        before = timeline(self.table.promo)
        self.do(c.MoveScene(scene=self.a_scene(n), before=self.a_scene(other_n) if other_n % 3 else None))
        self.do(c.BreakScene(at=at))
        assert timeline(self.table.promo).main_length == before.main_length
        scene = self.a_scene(n)
        self.do(c.SetSceneLength(scene=scene, length=length))
        if scene != "nothing":
            wanted = max(self.table.promo.rate.snap(length), ticks(0.1))
            lasts = timeline(self.table.promo).scene_span[scene].length
            assert abs(lasts - wanted) <= self.table.promo.rate.frame
        if other_n % 4 == 0:
            self.do(c.Duplicate(scene=scene))
            self.do(c.InsertScene(beside=scene, side="before", length=length))
        if other_n % 5 == 0:
            self.do(c.RemoveScene(scene=scene))

    @rule(kind=st.sampled_from(PASSINGS), length=lengths, at=times)
    def transitions(self, kind: str, length: int, at: int) -> None:
        before = timeline(self.table.promo).length
        self.do(c.SetTransition(at=at, kind=kind, length=length))
        self.do(c.SetEdge(edge="start" if at % 2 else "end", kind=kind, length=length))
        if length % 3 == 0:
            self.do(c.SetAllTransitions(kind=kind, length=length))
        assert timeline(self.table.promo).length == before

    # ---- properties ----
