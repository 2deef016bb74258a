"""What a web page says of a brand: where its logo stands, the colours and fonts of its styles by how they are used, and
the words that it uses again and again. Nothing is fetched here."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from urllib.parse import urljoin

import tinycss2
from selectolax.lexbor import LexborHTMLParser

from glowreel.core.colour import read_colour
from glowreel.core.fonts import FONTS

MOST_STYLES = 6
MOST_RULES = 6000
MOST_WORDS = 6
WEIGHTS = {"background": 4.0, "background-color": 4.0, "color": 2.0, "fill": 2.0, "border-color": 0.5}
"""How much a colour counts for each use: what covers areas counts most."""
PLACES = ("button", "btn", "cta", "header", "hero", "nav", "footer", "banner")
"""Parts of selectors that say that something is meant to be seen."""
GENERIC = {"serif": "Lora", "monospace": "Space Mono", "cursive": "Caveat", "sans-serif": "Instrument Sans",
           "system-ui": "Instrument Sans"}  # fmt: skip
"""The family that stands for one that is not here, by the kind that the page names after it."""
_COMMON = (
    "about after again all also and any are because been before being both but can come could day does each "
    "every few first for from get give has have here home how into its just know like make many more most "
    "much new not now off one only other our out over own page people read see she should some such take than "
    "that the their them then there these they this those three through time two under very was way well were "
    "what when where which while who will with work would year you your"
)
COMMON = frozenset(_COMMON.split())
"""Words that every page has."""
WORD = re.compile(r"[^\W\d_]{4,}")


@dataclass(frozen=True)
class Page:
    """A page as it was read: its title, where styles and pictures of it stand, its own styles, and its words."""

    title: str
    styles: tuple[str, ...]
    own_styles: tuple[str, ...]
    logos: tuple[str, ...]
    words: tuple[str, ...]


@dataclass
class Look:
    """How a page looks, from its styles: colours with their weights, in all and of what should be seen, those of the
    ground and the words of the page itself, and families by what they are for."""

    colours: Counter[str] = field(default_factory=Counter)
    seen: Counter[str] = field(default_factory=Counter)
    ground: str = ""
    ink: str = ""
    fonts: dict[str, str] = field(default_factory=dict)


def read_page(text: str, base: str) -> Page:
    """What a page holds. `base` is the address that its own addresses are relative to."""
    tree = LexborHTMLParser(text)

    def there(node: object, name: str) -> str:
        value = (getattr(node, "attributes", None) or {}).get(name) or ""
        return urljoin(base, value.strip()) if value and not value.startswith("data:") else ""

    styles = [there(node, "href") for node in tree.css('link[rel~="stylesheet"]')]
    own = [node.text() for node in tree.css("style")]
    logos = [there(node, "src") for node in tree.css("img") if _is_logo(node.attributes)]
    logos += [there(node, "href") for node in tree.css('link[rel~="icon"], link[rel="apple-touch-icon"]')]
    logos += [urljoin(base, (node.attributes.get("content") or "").strip())
              for node in tree.css('meta[property="og:image"]') if node.attributes.get("content")]  # fmt: skip
    title = tree.css_first("title")
    described = tree.css_first('meta[name="description"]')
    said = [node.text() for node in tree.css("h1, h2, h3, p, li")]
    said.append((described.attributes.get("content") or "") if described is not None else "")
    name = re.split(r"\s+[·|–—-]\s+", title.text().strip())[0][:80] if title is not None else ""
    return Page(
        name, tuple(filter(None, styles))[:MOST_STYLES], tuple(own)[:MOST_STYLES],
        tuple(dict.fromkeys(filter(None, logos))), tuple(_said_often(said, name)),
    )  # fmt: skip


def _is_logo(attributes: object) -> bool:
    told = " ".join(str(value) for value in dict(attributes).values() if value)  # type: ignore[call-overload]
    return "logo" in told.lower()


def _said_often(texts: Iterable[str], name: str) -> list[str]:
    """The words that are used more than once, most often first, without common ones and the firm's own name."""
    own = set(name.lower().split())
    counts = Counter(word for text in texts for word in WORD.findall(text.lower()) if word not in COMMON | own)
    return [word for word, count in counts.most_common(40) if count > 1][:MOST_WORDS]


