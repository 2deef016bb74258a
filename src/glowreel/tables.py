"""Every table of the program, printed: `glowreel tables [NAME] [--json]`. The reference in docs/ is made from them."""

from __future__ import annotations

import inspect
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from glowreel.core import limits as promo_limits
from glowreel.core.commands import ALL
from glowreel.core.formats import SHIPPED
from glowreel.core.time import MAX_TICKS, seconds
from glowreel.core.vocabulary import MOTIONS, TRANSITIONS
from glowreel.core.words import FONTS
from glowreel.engine.makers import MAKERS
from glowreel.limited.limits import LIMITS

Row = dict[str, str]


@dataclass(frozen=True)
class Table:
    """What a table is of, the heads of its columns, and how its rows are found."""

    meaning: str
    columns: tuple[str, ...]
    rows: Callable[[], list[Row]]


PATTERNS = {"^[A-Za-z0-9_.-]+$": "identifier", "^#[0-9A-Fa-f]{6}$": "colour", "^[0-9a-f]{64}$": "SHA-256"}
KINDS = {"string": "text", "integer": "whole number", "boolean": "yes or no", "array": "list", "object": "values"}


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
    return " ".join([KINDS.get(kind, kind), *said])


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


TABLES: dict[str, Table] = {
    "commands": Table("every change a promo can undergo", ("name", "meaning", "parameters"), _commands),
    "transitions": Table(
        "what happens on a cut, or at an end of the promo", ("name", "meaning"), lambda: _said(TRANSITIONS)
    ),
    "motions": Table("how a layer comes and goes", ("name", "meaning"), lambda: _said(MOTIONS)),
    "formats": Table(
        "the shapes a promo is published in", ("name", "meaning"),
        lambda: [{"name": key, "meaning": f"{f.name}, {f.wide}:{f.high}"} for key, f in SHIPPED.items()],
    ),
    "fonts": Table(
        "families of letters and their weights", ("name", "weights"),
        lambda: [{"name": name, "weights": ", ".join(map(str, weights))} for name, weights in FONTS.items()],
    ),
    "makers": Table(
        "what is made from a file when it comes in", ("name", "meaning", "of"),
        lambda: [{"name": name, "meaning": maker.meaning, "of": maker.of} for name, maker in MAKERS.items()],
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
