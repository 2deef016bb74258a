"""Pages of a document on the main track, turned where somebody turned them, with whoever spoke beside them.

```
LayPages
turns  0 s: page 1 · 4 s: page 2 · 9 s: page 3      →   main    |--page 1--|---page 2---|--page 3--|
camera [------------------------------------]           layer   [------------camera-------------]  tied to page 1
                                                        voice   [----------its sound------------]  tied to page 1
```
The turns are cuts like any other: rolling one turns the page earlier or later.
"""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from glowreel.core.commands.base import Command, Context, Outcome, with_media
from glowreel.core.commands.change import put_item
from glowreel.core.commands.clips import PHOTO_LENGTH, clip_of, insert_at, nearest_cut
from glowreel.core.commands.roles import MediaId
from glowreel.core.commands.sound import first_values
from glowreel.core.commands.takes import CAMERA, MOST_LATE, NAME, Mark, Theme
from glowreel.core.commands.themes import themed
from glowreel.core.document import Clip, Item, Note, Promo, Tied, Track
from glowreel.core.errors import Refusal
from glowreel.core.source import Source
from glowreel.core.time import TICKS_PER_SAMPLE, Ticks
from glowreel.core.timeline import timeline
from glowreel.core.value import Value


class Turn(Value):
    """When a page is turned to, in ticks from where the first one comes."""

    media: MediaId
    at: Ticks = Field(default=0, ge=0)


class LayPages(Command):
    """Puts pages on the main track, at the cut nearest to `at`, each from its turn to the next and the last one until
    `length`; as long as photos are where no turn is told. `by_notes` turns them at the notes that stand after their
    beginning, as long as there are some. With a camera, whoever spoke stands over them and is heard;
    it began `late` ticks after the first page came. Pages that were turned over at once are left out. Marks become
    notes."""

    do: Literal["lay-pages"] = "lay-pages"
    turns: tuple[Turn, ...] = Field(min_length=1, max_length=400)
    at: Ticks = 0
    length: Ticks | None = None
    camera: MediaId | None = None
    late: Annotated[int, Field(ge=-MOST_LATE, le=MOST_LATE)] = 0
    marks: tuple[Mark, ...] = Field(default=(), max_length=100)
    by_notes: bool = False
    theme: Theme = ""

    @model_validator(mode="after")
    def _in_order(self) -> LayPages:
        times = [turn.at for turn in self.turns]
        if times != sorted(times):
            raise ValueError("pages are turned one after another")
        return self

    def brings(self) -> set[str]:
        return {turn.media for turn in self.turns}

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        spans = self._spans(promo)
        if not spans:
            raise Refusal("short", "No page was shown for a whole frame.", "Leave each one for a moment.")
        clips = [self._page(media, length, promo, context) for media, length in spans]
        shown = with_media(promo, *(context.find(media) for media, _ in spans))
        promo = insert_at(shown, clips, nearest_cut(promo, self.at), context)
        begins = timeline(promo).clip_span[clips[0].id].start
        total = sum(clip.length for clip in clips)
        if self.camera is not None:
            promo = self._with_camera(promo, clips[0], total, context)
        for mark in self.marks:
            if mark.at < total:
                anchor = timeline(promo).tie_under(promo.rate.snap(begins + mark.at))
                note = Note(id=context.new_id("n"), anchor=anchor, text=mark.text)
                promo = promo.changed(notes=(*promo.notes, note))
        sentence = "Added one page" if len(clips) == 1 else f"Added {len(clips)} pages"
        return Outcome(promo, sentence, tuple(clip.id for clip in clips))

    def _spans(self, promo: Promo) -> list[tuple[str, int]]:
        """Which page is shown for how long, on whole frames; times without a turn are as long as photos are."""
        rate = promo.rate
        if self.by_notes:
            return self._at_notes(promo)
        if len(self.turns) > 1 and self.turns[-1].at == 0:
            return [(turn.media, rate.snap(PHOTO_LENGTH)) for turn in self.turns]
        last = self.turns[-1].at
        end = max(self.length, last) if self.length is not None else last + PHOTO_LENGTH
        edges = [0, *(rate.snap(turn.at) for turn in self.turns[1:]), rate.snap(end)]
        spans = [(turn.media, stop - start) for turn, (start, stop) in zip(self.turns, pairwise(edges), strict=True)]
        return [(media, length) for media, length in spans if length >= rate.frame]

    def _at_notes(self, promo: Promo) -> list[tuple[str, int]]:
        index, rate = timeline(promo), promo.rate
        place = nearest_cut(promo, self.at)
        begins = index.clip_span[promo.clips[place].id].start if place < len(promo.clips) else index.main_length
        times = sorted({rate.snap(index.start_of(note.anchor)) for note in promo.notes})
        edges = [begins, *(time for time in times if time > begins)]
        if len(edges) == 1:
            raise Refusal("no-notes", "No note stands after that.", "Write one where each page is to be turned.")
        while len(edges) <= len(self.turns):
            edges.append(edges[-1] + rate.snap(PHOTO_LENGTH))
        lengths = (stop - start for start, stop in pairwise(edges))
        return [(turn.media, length) for turn, length in zip(self.turns, lengths, strict=False)]

    def _page(self, key: str, length: int, promo: Promo, context: Context) -> Clip:
        media = context.find(key)
        if media.length:
            raise Refusal("no-page", f"{media.name} is no page.", "Pages are pictures that stand still.")
        page = clip_of(media, context.new_id("c"), promo.rate).changed(length=length)
        return themed(page, self.theme, media)

    def _with_camera(self, promo: Promo, first: Clip, total: int, context: Context) -> Promo:
        assert self.camera is not None
        media, rate = context.find(self.camera), promo.rate
        if not media.pictured:
            raise Refusal("no-picture", f"{media.name} has no picture.", "Record it again.")
        into, offset = max(0, -self.late), max(0, rate.snap(self.late))
        length = rate.frame_start(rate.frame_floor(min(media.length - into, total - offset)))
        if length < rate.frame:
            raise Refusal("short", f"{media.name} does not last as long as the pages.")
        anchor = Tied(clip=first.id, offset=offset)
        seen = Item(
            id=context.new_id("i"), kind="picture", anchor=anchor, length=length, into=into,
            source=Source(media=media.id), values=CAMERA,
        )  # fmt: skip
        promo = put_item(with_media(promo, media), seen, None, context.new_id)
        if not media.sounding:
            return promo
        values: dict[str, Any] = first_values(media) | {"bus": "voice"}
        exact = into // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE
        heard = Item(
            id=context.new_id("i"), kind="sound", anchor=anchor, length=length // TICKS_PER_SAMPLE * TICKS_PER_SAMPLE,
            into=exact, source=Source(media=media.id), values=values,
        )  # fmt: skip
        track = Track(id=context.new_id("t"), name=NAME)
        promo = promo.changed(sounds=(*promo.sounds, track))
        return put_item(promo, heard, track.id, context.new_id)
