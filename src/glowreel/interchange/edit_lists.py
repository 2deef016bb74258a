"""Edit lists of other programs, in and out: CMX 3600 (EDL), XML (xmeml), AAF in; markers and chapters as tables.

What each can hold, and so what is left of a promo in it, is the table `EDIT_LISTS`. All of them are read by way of
OpenTimelineIO, as `elsewhere` reads it.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import opentimelineio as otio

from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.time import clock, seconds
from glowreel.core.timeline import timeline
from glowreel.interchange.letters import decoded
from glowreel.interchange.plain import KEY, MAX_TEXT, check_text
from glowreel.interchange.timelines import to_otio

AAF_STARTS = bytes.fromhex("d0cf11e0a1b11ae1")
EVENT = re.compile(r"^\s*\d{1,6}\s+\S+\s+\S+\s+\S+(\s+\d+)?(\s+\d\d:\d\d:\d\d[:;]\d\d){4}\s*$", re.MULTILINE)
RATE = re.compile(r"FRAME[ _-]?RATE:?\s*(\d{2,3}(?:\.\d{1,3})?)", re.IGNORECASE)
FRAMES = re.compile(r"\d\d:\d\d:\d\d[:;](\d\d)")


@dataclass(frozen=True)
class EditList:
    """A form of edit list: what it is called, how its name ends, what is left of a promo in it, and of one that is
    opened. `write` makes it of a promo, and is missing where it is only read; `survives` says the same in a table."""

    key: str
    label: str
    suffix: str
    mimetype: str
    survives: str
    lost: str
    write: Callable[[Promo], str] | None = None


def _bare(promo: Promo, *, main_only: bool) -> Any:
    """The promo as a timeline without what only we understand."""
    made = to_otio(promo)
    made.metadata.pop(KEY)
    if main_only:
        del made.tracks[1:]
    made.global_start_time = otio.opentime.RationalTime(3600 * float(promo.rate.fraction), float(promo.rate.fraction))
    for clip in made.find_clips():
        # Programs find files by the name that people know, not by ours.
        clip.media_reference.name = clip.media_reference.target_url = clip.name
        if clip.media_reference.available_range is None:
            clip.media_reference.available_range = clip.source_range
    return made


def _edl(promo: Promo) -> str:
    made = _bare(promo, main_only=True)
    text = otio.adapters.write_to_string(made, "cmx_3600", rate=float(promo.rate.fraction))
    return f"{text.rstrip()}\n* FRAME RATE: {promo.rate}\n"


def _xml(promo: Promo) -> str:
    made = _bare(promo, main_only=False)
    for number, track in enumerate(made.tracks):
        for part in [part for part in track if isinstance(part, otio.schema.Transition)] if number else ():
            track.remove(part)
    return str(otio.adapters.write_to_string(made, "fcp_xml"))


def _rows(head: tuple[str, ...], rows: list[tuple[str, ...]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(head)
    # A cell that begins like a formula would be worked out by a program for tables.
    writer.writerows([[f"'{cell}" if cell[:1] in "=+-@\t" else cell for cell in row] for row in rows])
    return out.getvalue()


def _markers(promo: Promo) -> str:
    index = timeline(promo)
    rows: list[tuple[str, ...]] = [
        (clock(index.note_at(note), promo.rate), f"{seconds(index.note_at(note)):.3f}", note.text)
        for note in sorted(promo.notes, key=index.note_at)
    ]
    return _rows(("Timecode", "Seconds", "Text"), rows)


def _chapters(promo: Promo) -> str:
    """The scenes as the lines that film sites read in a text beside a film."""
    index = timeline(promo)
    lines = []
    for scene in promo.scenes:
        at = int(seconds(index.scene_span[scene.id].start))
        hours = f"{at // 3600}:" if seconds(index.length) >= 3600 else ""
        lines.append(f"{hours}{at // 60 % 60:0{2 if hours else 1}d}:{at % 60:02d} {scene.name}")
    return "\n".join(lines) + "\n"


EDIT_LISTS: dict[str, EditList] = {
    row.key: row
    for row in (
        EditList("edl", "Edit list (EDL)", ".edl", "text/plain",
                 "the main track: cuts, lengths, places in the files, crossfades, even speed, black",
                 "layers, words, sounds, looks, scenes, formats", _edl),
        EditList("xml", "Edit list (XML)", ".xml", "application/xml",
                 "all tracks of footage, photos and sound: cuts, lengths, places in the files, crossfades",
                 "speed, words, designs, looks, motion, scenes, formats", _xml),
        EditList("aaf", "Edit list (AAF)", ".aaf", "application/octet-stream",
                 "read only: tracks of picture and sound, cuts, lengths, places in the files, dissolves", "effects"),
        EditList("markers", "Notes as a table (CSV)", ".csv", "text/csv", "the moment and the text of every note",
                 "everything else", _markers),
        EditList("chapters", "Chapters as text", ".txt", "text/plain", "when each scene begins, and its name",
                 "everything else", _chapters),
    )
}  # fmt: skip


def written(promo: Promo, key: str) -> str:
    """A promo as an edit list. Raises `Refusal` where there is no such form or nothing to write."""
    row = EDIT_LISTS.get(key)
    if row is None or row.write is None:
        raise Refusal("no-form", "That kind of edit list is not written here.")
    if not timeline(promo).length:
        raise Refusal("empty", "There is nothing in this promo yet.", "Put a clip on the timeline first.")
    try:
        return row.write(promo)
    except otio.exceptions.OTIOError as error:
        raise Refusal("unsayable", f"This promo cannot be said as {row.label}: {str(error)[:160]}") from error


def as_timeline(path: Path) -> str | None:
    """An edit list as OpenTimelineIO text; None where the file is none of them. Raises `Refusal`."""
    with path.open("rb") as file:
        start = file.read(4096)
    if start.startswith(AAF_STARTS):
        return _read(lambda: otio.adapters.read_from_file(str(path), "AAF"), "AAF")
    if path.stat().st_size > MAX_TEXT or b"\x00" in start.replace(b"\xff\xfe", b"").replace(b"\xfe\xff", b"")[1:2:2]:
        return None
    text = decoded(path.read_bytes())
    if "<xmeml" in text[:2000]:
        if "<!ENTITY" in text:
            raise Refusal("broken", "That XML file declares entities, which no edit list needs.")
        return _read(lambda: otio.adapters.read_from_string(text, "fcp_xml"), "XML")
    if EVENT.search(text):
        rate = edl_rate(text)
        return _read(lambda: otio.adapters.read_from_string(text, "cmx_3600", rate=rate, ignore_timecode_mismatch=True),
                     "EDL")  # fmt: skip
    return None


def edl_rate(text: str) -> float:
    """The frame rate that an edit list counts in: what a remark says; else the least that no frame number reaches."""
    said = RATE.search(text)
    if said is not None and 10 <= float(said[1]) <= 120:
        return float(said[1])
    most = max((int(found) for found in FRAMES.findall(text)), default=0)
    return next((float(rate) for rate in (24, 25, 30, 50, 60) if most < rate), 60.0)


def _read(read: Callable[[], Any], form: str) -> str:
    try:
        made = read()
        for clip in list(made.find_clips()):
            _link(clip)
        text = str(otio.adapters.write_to_string(made, "otio_json"))
    except Refusal:
        raise
    except Exception as error:  # Each adapter raises kinds of its own, and some of Python's.
        raise Refusal(
            "broken", f"That {form} file cannot be read as an edit list.", "Save it again and retry."
        ) from error
    check_text(text)
    return text


def _link(clip: Any) -> None:
    """Has a clip name its file, where its form only names it: that file is looked for on the Shelf. Black is a gap."""
    if isinstance(clip.media_reference, otio.schema.GeneratorReference) and clip.parent() is not None:
        track = clip.parent()
        track[track.index(clip)] = otio.schema.Gap(source_range=clip.trimmed_range())
        return
    if getattr(clip.media_reference, "target_url", None):
        return
    available = clip.media_reference.available_range if clip.media_reference is not None else None
    name = clip.name or (clip.media_reference.name if clip.media_reference is not None else "")
    clip.media_reference = otio.schema.ExternalReference(target_url=name or "unnamed", available_range=available)
