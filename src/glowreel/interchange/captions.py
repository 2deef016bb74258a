"""Caption files: `.srt`, `.vtt`, `.ass` and plain text in, `.srt` and `.vtt` out.

Files come in any state. What is meant is read: marks of another system, missing hours, a comma or a point, cues out of
order or over one another, styles. Where it cannot be told what is meant, a sentence names the line.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath

import pysubs2

from glowreel.core.captions.model import CUE_LETTERS, MOST_CUES
from glowreel.core.errors import Refusal
from glowreel.interchange.letters import decoded

MAX_BYTES = 5 * 1024**2
LONGEST = 24 * 3600 * 1000
SUFFIXES = (".srt", ".vtt", ".ass", ".ssa", ".txt")
USUAL_MS = 2000
"""How long a cue is shown whose end cannot be right."""

Timed = tuple[int, int, str]
"""From when to when (milliseconds), and what is shown."""


@dataclass(frozen=True)
class CaptionFile:
    """What a file says: its cues in order, or a `text` without times; its language where its name tells it; and
    sentences about what could not be kept."""

    cues: tuple[Timed, ...] = ()
    text: str = ""
    language: str = ""
    notices: tuple[str, ...] = ()


def read(name: str, data: bytes) -> CaptionFile:
    """A caption file. Raises `Refusal` in a sentence, with the line where one is to blame."""
    suffix = PurePosixPath(name.lower()).suffix
    if suffix not in SUFFIXES:
        raise Refusal("no-captions", f"{name} is no caption file.", f"Bring one that ends in {', '.join(SUFFIXES)}.")
    if len(data) > MAX_BYTES:
        raise Refusal("too-large", f"{name} is larger than {MAX_BYTES // 1024**2} MB.", "Split it first.")
    text = decoded(data).replace("\r\n", "\n").replace("\r", "\n")
    if not text.strip():
        raise Refusal("empty", f"{name} is empty.", "Choose another file.")
    if suffix == ".txt" and "-->" not in text:
        return CaptionFile(text=" ".join(text.split()), language=_language(name))
    if suffix in (".ass", ".ssa") or text.lstrip().startswith("[Script Info]"):
        cues, notices = _styled(name, text)
    else:
        cues, notices = _blocks(name, text)
    if not cues:
        raise Refusal("no-cues", f"There are no captions in {name}.", "Choose another file.")
    if len(cues) > MOST_CUES:
        raise Refusal("too-many", f"{name} has more than {MOST_CUES:,} captions.", "Split it first.")
    told, more = _in_order(cues)
    return CaptionFile(told, language=_language(name), notices=(*notices, *more))


def _language(name: str) -> str:
    """A language that a file's name tells: `promo.de.srt`."""
    parts = PurePosixPath(name).name.lower().split(".")
    told = parts[-2] if len(parts) > 2 else ""
    return told if re.fullmatch(r"[a-z]{2}(-[a-z0-9]{2,8})?", told) else ""


TIME = re.compile(r"^\s*(?:(\d{1,3})\s*:)?\s*(\d{1,3})\s*:\s*(\d{1,2})\s*(?:[.,:]\s*(\d{1,3}))?\s*$")
TAG = re.compile(r"</?[A-Za-z][^<>]{0,200}>|</?\d{1,2}:[^<>]{0,20}>|\{\\[^{}]{0,200}\}")
ENTITIES = {"&amp;": "&", "&lt;": "<", "&gt;": ">", "&nbsp;": " ", "&lrm;": "", "&rlm;": ""}


def _moment(text: str) -> int | None:
    found = TIME.match(text)
    if found is None:
        return None
    hours, minutes, second, rest = found.groups()
    if int(second) > 59 or (hours is not None and int(minutes) > 59):
        return None
    whole = (int(hours or 0) * 3600 + int(minutes) * 60 + int(second)) * 1000
    return whole + int((rest or "0").ljust(3, "0"))


