"""Every table of the program, printed: `glowreel tables [NAME] [--json]`. The reference in docs/ is made from them."""

from __future__ import annotations

import inspect
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from glowreel.core import limits as promo_limits
from glowreel.core.channels import CHANNELS, Channel
from glowreel.core.checks import CHECKS
from glowreel.core.commands import ALL
from glowreel.core.content import KINDS
from glowreel.core.effects import EFFECTS
from glowreel.core.fonts import FONTS, MANNERS
from glowreel.core.formats import SHIPPED
from glowreel.core.letters import LETTER_STAYS, LETTER_WAYS
from glowreel.core.looks import LOOKS
from glowreel.core.patterns import PATTERNS as GROUNDS
from glowreel.core.properties import EASINGS, PROPERTIES, Property
from glowreel.core.roles import COLOUR_ROLES, FONT_ROLES, LOGO_ROLES
from glowreel.core.shapes import SHAPES as OUTLINES
from glowreel.core.slots import SLOT_KINDS
from glowreel.core.template import FAMILIES, RULES
from glowreel.core.text_styles import STYLES
from glowreel.core.time import MAX_TICKS, seconds
from glowreel.core.vocabulary import BLENDS, MOTIONS, STAYS, TRANSITIONS
from glowreel.designs import shipped
from glowreel.engine.makers import MAKERS
from glowreel.limited.limits import LIMITS
from glowreel.services.access import ROLES, VERBS
from glowreel.templates import patterns

Row = dict[str, str]


@dataclass(frozen=True)
class Table:
    """What a table is of, the heads of its columns, and how its rows are found."""

    meaning: str
    columns: tuple[str, ...]
    rows: Callable[[], list[Row]]


PATTERNS = {"^[A-Za-z0-9_.-]+$": "identifier", "^#[0-9A-Fa-f]{6}$": "colour", "^[0-9a-f]{64}$": "SHA-256"}
SHAPES = {"string": "text", "integer": "whole number", "boolean": "yes or no", "array": "list", "object": "values"}


def _first_sentence(thing: Any) -> str:
    text = " ".join((inspect.getdoc(thing) or "").split())
    return text.split(". ")[0].rstrip(".") + "." if text else ""


def _shape(schema: dict[str, Any], root: dict[str, Any]) -> str:
    """A JSON schema in a few words: kind and limits."""
    if "$ref" in schema:
        name = schema["$ref"].rpartition("/")[2]
        found = root["$defs"][name]
        return _shape(found, root) if found.get("type") != "object" else name
    if "enum" in schema:
        return " / ".join(str(value) for value in schema["enum"])
    if "const" in schema:
        return str(schema["const"])
    for word in ("anyOf", "oneOf"):
        if word in schema:
            parts = [_shape(part, root) for part in schema[word] if part.get("type") != "null"]
            return " or ".join(dict.fromkeys(parts)) + (" or nothing" if len(parts) < len(schema[word]) else "")
    if schema.get("maximum") == MAX_TICKS:
        return "length in ticks" if "exclusiveMinimum" in schema else "time in ticks"
    if str(schema.get("pattern")) in PATTERNS:
        return PATTERNS[schema["pattern"]]
    if "prefixItems" in schema:
        return "(" + ", ".join(_shape(part, root) for part in schema["prefixItems"]) + ")"
    if schema.get("type") == "array":
        most = schema.get("maxItems")
        return f"{'at most ' + str(most) + ' of ' if most else 'several of '}{_shape(schema.get('items', {}), root)}"
    bounds = {"exclusiveMinimum": "> ", "minimum": "≥ ", "maximum": "≤ "}
    said = [f"{sign}{schema[key]:g}" for key, sign in bounds.items() if isinstance(schema.get(key), int | float)]
    if "maxLength" in schema:
        said.append(f"of at most {schema['maxLength']} letters")
    kind = str(schema.get("type", "anything"))
    return " ".join([SHAPES.get(kind, kind), *said])


