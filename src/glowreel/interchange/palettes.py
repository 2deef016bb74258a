"""Palettes as files: swatch exchange (ASE, binary), GPL (text), and custom properties of CSS; in and out."""

from __future__ import annotations

import re
import struct
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import tinycss2

from glowreel.core.brand import Palette
from glowreel.core.errors import Refusal
from glowreel.core.roles import COLOUR_ROLES
from glowreel.core.value import Colour
from glowreel.interchange.letters import decoded

MOST_COLOURS, MOST_BYTES = 24, 1024**2
Named = list[tuple[str, str]]
"""Colours (`#RRGGBB`) with their names, in order."""
GPL_LINE = re.compile(r"^\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(.*\S))?\s*$")
GPL_BEGINS = "GIMP Palette"
"""The line by which every reader knows the form."""
HEX = re.compile(r"#([0-9A-Fa-f]{6}|[0-9A-Fa-f]{3})\b")
COLOUR_BLOCK, RGB = 0x0001, b"RGB "


@dataclass(frozen=True)
class PaletteForm:
    """A form of palette file: what it is called, how its name ends, and how it is written and read."""

    label: str
    suffix: str
    mimetype: str
    write: Callable[[str, Named], bytes]
    read: Callable[[bytes], Named]


def named(palette: Palette) -> Named:
    """The colours of a palette: those for roles by their names, then the others."""
    return list(palette.colours.items()) + [
        (f"colour {number}", colour) for number, colour in enumerate(palette.others, 1)
    ]


def _parts(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def _colour(red: float, green: float, blue: float) -> str:
    return "#" + "".join(f"{min(255, max(0, round(part))):02X}" for part in (red, green, blue))


def _write_ase(name: str, colours: Named) -> bytes:
    """A header, then a block for each colour: its name in UTF-16, three shares of light, and that it stands alone."""
    blocks = b""
    for title, colour in colours:
        letters = title.encode("utf-16-be") + b"\x00\x00"
        light = struct.pack(">3f", *(part / 255 for part in _parts(colour)))
        body = struct.pack(">H", len(letters) // 2) + letters + RGB + light + struct.pack(">H", 2)
        blocks += struct.pack(">HI", COLOUR_BLOCK, len(body)) + body
    return b"ASEF" + struct.pack(">HHI", 1, 0, len(colours)) + blocks


def _read_ase(data: bytes) -> Named:
    if data[:4] != b"ASEF":
        raise Refusal("broken", "That is not a swatch exchange file.")
    (count,) = struct.unpack_from(">I", data, 8)
    at, found = 12, []
    for _ in range(min(count, 4000)):
        kind, length = struct.unpack_from(">HI", data, at)
        if kind == COLOUR_BLOCK:
            found += list(_ase_colour(data[at + 6 : at + 6 + length]))
        at += 6 + length
    return found


def _ase_colour(body: bytes) -> Iterator[tuple[str, str]]:
    (letters,) = struct.unpack_from(">H", body, 0)
    name = body[2 : 2 + 2 * letters].decode("utf-16-be", "replace").rstrip("\x00")
    at = 2 + 2 * letters
    model = body[at : at + 4]
    if model == RGB:
        yield name, _colour(*(part * 255 for part in struct.unpack_from(">3f", body, at + 4)))
    elif model == b"Gray":
        (light,) = struct.unpack_from(">f", body, at + 4)
        yield name, _colour(*(light * 255,) * 3)
    elif model == b"CMYK":
        cyan, magenta, yellow, black = struct.unpack_from(">4f", body, at + 4)
        yield name, _colour(*(255 * (1 - ink) * (1 - black) for ink in (cyan, magenta, yellow)))


def _write_gpl(name: str, colours: Named) -> bytes:
    lines = [GPL_BEGINS, f"Name: {name}", "#"]
    lines += [" ".join(f"{part:3d}" for part in _parts(colour)) + f"\t{title}" for title, colour in colours]
    return ("\n".join(lines) + "\n").encode()


def _read_gpl(data: bytes) -> Named:
    found = []
    for line in decoded(data).splitlines()[1:]:
        match = GPL_LINE.match(line)
        if match:
            found.append((match[4] or "", _colour(*(int(part) for part in match.groups()[:3]))))
    return found


def _write_css(name: str, colours: Named) -> bytes:
    lines = [f"  --{re.sub(r'[^a-z0-9]+', '-', title.lower()).strip('-')}: {colour};" for title, colour in colours]
    return ("/* " + name.replace("*/", "") + " */\n:root {\n" + "\n".join(lines) + "\n}\n").encode()


def _read_css(data: bytes) -> Named:
    """Every colour written in a style sheet, by the property that has it; each colour once."""
    found: dict[str, str] = {}
    for rule in tinycss2.parse_stylesheet(decoded(data), skip_comments=True, skip_whitespace=True):
        inner = tinycss2.parse_blocks_contents(rule.content) if getattr(rule, "content", None) else ()
        for one in inner:
            if one.type == "declaration":
                for match in HEX.finditer(tinycss2.serialize(one.value)):
                    digits = match[1] if len(match[1]) == 6 else "".join(letter * 2 for letter in match[1])
                    found.setdefault(f"#{digits.upper()}", one.name.lstrip("-").replace("-", " "))
    return [(name, colour) for colour, name in found.items()]


PALETTE_FORMS: dict[str, PaletteForm] = {
    "ase": PaletteForm("Swatch exchange (ASE)", ".ase", "application/octet-stream", _write_ase, _read_ase),
    "gpl": PaletteForm("Palette as text (GPL)", ".gpl", "text/plain", _write_gpl, _read_gpl),
    "css": PaletteForm("Custom properties (CSS)", ".css", "text/css", _write_css, _read_css),
}


def written(palette: Palette, key: str) -> bytes:
    """A palette as a file. Raises `Refusal` where there is no such form or no colour."""
    if key not in PALETTE_FORMS:
        raise Refusal("no-form", "That kind of palette file is not written here.")
    colours = named(palette)
    if not colours:
        raise Refusal("empty", "That palette has no colours yet.", "Choose some first.")
    return PALETTE_FORMS[key].write(palette.name, colours)


def read(name: str, data: bytes) -> Palette:
    """The palette in a file, by how its name ends. Colours that are named as roles fill them. Raises `Refusal`."""
    form = next((row for row in PALETTE_FORMS.values() if name.lower().endswith(row.suffix)), None)
    if form is None or len(data) > MOST_BYTES:
        raise Refusal("no-form", "That is no palette file.", "Choose an .ase, .gpl or .css file of at most 1 MB.")
    try:
        found = form.read(data)
    except (struct.error, ValueError, IndexError) as error:
        raise Refusal("broken", "That palette file is damaged.") from error
    if not found:
        raise Refusal("empty", "There is no colour in that file.")
    roles: dict[str, Colour] = {}
    others: list[Colour] = []
    for title, colour in found:
        role = title.strip().lower()
        if role in COLOUR_ROLES and role not in roles:
            roles[role] = colour
        elif colour not in others:
            others.append(colour)
    stem = name.rsplit("/", 1)[-1].rsplit(".", 1)[0]
    return Palette(name=stem[:40] or "Colours", colours=roles, others=tuple(others[:MOST_COLOURS]))
