"""What each section of a brand's page sends, as changes of the brand: one row a section."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

from werkzeug.datastructures import MultiDict

from glowreel.core.brand import Book
from glowreel.core.colour import read_colour
from glowreel.core.errors import Refusal
from glowreel.core.fonts import FONTS
from glowreel.core.roles import COLOUR_ROLES, FONT_ROLES, LOGO_ROLES
from glowreel.core.text_styles import STYLES

Form = MultiDict[str, str]
Changes = Mapping[str, Any]
WORDS = {"never": 60, "tone": 20}
"""The lists of words of a brand, and how many each holds."""
STYLE_FIELDS = ("font", "weight", "size", "case", "colour", "box")
"""What of a text style is set on the page; what else it says stays."""


def read_typed(text: str) -> str:
    """A colour as it was typed, or a refusal."""
    try:
        return read_colour(text)
    except ValueError as error:
        raise Refusal("bad-colour", f"{error}.", "Type it another way.") from error


def _number(form: Form, name: str, scale: float = 1.0) -> float:
    """A number that was typed in percent or as it is. Limits are the brand's."""
    try:
        value = float(form.get(name, "").replace(",", ".").rstrip("% "))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise Refusal("bad-number", "That is no number.", "Type one, such as 16.")
    return value * scale


def _name(form: Form, book: Book) -> Changes:
    return {"name": form.get("name", "")}


def _at(form: Form, count: int) -> int:
    """Which palette is meant; one that is not there any more is refused."""
    text = form.get("at", "0")
    if not text.isdecimal() or int(text) >= max(1, count):
        raise Refusal("no-palette", "That palette is not there any more.", "Load the page again.")
    return int(text)


def _palette(form: Form, book: Book) -> Changes:
    """One palette: its name, its roles, its other colours in the order in which they were sent."""
    palettes = [one.model_dump() for one in book.palettes] or [{}]
    own = palettes[_at(form, len(palettes))]
    own["name"] = " ".join(form.get("name", own.get("name", "Colours")).split())[:40] or "Colours"
    # What was typed comes before what the picker shows, where both were sent.
    sent = {role: form.get(f"typed-{role}") or form.get(f"colour-{role}") for role in COLOUR_ROLES}
    own["colours"] = {**own.get("colours", {}), **{role: read_typed(text) for role, text in sent.items() if text}}
    gone = form.get("gone", "")
    others = [read_typed(value) for place, value in enumerate(form.getlist("others")) if str(place) != gone]
    others += [read_typed(form["new"])] if form.get("new") else []
    if len(others) > 24:
        raise Refusal("too-many", "A palette has at most 24 more colours.", "Take one away first.")
    own["others"] = list(dict.fromkeys(others))
    return {"palettes": palettes}


def _palettes(form: Form, book: Book) -> Changes:
    """A palette more, like the first; one less; or another one as the first."""
    palettes = [one.model_dump() for one in book.palettes] or [{"name": "Colours", "colours": {}, "others": ()}]
    if form.get("add"):
        names = {one["name"] for one in palettes}
        name = next(name for n in range(2, 99) if (name := f"Palette {n}") not in names)
        return {"palettes": [*palettes, {**palettes[0], "name": name}]}
    at = _at(form, len(palettes))
    own = palettes.pop(at)
    if form.get("first"):
        return {"palettes": [own, *palettes]}
    if not palettes:
        raise Refusal("last", "A brand has at least one palette.", "Change its colours instead.")
    return {"palettes": palettes}


def _fonts(form: Form, book: Book) -> Changes:
    chosen = {role: form.get(f"font-{role}", "") for role in FONT_ROLES}
    known = {*FONTS, *book.families}
    return {"fonts": {role: family for role, family in chosen.items() if family in known}}


def _family_gone(form: Form, book: Book) -> Changes:
    """A family of the brand's own goes; roles that it filled are as they come."""
    family = form.get("family", "")
    return {
        "faces": [face.model_dump() for face in book.faces if face.family != family],
        "fonts": {role: name for role, name in book.fonts.items() if name != family},
    }


def _logos(form: Form, book: Book) -> Changes:
    picked = {role: form.get(f"logo-{role}", "") for role in LOGO_ROLES}
    return {"logos": {role: key for role, key in picked.items() if key}}


def _rules(form: Form, book: Book) -> Changes:
    return {
        "rules": {"clear": _number(form, "clear", 0.01), "smallest": _number(form, "smallest", 0.01)},
        "watermark": {
            "corner": form.get("corner", book.watermark.corner), "size": _number(form, "size", 0.01),
            "opacity": _number(form, "opacity", 0.01),
        },
    }  # fmt: skip


def _style(form: Form, book: Book) -> Changes:
    """One text style, or as it comes."""
    style = form.get("style", "")
    if style not in STYLES:
        raise Refusal("no-style", "There is no text style of that name.")
    styles = dict(book.styles)
    if form.get("usual"):
        return {"styles": {name: values for name, values in styles.items() if name != style}}
    values = dict(styles.get(style) or STYLES[style].values)
    sent: dict[str, Any] = {name: form[name] for name in STYLE_FIELDS if name in form}
    if "weight" in sent:
        sent["weight"] = round(_number(form, "weight"))
    if "size" in sent:
        sent["size"] = _number(form, "size", 0.01)
    return {"styles": {**styles, style: {**values, **sent}}}


def _material(form: Form, book: Book) -> Changes:
    """What comes to the brand's material (`add`), in its order, and what goes (`gone`)."""
    gone = set(form.getlist("gone"))
    kept = [key for key in book.material if key not in gone]
    return {"material": list(dict.fromkeys([*kept, *form.getlist("add")]))}


def _scenes(form: Form, book: Book) -> Changes:
    return {"opening": form.get("opening", ""), "ending": form.get("ending", "")}


def _manner(form: Form, book: Book) -> Changes:
    return {"manner": {name: form.get(name, "") for name in ("transition", "arrives", "leaves")}}


def _said(name: str) -> Callable[[Form, Book], Changes]:
    def read(form: Form, book: Book) -> Changes:
        words = (" ".join(line.split())[:40] for line in form.get(name, "").splitlines())
        return {name: list(dict.fromkeys(word for word in words if word))[: WORDS[name]]}

    return read


SECTIONS: dict[str, Callable[[Form, Book], Changes]] = {
    "name": _name,
    "palette": _palette,
    "palettes": _palettes,
    "fonts": _fonts,
    "family-gone": _family_gone,
    "logos": _logos,
    "rules": _rules,
    "style": _style,
    "material": _material,
    "scenes": _scenes,
    "manner": _manner,
    "never": _said("never"),
    "tone": _said("tone"),
}


def changes_of(form: Form, book: Book) -> Changes:
    """What a section sent. Raises `Refusal` in a sentence."""
    read = SECTIONS.get(form.get("section", ""))
    if read is None:
        raise Refusal("no-section", "There is no such part of a brand.")
    return read(form, book)