def _parameters(model: type[BaseModel]) -> str:
    root = model.model_json_schema()
    found = []
    for name, schema in root.get("properties", {}).items():
        if name == "do":
            continue
        default = schema.get("default")
        plain = isinstance(default, str | int | float) and not isinstance(default, bool) and default != ""
        shape = _shape(schema, root)
        if plain and "ticks" in shape and default:
            default = f"{seconds(int(default)):g} s"
        ending = "" if name in root.get("required", ()) else f" = {default}" if plain else " (may be left out)"
        found.append(f"{name}: {shape}{ending}")
    return "; ".join(found)


def _commands() -> list[Row]:
    rows = []
    for command in ALL:
        name = command.model_fields["do"].default
        rows.append({"name": name, "meaning": _first_sentence(command), "parameters": _parameters(command)})
    return sorted(rows, key=lambda row: row["name"])


def _said(values: dict[str, str]) -> list[Row]:
    return [{"name": name, "meaning": meaning} for name, meaning in values.items()]


def _work() -> list[Row]:
    rows = []
    for name, row in LIMITS.items():
        longest = f", at most {row.longest:g}" if row.longest else ""
        rows.append({
            "name": name, "memory": f"{row.memory / 1024**2:g} MB", "seconds": f"{row.seconds:g}{longest}",
            "silence": f"{row.silence:g} s", "output": f"{row.output / 1024**2:g} MB",
        })  # fmt: skip
    return rows


def _limits_of(row: Property) -> str:
    """What values a property has, in a few words."""
    kinds = row.values
    if row.kind in ("number", "whole", "spot"):
        limits = f"{kinds.in_unit(row, row.low)} to {kinds.in_unit(row, row.high)}"
        return f"two numbers, {limits}" if row.kind == "spot" else limits
    if row.kind == "choice":
        return " / ".join(str(choice) for choice, _ in row.choices)
    return {
        "strokes": "at most 60 strokes", "bands": "at most 8 bands",
            "times": "moments in order", "name": "a name", "runs": "at most 60 parts",
        "text": f"at most {row.high:g} letters", "font": "a family or a role", "colour": "#RRGGBB or a role",
        "flag": "yes or no", "tones": "points between 0 and 1", "path": "an SVG path", "length": "a length of time",
    }[row.kind]  # fmt: skip


def _property(row: Property) -> Row:
    having = [kind.label.lower() for kind in KINDS.values() if row.of & kind.traits]
    where = [words for flag, words in ((row.over_time, "over time"), (row.per_format, "in one format")) if flag]
    own = "".join(f", {kind} {row.say(value)}" for kind, value in row.defaults.items())
    return {
        "name": row.name, "meaning": row.meaning, "values": _limits_of(row),
        "default": (row.say(row.default) or "none") + own, "changes": ", ".join(where) or "always the same",
        "of": ", ".join(having) or "effects",
    }  # fmt: skip


def _effects() -> list[Row]:
    rows = []
    for name, kind in EFFECTS.items():
        said = (f"{p.name}: {p.meaning}, {_limits_of(p)} = {p.say(p.default)}" for p in kind.parameters)
        rows.append({"name": name, "meaning": kind.meaning, "parameters": "; ".join(said)})
    return rows


def _covers(channel: Channel) -> str:
    """What a channel lays over films, in words."""
    told = (f"{what} ({shape})" for shape, areas in channel.covers.items() for what, _ in areas)
    return "; ".join(told) or "nothing"


