"""Slots: marking what is to be filled, and filling it without moving anything in time.

```
MarkSlot     [title]         →  [title: “what is it called?”, at most 40 letters]
FillSlot     [title: sample] →  [title: “Dawn flights”]        footage: exactly as long as the place
             a song, where the template is as long as its sound: the last scene ends with it
UnmarkSlot   [title: …]      →  [title]
LeaveOut     |A|B|C|  - B    →  |A|C|      a scene of which nothing has to be filled
```
Refused: parts that hold nothing of the kind, words that are too long, footage that is too short.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar, Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called, in_seconds
from glowreel.core.commands.change import map_parts
from glowreel.core.commands.cutting import replaced
from glowreel.core.commands.designs import filled_picture
from glowreel.core.commands.remove import without_parts
from glowreel.core.commands.roles import MediaId, Target
from glowreel.core.commands.scenes import find_scene
from glowreel.core.commands.setting import with_words
from glowreel.core.commands.trim import fitted_clip, trim_clip
from glowreel.core.document import Part, Promo, Scene, Tied
from glowreel.core.errors import Missing, Refusal
from glowreel.core.setting import row_of
from glowreel.core.slots import FILLS, SLOT_KINDS, SOURCE, Slot
from glowreel.core.source import Spot
from glowreel.core.time import Ticks, ticks
from glowreel.core.timeline import timeline

MAX_SLOTS = 200


def _holds(promo: Promo, part: Part, of: str) -> str | None:
    """What a part holds there: words, a picture or a sound; None where it holds nothing that can be filled."""
    if of == SOURCE:
        if not part.content.media and part.content.lane != "main":
            return None
        return "sound" if part.content.fine else "picture"
    if of.startswith(FILLS):
        design = promo.designs.get(part.design or "")
        field = design.fields.get(of.removeprefix(FILLS)) if design is not None else None
        return "picture" if field is not None and field.kind == "picture" else None
    row = row_of(part, of, promo)
    return "words" if row is not None and row.kind == "text" else None


def fillable(promo: Promo, part: Part) -> Iterator[tuple[str, str, str]]:
    """Everything of a part that can be a slot: what of it, what that holds, and how it is spoken of."""
    design = promo.designs.get(part.design or "")
    names = [SOURCE, "text"]
    labels = {SOURCE: "Sound" if part.content.fine else "Picture", "text": "Words"}
    for name, field in design.fields.items() if design is not None else ():
        of = f"{FILLS}{name}" if field.kind == "picture" else f"field.{name}"
        names.append(of)
        labels[of] = field.label
    for of in names:
        holds = _holds(promo, part, of)
        if holds is not None:
            yield of, holds, labels[of]


def _slot(promo: Promo, key: str) -> Slot:
    for slot in promo.slots:
        if slot.id == key:
            return slot
    raise Missing("gone", "That slot is no longer there.", "Undo may bring it back.")


class MarkSlot(Command):
    """Marks a part, or a field of it, as something to be filled."""

    do: Literal["mark-slot"] = "mark-slot"
    item: Target
    of: str = Field(default=SOURCE, max_length=60)
    kind: str = Field(default="picture", max_length=20)
    label: str = Field(min_length=1, max_length=60)
    hint: str = Field(default="", max_length=200)
    most: int = Field(default=0, ge=0, le=600)
    least: Ticks = 0
    optional: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part = timeline(promo).find_part(self.item)
        kind = SLOT_KINDS.get(self.kind)
        if kind is None:
            raise Refusal("no-kind", f"There is no slot for “{self.kind}”.", f"There are {', '.join(SLOT_KINDS)}.")
        if _holds(promo, part, self.of) != kind.holds:
            raise Refusal("no-slot", f"{called(promo, part)} has no place for {kind.meaning}.", "Choose another kind.")
        if len(promo.slots) >= MAX_SLOTS:
            raise Refusal("too-many", f"A promo has at most {MAX_SLOTS} slots.", "Remove one first.")
        old = next((slot for slot in promo.slots if (slot.part, slot.of) == (part.id, self.of)), None)
        fields = self.model_dump(include={"of", "kind", "label", "hint", "most", "least", "optional"})
        made = Slot(id=old.id if old else context.new_id("q"), part=part.id, **fields)
        slots = tuple(made if slot is old else slot for slot in promo.slots) if old else (*promo.slots, made)
        return Outcome(promo.changed(slots=slots), f"Marked {called(promo, part)} to be filled", (part.id,))


class UnmarkSlot(Command):
    """Takes the mark away; what stands there stays."""

    do: Literal["unmark-slot"] = "unmark-slot"
    slot: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        gone = _slot(promo, self.slot)
        rest = tuple(slot for slot in promo.slots if slot is not gone)
        return Outcome(promo.changed(slots=rest), f"“{gone.label}” is no longer to be filled", (gone.part,))


class FillSlot(Command):
    """Fills a slot: with words, or with material from `source_in` on, cropped about `focus`; with `cut`, only the
    thing in a photo of a design. Nothing begins or ends at another time."""

    do: Literal["fill-slot"] = "fill-slot"
    right: ClassVar[Literal["edit", "fill"]] = "fill"
    slot: Target
    text: str | None = Field(default=None, max_length=600)
    media: MediaId | None = None
    source_in: Ticks = 0
    focus: Spot = (0.5, 0.5)
    cut: bool = False

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        slot = _slot(promo, self.slot)
        part = timeline(promo).find_part(slot.part)
        if SLOT_KINDS[slot.kind].holds == "words":
            made = self._with_words(promo, slot, part)
        else:
            made = self._with_media(promo, slot, part, context)
        slots = tuple(other.changed(filled=True) if other.id == slot.id else other for other in made.slots)
        return Outcome(made.changed(slots=slots), f"Filled “{slot.label}”", (part.id,), frozenset({part.id}))

    def typing(self) -> str | None:
        return f"fill {self.slot}" if self.text is not None else None

    def _with_words(self, promo: Promo, slot: Slot, part: Part) -> Promo:
        if self.text is None:
            raise Refusal("no-words", f"“{slot.label}” is to be filled with words.", "Type some.")
        if slot.most and len(self.text) > slot.most:
            raise Refusal("too-long", f"“{slot.label}” has room for {slot.most} letters.", "Say it shorter.")
        return with_words(promo, part, slot.of, self.text)

    def _with_media(self, promo: Promo, slot: Slot, part: Part, context: Context) -> Promo:
        if self.media is None:
            raise Refusal("no-media", f"“{slot.label}” is to be filled with {SLOT_KINDS[slot.kind].meaning}.")
        media = context.find(self.media)
        if part.content.fine and promo.facts is not None and promo.facts.rule == "sound":
            promo = _as_long_as(promo, media.length)
            part = timeline(promo).find_part(part.id)
        length = timeline(promo).span_of(part).length
        wanted = max(slot.least, length if slot.of == SOURCE else 0)
        if media.length and media.length - self.source_in < wanted:
            raise Refusal("too-short", f"{media.name} is shorter than {in_seconds(wanted)}.", "Choose a longer one.")
        if slot.of != SOURCE:
            return filled_picture(promo, part, slot.of.removeprefix(FILLS), media, self.source_in, self.focus, self.cut)
        made = replaced(promo, part, media, self.source_in, "hold")
        if row_of(timeline(made).find_part(part.id), "focus") is None:
            return made
        return map_parts(made, {part.id}, lambda now: now.having(focus=self.focus))


class LeaveOut(Command):
    """Leaves out a scene of a template: one of which nothing has to be filled, where the length may change."""

    do: Literal["leave-out"] = "leave-out"
    right: ClassVar[Literal["edit", "fill"]] = "fill"
    scene: Target

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        scene = find_scene(promo, self.scene)
        if scene.id not in free_scenes(promo):
            raise Refusal("belongs", "That scene belongs to the template.", "Fill it, or go on in the editor.")
        edit = without_parts(promo, [clip.id for clip in scene.clips])
        return Outcome(edit.promo, f"Left the scene “{scene.name}” out", notice=edit.notice)


def scene_of(promo: Promo, part: Part) -> Scene | None:
    """The scene in which a part is, from beginning to end; None where it lasts beyond one."""
    index = timeline(promo)
    span = index.span_of(part)
    for scene in promo.scenes:
        within = index.scene_span[scene.id]
        if within.start <= span.start < within.end:
            return scene if span.length <= within.length else None
    return None


def free_scenes(promo: Promo) -> frozenset[str]:
    """The scenes that may be left out: all that is to be filled in them is optional, and there is something. None
    where the length of the promo is fixed, or there is one scene only."""
    if len(promo.scenes) < 2 or (promo.facts is not None and promo.facts.rule == "exact"):
        return frozenset()
    index = timeline(promo)
    needed: dict[str, bool] = {}
    for slot in promo.slots:
        scene = scene_of(promo, index.find_part(slot.part))
        if scene is not None:
            needed[scene.id] = needed.get(scene.id, False) or not slot.optional
    return frozenset(key for key, has_to in needed.items() if not has_to)


LAST_SCENE = ticks(1)
"""How short the last scene may become where a template is as long as its sound."""


def _as_long_as(promo: Promo, length: int) -> Promo:
    """The promo as long as a sound: its last scene becomes longer or shorter."""
    last, whole = promo.scenes[-1], timeline(promo).main_length
    wanted = last.clips[-1].length + promo.rate.frame_start(promo.rate.frame_floor(length)) - whole
    if wanted < LAST_SCENE:
        raise Refusal("too-short", "The sound ends before the last scene begins.", "Choose a longer one.")
    clip = last.clips[-1]
    if fitted_clip(promo, clip, wanted, "end") < wanted:
        raise Refusal("too-long", "There is not enough footage in the last scene for a sound so long.",
                      "Choose a shorter one, or fill the last scene with longer footage first.")  # fmt: skip
    made = trim_clip(promo, clip, wanted, "end")
    tied = {item.id for item in promo.items if isinstance(item.anchor, Tied) and item.anchor.clip == clip.id}
    grown = made.clips[-1].length - clip.length
    return map_parts(made, tied, lambda item: item.changed(length=max(promo.rate.frame, item.length + grown)))
