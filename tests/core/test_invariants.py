"""Random edits on random promos: every rule of the document holds after each, and undo is exact."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from hypothesis.stateful import invariant, rule

from glowreel.core import commands as c
from glowreel.core.document import Promo, Tied, Whole
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.recipe.sound import all_voices
from glowreel.core.rules import check_rules
from glowreel.core.timeline import timeline
from tests.core.build import measure
from tests.core.edits.cutting import Cutting
from tests.core.edits.looks import Looks
from tests.core.edits.words import Words


class Edits(Cutting, Words, Looks):
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
    def no_state_is_forbidden(self) -> None:
        if hasattr(self, "table"):
            check_rules(self.table.promo)

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
            if media is not None and media.length >= rate.frame:
                first, last = clip.source.range(clip.into, clip.length)
                assert 0 <= first <= last <= media.length, "a clip shows what its media does not have"
        assert index.main_length == now
        for track in (*promo.layers, *promo.sounds):
            assert track.items, "an empty track stayed"
            spans = sorted((index.item_span(i).start, index.item_span(i).end) for i in track.items)
            assert all(a[1] <= b[0] for a, b in zip(spans, spans[1:], strict=False)), "two items meet on a track"
            for item in track.items:
                span = index.item_span(item)
                assert span.start >= 0
                if not item.content.fine and not isinstance(item.anchor, Whole):
                    assert rate.snap(span.start) == span.start, "a layer begins off the frame grid"
                    assert rate.snap(span.length) == span.length, "a layer lasts for part of a frame"
                if isinstance(item.anchor, Tied):
                    assert item.anchor.offset < index.clip[item.anchor.clip].length
                media = promo.media.get(item.media or "")
                if media is not None and media.length:
                    first, last = item.source.range(item.into, index.item_span(item).length)
                    assert 0 <= first <= last <= media.length, "an item shows what its media does not have"
        for note in promo.notes:
            assert not isinstance(note.anchor, Tied) or note.anchor.clip in index.clip
        assert Promo.model_validate_json(promo.model_dump_json()) == promo
        assert set(promo.media) == promo.kept_media()
        assert set(promo.designs) == promo.used_designs()

    @invariant()
    def everything_can_be_drawn_and_heard(self) -> None:
        if not hasattr(self, "table"):
            return
        promo = self.table.promo
        index = timeline(promo)
        for time in {0, index.length // 2, max(0, index.length - 1), *(cut.at for cut in index.cuts[:2])}:
            assert frame_recipe(promo, SHIPPED["tall"], time, measure).ops
        for voice in all_voices(promo):
            assert voice.length > 0
            assert voice.source_at >= 0
            assert voice.fade_in + voice.fade_out <= voice.length or voice.power
            assert [at for at, _ in voice.levels] == sorted({at for at, _ in voice.levels})


def test_the_machine_knows_every_command() -> None:
    written = "".join(path.read_text() for path in (Path(__file__).parent / "edits").glob("*.py"))
    assert [kind.__name__ for kind in c.ALL if f"c.{kind.__name__}(" not in written] == []


class ManyEdits(Edits):
    """The same, for longer."""


FEW, MANY = (
    settings(max_examples=count, stateful_step_count=30, deadline=None, suppress_health_check=list(HealthCheck))
    for count in (8, 60)
)
TestEdits = Edits.TestCase
TestEdits.settings = FEW
TestManyEdits = ManyEdits.TestCase
TestManyEdits.settings = MANY
TestManyEdits.pytestmark = [pytest.mark.long]