TABLES: dict[str, Table] = {
    "properties": Table(
        "what can be set of clips, layers and sounds", ("name", "meaning", "values", "default", "changes", "of"),
        lambda: [_property(row) for row in PROPERTIES.values()],
    ),
    "kinds": Table(
        "kinds of parts: what stands on the tracks", ("name", "meaning", "takes"),
        lambda: [
            {"name": kind.name, "meaning": kind.meaning, "takes": ", ".join(sorted(kind.media)) or "nothing"}
            for kind in KINDS.values()
        ],
    ),
    "slots": Table(
        "what can be marked to be filled", ("name", "meaning", "holds"),
        lambda: [{"name": name, "meaning": k.meaning, "holds": k.holds} for name, k in SLOT_KINDS.items()],
    ),
    "designs": Table(
        "animated graphics with fields, that are put on and filled", ("name", "meaning", "purpose", "fields"),
        lambda: [
            {"name": d.id, "meaning": d.meaning, "purpose": d.purpose,
             "fields": ", ".join(f"{name} ({f.kind})" for name, f in d.fields.items())}
            for d in shipped().values()
        ],
    ),
    "templates": Table(
        "promos with slots, ready to be filled", ("name", "meaning", "category", "family", "scenes", "seconds"),
        lambda: [
            {"name": p.id, "meaning": p.facts.meaning, "category": p.facts.category, "family": p.facts.family,
             "scenes": str(len(p.scenes)), "seconds": f"{sum(scene.lasts for scene in p.scenes):g}"}
            for p in patterns().values()
        ],
    ),
    "template-families": Table(
        "how shipped templates look; their scenes stand among the designs", ("name", "meaning"),
        lambda: _said(FAMILIES),
    ),
    "template-lengths": Table(
        "what decides how long a promo made from a template is", ("name", "meaning"), lambda: _said(RULES)
    ),
    "rights": Table(
        "what each role may do with the things of its team", ("name", "meaning", "may"),
        lambda: [
            {"name": name, "meaning": words, "may": ", ".join(verb for verb in VERBS if verb in verbs)}
            for name, (words, verbs) in ROLES.items()
        ],
    ),
    "effects": Table("what can be done to a picture", ("name", "meaning", "parameters"), _effects),
    "looks": Table(
        "moods of colour for pictures", ("name", "meaning", "settings"),
        lambda: [
            {"name": name, "meaning": look.meaning,
             "settings": ", ".join(f"{key} {value:g}" for key, value in look.settings.items()) or "tints"}
            for name, look in LOOKS.items()
        ],
    ),
    "shapes": Table(
        "shapes of masks", ("name", "meaning", "settings"),
        lambda: [
            {"name": name, "meaning": shape.meaning,
             "settings": ", ".join(word for word in ("points", "depth") if getattr(shape, word)) or "none"}
            for name, shape in OUTLINES.items()
        ],
    ),
    "backgrounds": Table(
        "patterns for what lies behind a picture, in two colours", ("name", "meaning"),
        lambda: _said({name: pattern.label for name, pattern in GROUNDS.items()}),
    ),
    "blends": Table(
        "how a layer is mixed with what lies behind it", ("name", "meaning"), lambda: _said(BLENDS),
    ),
    "copied": Table(
        "what goes along when the look of one thing is given to another", ("name", "meaning"),
        lambda: [{"name": row.name, "meaning": row.meaning} for row in PROPERTIES.values() if row.look],
    ),
    "easings": Table(
        "how a value gets from one point in time to the next", ("name", "meaning"),
        lambda: [{"name": name, "meaning": words} for name, (words, _) in EASINGS.items()],
    ),
    "roles": Table(
        "what colours, fonts and logos are for; a brand fills them", ("name", "meaning", "without a brand"),
        lambda: [
            *({"name": name, "meaning": words, "without a brand": filled}
              for roles in (COLOUR_ROLES, FONT_ROLES) for name, (words, filled) in roles.items()),
            *({"name": name, "meaning": words, "without a brand": "nothing"} for name, words in LOGO_ROLES.items()),
        ],
    ),
    "commands": Table("every change a promo can undergo", ("name", "meaning", "parameters"), _commands),
    "transitions": Table(
        "what happens on a cut, or at an end of the promo", ("name", "meaning"), lambda: _said(TRANSITIONS)
    ),
    "motions": Table("how a layer comes and goes", ("name", "meaning"), lambda: _said(MOTIONS)),
    "stays": Table("what a layer does while it is on show", ("name", "meaning"), lambda: _said(STAYS)),
    "formats": Table(
        "the shapes a promo is published in", ("name", "meaning"),
        lambda: [{"name": key, "meaning": f"{f.name}, {f.wide}:{f.high}"} for key, f in SHIPPED.items()],
    ),
    "channels": Table(
        "where promos are published, and what each asks for",
        ("name", "meaning", "shapes", "seconds", "best", "megabytes", "caption", "title", "loudness", "covers"),
        lambda: [
            {"name": key, "meaning": f"{one.name}: {one.meaning}", "shapes": ", ".join(one.shapes),
             "seconds": f"{one.shortest:g} to {one.longest:g}", "best": f"{one.band[0]:g} to {one.band[1]:g}",
             "megabytes": str(one.megabytes), "caption": str(one.caption or "none"), "title": str(one.title),
             "loudness": f"{one.loudness:g} LUFS",
             "covers": _covers(one)}
            for key, one in CHANNELS.items()
        ],
    ),
    "fonts": Table(
        "families of letters and their weights", ("name", "manner", "weights", "italics"),
        lambda: [
            {"name": name, "manner": MANNERS[family.manner].lower(), "weights": ", ".join(map(str, family.weights)),
             "italics": ", ".join(map(str, family.italics)) or "none"}
            for name, family in FONTS.items()
        ],
    ),
    "letter-ways": Table(
        "how letters come and go, one after another", ("name", "meaning"),
        lambda: [{"name": name, "meaning": way.meaning} for name, way in LETTER_WAYS.items()],
    ),
    "letter-stays": Table(
        "what letters do while they are on show", ("name", "meaning"),
        lambda: [{"name": name, "meaning": stay.meaning} for name, stay in LETTER_STAYS.items()],
    ),
    "text-styles": Table(
        "how words of a kind look, until a promo says otherwise", ("name", "meaning", "values"),
        lambda: [
            {"name": name, "meaning": style.meaning, "values": ", ".join(f"{k} {v}" for k, v in style.values.items())}
            for name, style in STYLES.items()
        ],
    ),
    "makers": Table(
        "what is made from a file: when it comes in, or when it is first wanted", ("name", "meaning", "of", "when"),
        lambda: [
            {"name": name, "meaning": maker.meaning, "of": maker.of,
             "when": f"on demand, version {maker.version}" if maker.make else "when it comes in"}
            for name, maker in MAKERS.items()
        ],
    ),
    "checks": Table(
        "what is looked at after every edit", ("name", "meaning"),
        lambda: [{"name": name, "meaning": check.meaning} for name, check in CHECKS.items()],
    ),
    "limits": Table(
        "how large a promo may become", ("name", "most"),
        lambda: [{"name": name, "most": f"{most:,}"} for name, (most, _) in promo_limits.LIMITS.items()],
    ),
    "work": Table(
        "what each kind of work on a stranger's file may use", ("name", "memory", "seconds", "silence", "output"), _work
    ),
}  # fmt: skip


def as_text(name: str) -> str:
    """A table for a terminal."""
    table = TABLES[name]
    lines = [f"{name}: {table.meaning}"]
    for row in table.rows():
        lines.append(
            "  " + row["name"] + "".join(f"\n      {key}: {row[key]}" for key in table.columns[1:] if row[key])
        )
    return "\n".join(lines)


def as_document() -> str:
    """The reference for people, in Markdown."""
    parts = ["# Reference", "Made by `glowreel tables --document`; not edited by hand."]
    for name, table in TABLES.items():
        lines = [f"| {' | '.join(table.columns)} |", "|" + "---|" * len(table.columns)]
        for row in table.rows():
            cells = [row[column].replace("|", "/") for column in table.columns]
            lines.append(f"| `{cells[0]}` | {' | '.join(cells[1:])} |")
        parts += [f"## {name.capitalize()}", table.meaning.capitalize() + ".", "\n".join(lines)]
    return "\n\n".join(parts) + "\n"
