"""Random edits of the main track: clips, cuts, scenes, transitions, speed."""

from __future__ import annotations

from hypothesis import strategies as st
from hypothesis.stateful import rule

from glowreel.core import commands as c
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from tests.core.edits.base import (
    Editing,
    lengths,
    pick,
    pictures,
    seen,
    times,
)


class Cutting(Editing):
    @rule(media=st.lists(pictures, min_size=1, max_size=3), at=times)
    def insert(self, media: list[str], at: int) -> None:
        self.do(c.InsertClips(media=tuple(media), at=at))

    @rule(n=pick, other_n=pick)
    def move_clip(self, n: int, other_n: int) -> None:
        self.do(c.MoveClips(clips=(self.clip(n),), before=self.clip(other_n) if other_n % 4 else None))

    @rule(n=pick, length=lengths, edge=st.sampled_from(["start", "end"]))
    def trim(self, n: int, length: int, edge: str) -> None:
        self.do(c.Trim(item=self.thing(n), length=length, edge=edge))

    @rule(n=pick, other_n=pick)
    def remove(self, n: int, other_n: int) -> None:
        self.do(c.Remove(items=(self.thing(n), self.thing(other_n))))

    @rule(at=times, length=lengths)
    def words(self, at: int, length: int) -> None:
        self.do(c.AddWords(at=at, length=length))

    @rule(media=pictures, at=times, whole=st.booleans())
    def picture(self, media: str, at: int, whole: bool) -> None:
        self.do(c.AddPicture(media=media, at=at, whole=whole))

    @rule(at=times, whole=st.booleans())
    def sound(self, at: int, whole: bool) -> None:
        self.do(c.AddSound(media="song", at=at, whole=whole))

    @rule(n=pick, at=times, new=st.booleans())
    def move_item(self, n: int, at: int, new: bool) -> None:
        self.do(c.MoveItem(item=self.item(n), at=at, track="new" if new else None))

    @rule(n=pick, to=st.sampled_from(["clip", "time", "whole"]))
    def tie(self, n: int, to: str) -> None:
        self.do(c.TieItem(item=self.item(n), to=to))

    @rule(n=pick, length=lengths, kind=st.sampled_from(["crossfade", "dip-black"]))
    def transition(self, n: int, length: int, kind: str) -> None:
        self.do(c.SetTransition(after=self.clip(n), length=length, kind=kind))

    @rule(n=pick)
    def scene(self, n: int) -> None:
        self.do(c.BreakScene(clip=self.clip(n)))
        if n % 3 == 0 and self.table.promo.scenes:
            scenes = self.table.promo.scenes
            self.do(c.JoinScene(scene=scenes[n % len(scenes)].id))

    @rule(n=pick, at=times)
    def split_and_join(self, n: int, at: int) -> None:
        before = self.table.promo
        thing = self.thing(n)
        self.do(c.SplitAt(item=thing, at=at))
        if self.table.promo is not before:
            assert timeline(self.table.promo).length == timeline(before).length
            assert seen(self.table.promo) == seen(before), "a split is seen"
            self.do(c.Join(item=thing))
            assert self.table.promo == before, "splitting and joining is not the same as nothing"
            if n % 2:
                self.do(c.SplitAt(item=thing, at=at))

    @rule(at=times)
    def split_everything(self, at: int) -> None:
        self.do(c.SplitAt(at=at))

    # ---- cutting ----

    @rule(at=times, length=lengths, media=pictures)
    def overwrite(self, at: int, length: int, media: str) -> None:
        before = timeline(self.table.promo)
        self.do(c.Overwrite(media=media, at=at, length=length))
        after = timeline(self.table.promo)
        assert after.main_length >= before.main_length

    @rule(n=pick, media=pictures, source=times, shorter=st.sampled_from(["slow", "hold", "close"]))
    def replace(self, n: int, media: str, source: int, shorter: str) -> None:
        self.do(c.Replace(item=self.thing(n), media=media, source_in=source, shorter=shorter))

    @rule(n=pick, by=st.integers(-ticks(4), ticks(4)))
    def roll(self, n: int, by: int) -> None:
        before = timeline(self.table.promo)
        self.do(c.RollCut(after=self.clip(n), by=by))
        after = timeline(self.table.promo)
        assert after.main_length == before.main_length
        assert {i: after.item_span(x) for i, x in after.item.items()} == {
            i: before.item_span(x) for i, x in before.item.items()
        }, "rolling a cut moved a layer"

    @rule(n=pick, by=st.integers(-ticks(4), ticks(4)))
    def slip(self, n: int, by: int) -> None:
        self.do(c.Slip(item=self.thing(n), by=by))

    @rule(start=times, length=lengths, music=st.sampled_from(["cut", "stays"]))
    def remove_range(self, start: int, length: int, music: str) -> None:
        before = self.table.promo
        self.do(c.RemoveRange(start=start, end=start + length, music=music))
        if self.table.promo is not before:
            old, new = timeline(before), timeline(self.table.promo)
            first, last = before.rate.snap(start), min(before.rate.snap(start + length), old.length)
            inside = max(0, min(last, old.main_length) - first)
            assert new.main_length == old.main_length - inside, "the main track lost another length than the range"

    @rule(n=pick, speed=st.integers(100, 16000), backwards=st.booleans(), pitch=st.sampled_from(["kept", "follows"]))
    def run_at(self, n: int, speed: int, backwards: bool, pitch: str) -> None:
        self.do(c.SetSpeed(item=self.thing(n), speed=speed, backwards=backwards, pitch=pitch))

    @rule(n=pick)
    def turn_round(self, n: int) -> None:
        self.do(c.SetSpeed(item=self.thing(n), backwards=bool(n % 2)))

    @rule(n=pick, points=st.lists(st.tuples(st.floats(0, 1), st.integers(100, 16000)), min_size=1, max_size=5))
    def curve(self, n: int, points: list[tuple[float, int]]) -> None:
        self.do(c.SetCurve(item=self.thing(n), points=tuple(points)))
        self.do(c.SetCurve(item=self.thing(n + 1), preset="rush" if n % 2 else "ease-both"))

    @rule(at=times, length=lengths)
    def freeze(self, at: int, length: int) -> None:
        self.do(c.Freeze(at=at, length=length))

    # ---- what is said ----
