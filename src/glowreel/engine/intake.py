"""Everything that is made from one file when it comes in, in one call: what it is, and what previews need of it."""

from __future__ import annotations

import errno
import traceback
from contextlib import closing
from dataclasses import dataclass, replace
from pathlib import Path

from glowreel.core.errors import BadMedia, GlowReelError
from glowreel.core.media import Media
from glowreel.core.time import SAMPLE_RATE, TICKS_PER_SECOND
from glowreel.engine import ingest
from glowreel.engine.cube import picture_of, read_cube
from glowreel.engine.fontfile import letters_of, read_font
from glowreel.engine.footage import Footage, Pixels
from glowreel.engine.ingest import Progress, Strip
from glowreel.engine.limits import SVG_SIDE
from glowreel.engine.photo import load_photo
from glowreel.engine.probe import Facts, probe
from glowreel.engine.reading import open_media
from glowreel.engine.speech import listen
from glowreel.engine.still import encode
from glowreel.engine.subject import frames_of, subject_of_footage, subject_of_photo
from glowreel.engine.svg import draw_svg

PREVIEW_PHOTO_SIDE = 1440
OURS = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG, errno.ENOMEM, errno.EPIPE)
"""What is no fault of the file."""
MEASURED = (
    "kind", "length", "width", "height", "rate", "sounding", "alpha", "transfer", "family", "weight", "italic",
    "subject", "heard", "speech",
)  # fmt: skip
"""What a promo keeps of a file's facts."""


@dataclass(frozen=True)
class Intake:
    """What was found, and which files were made: names as under `blob_keys.derived`."""

    facts: Facts
    strip: Strip | None
    made: tuple[str, ...]


def media_of(facts: Facts, id: str, name: str, hash: str, suffix: str) -> Media:
    """The facts as a promo keeps them."""
    return Media(id=id, name=name, hash=hash, suffix=suffix, **{field: getattr(facts, field) for field in MEASURED})


def take_in(path: Path, name: str, folder: Path, progress: Progress, longer: Progress) -> Intake:
    """Looks at a file and makes what is needed of it in a folder.

    `longer` is told how many seconds more it may take, for its length. Raises `BadMedia`.
    """
    try:
        return _take_in(path, name, folder, progress, longer)
    except (GlowReelError, MemoryError):
        raise
    except Exception as error:
        if isinstance(error, OSError) and error.errno in OURS:
            raise
        # Over a file that is made for it, the libraries that read it raise anything at all.
        traceback.print_exc()
        raise BadMedia("broken", f"{name} is damaged and cannot be read to its end.", "Save it again.") from error


def _take_in(path: Path, name: str, folder: Path, progress: Progress, longer: Progress) -> Intake:
    facts = probe(path, name)
    if facts.kind == "footage" and not facts.length:
        facts = replace(facts, length=round(_lasts(path) * TICKS_PER_SECOND))
    longer(6 * facts.length / TICKS_PER_SECOND)
    if facts.kind == "look":
        (folder / "proxy").write_bytes(path.read_bytes())
        ingest.make_poster(picture_of(read_cube(path, name)), folder / "poster.jpg")
        return Intake(facts, None, ("proxy", "poster.jpg"))
    if facts.kind == "font":
        # What draws reads it in its plain form, in previews and in exports.
        for made_of_it in ("proxy", "picture"):
            (folder / made_of_it).write_bytes(read_font(path, name).data)
        ingest.make_poster(letters_of(folder / "proxy"), folder / "poster.jpg")
        return Intake(facts, None, ("proxy", "picture", "poster.jpg"))
    if facts.kind == "photo":
        return _photo(path, facts, folder)
    made: list[str] = []
    if facts.sounding:
        samples = folder / "samples"
        seconds = _sound(path, samples, progress)
        made += ["samples", "peaks"]
        heard, speech = listen(samples)
        facts = replace(facts, heard=heard, speech=speech)
        if facts.kind == "sound":
            # What a container says about its length is often a guess; the samples are the truth.
            return Intake(ingest.with_length(facts, samples), None, tuple(made))
        longer(6 * max(seconds, facts.length / TICKS_PER_SECOND))
    proxy, strip_out = folder / "proxy", folder / "strip.jpg"
    if facts.animated:
        strip = ingest.make_animation_proxy(path, facts, proxy, strip_out, progress)
    else:
        facts, strip = ingest.make_proxy(path, facts, proxy, strip_out, progress)
    ingest.make_poster(_third(proxy, facts), folder / "poster.jpg")
    if not facts.animated:
        found = subject_of_footage(frames_of(proxy), progress, facts.length / TICKS_PER_SECOND)
        facts = replace(facts, subject=found)
    return Intake(facts, strip, (*made, "proxy", "strip.jpg", "poster.jpg"))


def _lasts(path: Path) -> float:
    """How long footage is that does not say so, such as a recording that was kept piece by piece: by the times of its
    packets, in seconds, without decoding any of them."""
    with open_media(path) as source:
        stream = source.streams.video[0]
        last = max((packet.pts or 0 for packet in source.demux(stream)), default=0)
        return float((last - (stream.start_time or 0)) * stream.time_base)


def _sound(path: Path, samples: Path, progress: Progress) -> float:
    """Makes the sound copy and its peaks; answers with the seconds there are."""
    ingest.make_samples(path, samples, progress)
    ingest.make_peaks(samples, samples.with_name("peaks"), progress)
    return samples.stat().st_size / 4 / SAMPLE_RATE


def _photo(path: Path, facts: Facts, folder: Path) -> Intake:
    """A photo for previews: small, and kept without loss, so that only its size differs from the export's. Drawings
    are kept as pixels for exports too: nothing draws them again."""
    made = ["proxy", "poster.jpg"]
    if facts.drawn:
        pixels = draw_svg(path, SVG_SIDE)
        (folder / "picture").write_bytes(encode(pixels, ".png"))
        made.append("picture")
    else:
        pixels = load_photo(path)
    high, wide = pixels.shape[:2]
    scale = min(1.0, PREVIEW_PHOTO_SIDE / max(high, wide))
    small: Pixels = ingest.shrunk(pixels, round(wide * scale), round(high * scale)) if scale < 1 else pixels
    (folder / "proxy").write_bytes(encode(small, ".png"))
    ingest.make_poster(small, folder / "poster.jpg")
    # A drawing has no subject: it is shown whole, or is a logo.
    found = None if facts.drawn or facts.alpha else subject_of_photo(small)
    return Intake(replace(facts, subject=found), None, tuple(made))


def _third(proxy: Path, facts: Facts) -> Pixels:
    """The picture a third of the way in, where something is usually seen; from the stand-in, which is ours."""
    with closing(Footage(proxy)) as footage:
        return footage.bgra(footage.frame(facts.length // 3), facts.width, facts.height).copy()
