"""Which revision is on show, and what undo and redo lead to.

Revisions form a tree by their parents. `head` is the one on show; `tip` is the one redo leads towards. Editing after an
undo grows a new branch: the old one stays, and can be gone back to by name.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace


@dataclass(frozen=True)
class Chain:
    """`parents` gives each revision's parent; the first one has none."""

    parents: Mapping[str, str | None]
    head: str
    tip: str

    @classmethod
    def begun(cls, first: str) -> Chain:
        return cls({first: None}, first, first)

    def edited(self, revision: str) -> Chain:
        """A new revision after the one on show."""
        return Chain({**self.parents, revision: self.head}, revision, revision)

    def undone(self) -> Chain | None:
        """One step back, or None at the beginning."""
        parent = self.parents[self.head]
        return None if parent is None else replace(self, head=parent)

    def redone(self) -> Chain | None:
        """One step towards the tip, or None when there."""
        at: str | None = self.tip
        while at is not None and at != self.head:
            if self.parents[at] == self.head:
                return replace(self, head=at)
            at = self.parents[at]
        return None
