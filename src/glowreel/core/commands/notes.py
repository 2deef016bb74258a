"""Notes: markers with words on the timeline. `Remove` takes them away.

```
AddNote   |--A--|--B--|  at 4 s   →  a flag at 4 s, tied to the clip there
SetNote   the flag's words, or another time (ticks, on the frame grid)
```
Refused: a note that is gone.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome
from glowreel.core.commands.roles import Target
from glowreel.core.document import Note, Promo
from glowreel.core.errors import Missing
from glowreel.core.time import Ticks
from glowreel.core.timeline import timeline


class AddNote(Command):
    """Puts a note at a time, tied to the clip there."""

    do: Literal["add-note"] = "add-note"
    at: Ticks = 0
    text: str = Field(default="", max_length=500)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        at = promo.rate.snap(self.at)
        note = Note(id=context.new_id("n"), anchor=timeline(promo).tie_under(at), text=self.text.strip())
        return Outcome(promo.changed(notes=(*promo.notes, note)), "Put a note", (note.id,))


class SetNote(Command):
    """Writes a note anew, or moves it."""

    do: Literal["set-note"] = "set-note"
    note: Target
    text: str | None = Field(default=None, max_length=500)
    at: Ticks | None = None

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        index = timeline(promo)
        old = index.note.get(self.note)
        if old is None:
            raise Missing("gone", "That note has been removed.", "Undo brings it back.")
        changes: dict[str, object] = {}
        if self.text is not None:
            changes["text"] = self.text.strip()
        if self.at is not None:
            changes["anchor"] = index.tie_under(promo.rate.snap(self.at))
        notes = tuple(n.changed(**changes) if n is old else n for n in promo.notes)
        return Outcome(promo.changed(notes=notes), "Moved a note" if self.at is not None else "Wrote a note", (old.id,))
