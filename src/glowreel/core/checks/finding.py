"""What a check finds, and with what it looks."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from glowreel.core.arrangement import see
from glowreel.core.content import Drawn
from glowreel.core.document import Item, Promo
from glowreel.core.formats import Format
from glowreel.core.layout import Box, Measure
from glowreel.core.recipe.model import DrawWords, words_in
from glowreel.core.timeline import Span, timeline
from glowreel.core.words import Words


@dataclass(frozen=True)
class Cure:
    """What can be done about a finding by one press: its label, and the command as it is sent. One that `asks` lacks
    the file that it puts in, which is chosen first."""

    label: str
    command: Mapping[str, Any]
    asks: bool = False


@dataclass(frozen=True)
class Finding:
    """One thing that was found: by which check, of which part, in which format (none where it is so in all), at which
    time of the promo it is seen, said in a sentence."""

    check: str
    part: str
    sentence: str
    at: int = 0
    format: str = ""
    cures: tuple[Cure, ...] = ()

    @property
    def key(self) -> str:
        """Names it, so that it can be dismissed."""
        return f"{self.check}:{self.part}:{self.format}"


@dataclass(frozen=True)
class Sight:
    """A promo as the checks look at it: how large words are, which letters of them there are no pictures for, and how
    well a layer's letters stand out from what lies behind them, in a format at a time (WCAG, 1 to 21); which faces lie
    behind a layer, as canonical boxes; and the times from which the picture flashes so often within a second."""

    promo: Promo
    measure: Measure
    unknown: Callable[[Words], str] = lambda words: ""
    contrast: Callable[[Promo, Item, Format, int], float | None] = lambda promo, item, format, at: None
    faces: Callable[[Promo, Item, Format, int], Sequence[Box]] = lambda promo, item, format, at: ()
    flashes: Callable[[Promo], Iterable[tuple[int, int]]] = lambda promo: ()
    _drawn: dict[tuple[str, str], Drawn | None] = field(default_factory=dict)

    @cached_property
    def layers(self) -> tuple[tuple[Item, Span], ...]:
        """Every layer that is seen, with the stretch in which it is."""
        index = timeline(self.promo)
        shown = [item for track in self.promo.layers if not track.hidden for item in track.items]
        # What lasts beyond the promo's end is not seen there.
        spans = ((item, index.item_span(item)) for item in shown)
        return tuple((item, Span(span.start, min(span.end, index.length))) for item, span in spans
                     if span.start < index.length)  # fmt: skip

    def drawn(self, item: Item, format: Format) -> Drawn | None:
        """What a layer draws at rest, where it begins; nothing where it is hidden in the format."""
        key = (item.id, format.id)
        if key not in self._drawn:
            seen = see(self.promo, item, format, item.into, self.measure, resting=True)
            self._drawn[key] = item.content.draws(seen) if seen("shown") else None
        return self._drawn[key]

    def read(self, item: Item, format: Format, name: str) -> Any:
        """What a property of a layer is in a format, as the rule has it there."""
        return see(self.promo, item, format, item.into, self.measure)(name)

    def words(self, item: Item, format: Format) -> list[DrawWords]:
        """The words of a layer at rest that say something."""
        drawn = self.drawn(item, format)
        return [op for op in words_in(drawn.ops if drawn is not None else ()) if op.words.text.strip()]


@dataclass(frozen=True)
class Check:
    """What a check is called, what it looks for and how it does so."""

    name: str
    label: str
    meaning: str
    find: Callable[[Sight], Iterator[Finding]]
