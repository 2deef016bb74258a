"""The one family of errors.

GlowReelError
├── Refusal          the person's business: a code, a sentence, and what would work
│   ├── Missing      what the command or link names is not there (any more)
│   ├── BadMedia     a file that cannot be used, with the reason
│   │   └── Unreadable   the same, for a source that the engine knows only by its hash
│   └── NoRoom       the disk is full: nothing is wrong with what was asked
└── Fault            ours: something broke; the sentence names what was being done
"""

from __future__ import annotations


class GlowReelError(Exception):
    """Base of every error this program raises on purpose."""


class Refusal(GlowReelError):
    """A request that cannot be carried out, in words for the person who made it.

    `code` is stable and for programs; `sentence` and `remedy` are for people.
    """

    status = 422

    def __init__(self, code: str, sentence: str, remedy: str = "") -> None:
        super().__init__(sentence)
        self.code = code
        self.sentence = sentence
        self.remedy = remedy

    def __str__(self) -> str:
        return f"{self.sentence} {self.remedy}".strip()


class Missing(Refusal):
    """What was named does not exist, or does not belong to the one asking: the two are never told apart."""

    status = 404


class BadMedia(Refusal):
    """A file that is broken, empty, disguised or beyond the limits."""


class Unreadable(BadMedia):
    """A source that cannot be read while it is drawn or mixed. Whoever knows the promo says which file it is."""

    def __init__(self, source: str, reason: str) -> None:
        super().__init__("unreadable", f"A file of this promo {reason}.", "Bring it in again.")
        self.source = source
        self.reason = reason


class NoRoom(Refusal):
    """There is no room left on the disk. What waits goes on when there is."""

    status = 507

    def __init__(self) -> None:
        super().__init__("no-room", "There is no room left on the disk.", "Make room; what waits goes on by itself.")


class Fault(GlowReelError):
    """A failure on our side, naming what was being done when it happened."""
