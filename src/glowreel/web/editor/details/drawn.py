"""Lines of Details as they stand on the page, drawn once: an edit changes one or two of sixty."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from flask import current_app
from markupsafe import Markup

from glowreel.web.editor.details.control import Control

MOST = 3000


class _Said:
    """A control and the colours beside it, the same where they say the same."""

    __slots__ = ("colours", "control", "said")

    def __init__(self, control: Control, colours: Any) -> None:
        self.control, self.colours, self.said = control, colours, f"{control!r} {colours!r}"

    def __hash__(self) -> int:
        return hash(self.said)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Said) and other.said == self.said


def drawn(control: Control, colours: Any) -> Markup:
    """The line of a control, with these colours to choose from."""
    return _drawn(_Said(control, colours))


@lru_cache(MOST)
def _drawn(said: _Said) -> Markup:
    macros: Any = current_app.jinja_env.get_template("editor/details_control.html").module
    return Markup(macros.control(said.control, said.colours))
