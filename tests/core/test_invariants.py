"""Random edits on random promos: every rule of the document holds after each, and undo is exact."""

from __future__ import annotations

from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from glowreel.core import commands as c
from glowreel.core.document import Promo, Tied
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.history import Chain
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.recipe.sound import all_voices
from glowreel.core.time import Rate, ticks
from glowreel.core.timeline import timeline
from tests.core.build import Table, measure

times = st.integers(0, ticks(60))
lengths = st.integers(1, ticks(20))
pictures = st.sampled_from(["ridge", "field", "basket", "still"])
pick = st.integers(0, 30)


class Edits(RuleBasedStateMachine):
    @initialize(rate=st.sampled_from([Rate(num=30, den=1), Rate(num=30000, den=1001), Rate(num=24, den=1)]))
    def start(self, rate: Rate) -> None:
        self.table = Table(rate)
        self.chain = Chain.begun("r0")
        self.states: dict[str, Promo] = {"r0": self.table.promo}

    def clip(self, n: int) -> str:
        clips = self.table.promo.clips
        return clips[n % len(clips)].id if clips else "nothing"

    def thing(self, n: int) -> str:
        things = [*(clip.id for clip in self.table.promo.clips), *(item.id for item in self.table.promo.items)]
        return things[n % len(things)] if things else "nothing"

    def item(self, n: int) -> str:
        items = self.table.promo.items
        return items[n % len(items)].id if items else "nothing"

    def do(self, command: c.Command) -> None:
        before = self.table.promo.model_dump_json()
        old = self.table.promo
        try:
            self.table.do(command)
        except Refusal as refusal:
            assert refusal.sentence.endswith(".")
            assert self.table.promo is old
        else:
            name = f"r{len(self.states)}"
            self.states[name] = self.table.promo
            self.chain = self.chain.edited(name)
        assert old.model_dump_json() == before, "an edit touched its input"

    @rule(media=st.lists(pictures, min_size=1, max_size=3), at=times)
    def insert(self, media: list[str], at: int) -> None:
        self.do(c.InsertClips(media=tuple(media), at=at))

    @rule(n=pick, m=pick)
    def move_clip(self, n: int, m: int) -> None:
        self.do(c.MoveClips(clips=(self.clip(n),), before=self.clip(m) if m % 4 else None))

    @rule(n=pick, length=lengths, edge=st.sampled_from(["start", "end"]))
    def trim(self, n: int, length: int, edge: str) -> None:
        self.do(c.Trim(item=self.thing(n), length=length, edge=edge))

    @rule(n=pick, m=pick)
    def remove(self, n: int, m: int) -> None:
        self.do(c.Remove(items=(self.thing(n), self.thing(m))))

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
            self.do(c.Join(item=thing))
            assert self.table.promo == before, "splitting and joining is not the same as nothing"
            if n % 2:
                self.do(c.SplitAt(item=thing, at=at))

    @rule(at=times)
    def split_everything(self, at: int) -> None:
        self.do(c.SplitAt(at=at))

    @rule()
    def undo(self) -> None:
        chain = self.chain.undone()
        if chain is not None:
            self.chain = chain
            self.table.promo = self.states[chain.head]

    @rule()
    def redo(self) -> None:
        chain = self.chain.redone()
        if chain is not None:
            self.chain = chain
            self.table.promo = self.states[chain.head]

    @invariant()
    def everything_holds(self) -> None:
        if not hasattr(self, "table"):
            return
        promo = self.table.promo
        index = timeline(promo)
        rate = promo.rate
        now = 0
        for clip in promo.clips:
            assert index.clip_span[clip.id].start == now
            now += clip.length
            assert rate.frame_start(rate.frame_nearest(now)) == now, "cuts lie on the frame grid"
            media = promo.media.get(clip.media or "")
            if media is not None and media.length:
                assert clip.source_in + clip.length <= max(media.length, rate.frame)
        assert index.main_length == now
        for track in (*promo.layers, *promo.sounds):
            assert track.items, "an empty track stayed"
            spans = sorted((index.item_span(i).start, index.item_span(i).end) for i in track.items)
            assert all(a[1] <= b[0] for a, b in zip(spans, spans[1:], strict=False)), "two items meet on a track"
            for item in track.items:
                assert index.item_span(item).start >= 0
                if isinstance(item.anchor, Tied):
                    assert item.anchor.offset < index.clip[item.anchor.clip].length
        assert Promo.model_validate_json(promo.model_dump_json()) == promo
        assert set(promo.media) == promo.used_media()

    @invariant()
    def everything_can_be_drawn_and_heard(self) -> None:
        if not hasattr(self, "table"):
            return
        promo = self.table.promo
        index = timeline(promo)
        for time in {0, index.length // 2, max(0, index.length - 1)}:
            assert frame_recipe(promo, SHIPPED["tall"], time, measure).ops
        for voice in all_voices(promo):
            assert voice.length > 0
            assert voice.source_at >= 0
            assert voice.fade_in + voice.fade_out <= voice.length or voice.power


TestEdits = Edits.TestCase
TestEdits.settings = settings(
    max_examples=40, stateful_step_count=25, deadline=None, suppress_health_check=list(HealthCheck)
)