def look_of(sheets: Iterable[str]) -> Look:
    """How a page looks by its styles. Custom properties are followed; what cannot be read is passed over."""
    rules = [rule for sheet in sheets for rule in _rules(sheet)][:MOST_RULES]
    named: dict[str, str] = {}
    for _, declarations in rules:
        named |= {name: value for name, value in declarations if name.startswith("--")}
    look = Look()
    for selector, declarations in rules:
        for name, value in declarations:
            if name in WEIGHTS:
                _count(look, selector, name, _colour(_followed(value, named)))
            elif name in ("font-family", "font"):
                family = _family(_followed(value, named))
                role = "heading" if re.search(r"(^|[\s,.])h[12]\b|title|heading", selector) else "body"
                if family and (role not in look.fonts or re.search(r"(^|[\s,])(body|html|h1)\b", selector)):
                    look.fonts[role] = family
    return look


def _count(look: Look, selector: str, name: str, colour: str) -> None:
    if not colour:
        return
    look.colours[colour] += WEIGHTS[name]  # type: ignore[assignment]
    if any(place in selector for place in PLACES) and name.startswith("background"):
        look.seen[colour] += 1
    if re.search(r"(^|[\s,])(body|html)\b", selector):
        if name.startswith("background"):
            look.ground = colour
        elif name == "color":
            look.ink = colour


def _rules(sheet: str) -> Iterator[tuple[str, list[tuple[str, str]]]]:
    """The rules of a sheet, those inside of media rules too: selector and declarations."""
    for rule in tinycss2.parse_stylesheet(sheet, skip_comments=True, skip_whitespace=True):
        if rule.type == "at-rule" and rule.content is not None and rule.lower_at_keyword == "media":
            yield from _rules(tinycss2.serialize(rule.content))
        if rule.type != "qualified-rule":
            continue
        found = tinycss2.parse_blocks_contents(rule.content, skip_comments=True, skip_whitespace=True)
        yield (
            tinycss2.serialize(rule.prelude).strip().lower(),
            [(one.lower_name, tinycss2.serialize(one.value).strip()) for one in found if one.type == "declaration"],
        )


def _followed(value: str, named: dict[str, str], depth: int = 0) -> str:
    """A value with the custom properties in it filled in."""
    found = re.search(r"var\(\s*(--[\w-]+)\s*(?:,([^()]*))?\)", value)
    if found is None or depth > 8:
        return value
    filled = named.get(found[1], found[2] or "")
    return _followed(value[: found.start()] + filled + value[found.end() :], named, depth + 1)


def _colour(value: str) -> str:
    """The first colour in a value, as `#RRGGBB`; nothing where there is none."""
    for part in re.findall(r"#[0-9a-fA-F]{3,8}\b|rgba?\([^)]*\)", value):
        plain = part[:7] if part.startswith("#") and len(part) >= 7 else part[:4] if part.startswith("#") else part
        if plain.startswith("rgb"):
            numbers = re.findall(r"[\d.]+", plain)
            if len(numbers) > 3 and float(numbers[3]) < 0.5:
                continue
            plain = f"rgb({' '.join(str(round(float(number))) for number in numbers[:3])})"
        try:
            return read_colour(plain)
        except ValueError:
            continue
    return ""


def _family(value: str) -> str:
    """The shipped family that a value names, or the one that stands for it by its kind; nothing for neither."""
    names = [name.strip().strip("\"'") for name in value.split(",")]
    known = {family.lower(): family for family in FONTS}
    for name in names:
        last = re.sub(r"^.*?\d\S*\s+", "", name).strip().strip("\"'").lower()
        if last in known:
            return known[last]
    return next((GENERIC[name.lower()] for name in names if name.lower() in GENERIC), "")


NO_TEXT = ("script", "style", "noscript", "nav", "header", "footer", "form", "button", "aside", "template", "svg")


def read_text(text: str) -> str:
    """What a page says: its headings, paragraphs and list items, without what leads around in it."""
    tree = LexborHTMLParser(text)
    for name in NO_TEXT:
        for node in tree.css(name):
            node.decompose()
    found: list[str] = []
    for node in tree.css("h1, h2, h3, p, li, blockquote"):
        said = " ".join(node.text(separator=" ").split())
        if len(said) > 2 and said not in found:
            found.append(said if said.endswith((".", "!", "?", "…", ":")) else f"{said}.")
    return "\n".join(found)[:60_000]
