"""What is found by checks: dismissing it with a reason, and looking again.

```
DismissCheck   “too small in Tall”   “seen on screens only”   →  it is not said any more
DismissCheck   without a reason                               →  it is said again
```
Refused: parts that are gone.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from glowreel.core.commands.base import Command, Context, Outcome, called
from glowreel.core.commands.roles import Target
from glowreel.core.document import Promo
from glowreel.core.timeline import timeline


class DismissCheck(Command):
    """Dismisses what a check says of a part, in a format or in all; without a reason, it is said again."""

    do: Literal["dismiss-check"] = "dismiss-check"
    check: str = Field(max_length=40)
    part: Target
    format: str = Field(default="", max_length=64)
    reason: str = Field(default="", max_length=200)

    def carry_out(self, promo: Promo, context: Context) -> Outcome:
        part = timeline(promo).find_part(self.part)
        key = f"{self.check}:{self.part}:{self.format}"
        kept = {name: why for name, why in promo.dismissed.items() if name != key}
        reason = self.reason.strip()
        made = promo.changed(dismissed={**kept, key: reason} if reason else kept)
        said = f"Dismissed a check of {called(promo, part)}" if reason else f"Checks {called(promo, part)} again"
        return Outcome(made, said, (part.id,))
