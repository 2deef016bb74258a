"""Rows that a link opens to whoever has it: its key is worked out, and the row holds the key's digest alone."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Self

from sqlalchemy import ColumnElement, Integer, String, or_
from sqlalchemy.orm import Mapped, mapped_column

from glowreel.store.keys import digest, key_of


class Installation:
    """What keys of this process are worked out from: set once, by what reads the settings."""

    secret: ClassVar[str] = ""


class Linked:
    """A row with a link. `digest` is that of its key, and None where no link opens it; `before` is that of an earlier
    key that opens it still; with another `turn` the key is another one."""

    LINK: ClassVar[str]
    if TYPE_CHECKING:
        id: Mapped[str]
    digest: Mapped[str | None] = mapped_column(String(64), unique=True, default=None)
    before: Mapped[str | None] = mapped_column(String(64), unique=True, default=None)
    turn: Mapped[int] = mapped_column(Integer, default=0, server_default="0")

    @property
    def token(self) -> str:
        """The key, as it stands in the link."""
        # A row that is not kept yet has no turn.
        return key_of(Installation.secret, self.LINK, self.id, self.turn or 0)

    def open_link(self) -> Self:
        """Has its key open it."""
        self.digest = digest(self.token)
        return self

    def new_link(self) -> Self:
        """Has another key open it, and none from before."""
        self.turn, self.before = (self.turn or 0) + 1, None
        return self.open_link()

    def close_link(self) -> None:
        """Has no key open it any more."""
        self.digest = self.before = None

    @classmethod
    def behind(cls, token: str) -> ColumnElement[bool]:
        """The row that a key opens."""
        return cls.behind_digest(digest(token))

    @classmethod
    def behind_digest(cls, kept: str) -> ColumnElement[bool]:
        """The row that the key of this digest opens."""
        return or_(cls.digest == kept, cls.before == kept)