def _blocks(name: str, text: str) -> tuple[list[Timed], list[str]]:
    """Cues that are each a line of times with lines of words below it."""
    lines = text.split("\n")
    heads = [n for n, line in enumerate(lines) if "-->" in line]
    cues: list[Timed] = []
    skipped = 0
    for place, head in enumerate(heads):
        first, _, rest = lines[head].partition("-->")
        start = _moment(first)
        # What stands behind the times says where the cue lies: that is for the design to say.
        end = _moment(next(iter(re.split(r"\s+(?=[A-Za-z])", rest.strip(), maxsplit=1)), ""))
        if start is None or end is None or max(start, end) > LONGEST:
            raise Refusal(
                "bad-time", f"Line {head + 1} of {name} is no time: “{lines[head].strip()[:60]}”.",
                "Write it as 00:00:01,000 --> 00:00:02,500.",
            )  # fmt: skip
        last = heads[place + 1] if place + 1 < len(heads) else len(lines)
        said = _said(_body(lines[head + 1 : last], more=place + 1 < len(heads)))
        if said:
            cues.append((start, end, said))
        else:
            skipped += 1
    return cues, [f"{skipped} captions without words were left out."] if skipped else []


def _body(lines: Sequence[str], *, more: bool) -> Sequence[str]:
    """The words below a line of times: up to the name or number of the next cue, where there are `more`, and, where
    there are none, up to the first empty line."""
    if not more:
        empty = next((n for n, line in enumerate(lines) if not line.strip() and n), len(lines))
        return lines[:empty]
    if lines and lines[-1].strip() and (lines[-1].strip().isdigit() or (len(lines) > 1 and not lines[-2].strip())):
        return lines[:-1]
    return lines


def _said(lines: Iterable[str]) -> str:
    """The words of a cue without styles, its lines as they were."""
    made = []
    for line in lines:
        bare = TAG.sub("", line)
        for entity, letter in ENTITIES.items():
            bare = bare.replace(entity, letter)
        bare = " ".join("".join(letter for letter in bare if letter.isprintable()).split())
        made += [bare] if bare else []
    return "\n".join(made)[:CUE_LETTERS]


def _styled(name: str, text: str) -> tuple[list[Timed], list[str]]:
    try:
        found = pysubs2.SSAFile.from_string(text, format_="ass")
    except Exception as error:
        raise Refusal("bad-captions", f"{name} cannot be read as captions.", "Save it as .srt or .vtt.") from error
    cues = [
        (max(0, event.start), event.end, said)
        for event in found
        if event.type == "Dialogue" and (said := _said(event.plaintext.split("\n")))
    ]
    return cues, ["Styles of the file were left out: the design says how captions look."] if cues else []


def _in_order(cues: Sequence[Timed]) -> tuple[tuple[Timed, ...], list[str]]:
    """Cues in order, each ending after it began and before the next one begins."""
    made: list[Timed] = []
    mended = 0
    for start, end, said in sorted(cues):
        if end <= start:
            end, mended = start + USUAL_MS, mended + 1
        if made and made[-1][1] > start:
            was = made[-1]
            mended += 1
            if was[0] == start:
                made[-1] = (start, max(end, was[1]), f"{was[2]}\n{said}"[:CUE_LETTERS])
                continue
            made[-1] = (was[0], start, was[2])
        made.append((start, end, said))
    return tuple(made), [f"The times of {mended} captions were put right."] if mended else []


def written(cues: Iterable[Timed], form: str) -> str:
    """Cues as the text of an `srt` or `vtt` file."""
    point = "," if form == "srt" else "."
    blocks = []
    for number, (start, end, said) in enumerate(cues, 1):
        head = f"{number}\n" if form == "srt" else ""
        body = said if form == "srt" else said.replace("&", "&amp;").replace("<", "&lt;")
        blocks.append(f"{head}{_clock(start, point)} --> {_clock(end, point)}\n{body}\n")
    return ("WEBVTT\n\n" if form == "vtt" else "") + "\n".join(blocks)


def _clock(at: int, point: str) -> str:
    hours, rest = divmod(at, 3_600_000)
    minutes, rest = divmod(rest, 60_000)
    return f"{hours:02d}:{minutes:02d}:{rest // 1000:02d}{point}{rest % 1000:03d}"
