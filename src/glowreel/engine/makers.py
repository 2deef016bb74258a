"""What is made from a file: a row each, with what it is for, and the function that makes it where it is made on demand.

Some things are made of every file when it comes in; others when they are first wanted, in a limited process like those,
with progress. What was made is kept under the file's hash, the maker with its version, and the settings; where a
maker's version is raised, what it made before is collected.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import orjson

from glowreel.core.derived import Need
from glowreel.core.properties.rows.sound import VOICE_NAMES
from glowreel.engine.beats import find_beats
from glowreel.engine.between import make_between
from glowreel.engine.loudness import measure_loudness
from glowreel.engine.mattes import make_people
from glowreel.engine.roomtone import make_tone
from glowreel.engine.steady import make_steady
from glowreel.engine.things import make_things
from glowreel.engine.transcript import write_down
from glowreel.engine.voicing import make_voice, take_noise_out

Facts = dict[str, Any]
Share = Callable[[float], None]
Settings = Mapping[str, Any]


@dataclass(frozen=True)
class Material:
    """What a maker works on: the file as it came, its sound copy where it has one, and what was made before it."""

    original: Path
    samples: Path | None
    kind: str
    before: Path | None = None
    model: Path | None = None


Make = Callable[[Material, Settings, Path, Share], Facts]
"""Makes its files in a folder and answers with facts; tells how far it is."""


@dataclass(frozen=True)
class Maker:
    """What it makes, in one line, of which kinds of file, and how. Without `make`, it is made when a file comes in.

    `doing` says what is going on while it is made. `files` are the names of what it leaves in its folder; `settings`
    what can be chosen, with what is usual. `after` names a maker whose file it works on, where a setting of that name
    is set; it waits for that. With `model`, it needs one of `outside.models`: that one, or the one that its setting
    `model` names; it waits until that has been fetched.
    """

    meaning: str
    of: str
    make: Make | None = None
    version: int = 1
    files: tuple[str, ...] = ()
    settings: Mapping[str, Any] = field(default_factory=dict)
    doing: str = ""
    after: str = ""
    model: str = ""


def _sound(material: Material) -> Path:
    assert material.samples is not None
    return material.samples


def _loudness(material: Material, settings: Settings, folder: Path, tell: Share) -> Facts:
    return measure_loudness(_sound(material), tell)


def _transcript(material: Material, settings: Settings, folder: Path, tell: Share) -> Facts:
    assert material.model is not None
    return write_down(_sound(material), settings, material.model, tell)


MAKERS: dict[str, Maker] = {
    "proxy": Maker(
        "the stand-in that previews are drawn from: short side 540, key frames close together", "footage, photo"
    ),
    "samples": Maker("all of its sound, 16-bit stereo at 48 kHz", "footage with sound, sound"),
    "peaks": Maker("the loudest excursion in each hundredth of a second, one byte each", "footage with sound, sound"),
    "poster.jpg": Maker("a small picture of it", "footage, photo"),
    "strip.jpg": Maker("small pictures side by side, one every half second or more", "footage"),
    "picture": Maker("a drawing's pixels, drawn once", "photo that is a drawing"),
    "look": Maker("how its small picture looks, in numbers: once likeness is asked for", "footage, photo"),
    "people": Maker(
        "the people in it, cut out: a grey picture for each of its own", "footage, photo",
        lambda material, settings, folder, tell: make_people(
            material.original, material.kind, settings, folder / "matte", tell
        ),
        version=2, files=("matte",), doing="People are being cut out",
    ),
    "things": Maker(
        "the thing that a photo is of, cut out: a grey picture; with what was painted to stay or to go", "photo",
        lambda material, settings, folder, tell: make_things(material.original, settings, folder / "matte", tell),
        files=("matte",), settings={"cut_strokes": ()}, doing="It is being cut out",
    ),
    "steady": Maker(
        "how the camera moved, so that shaking is taken out", "footage",
        lambda material, settings, folder, tell: make_steady(material.original, folder / "path", tell),
        files=("path",), doing="How the camera moved is being found",
    ),
    "flow": Maker(
        "four times as many frames, for slow motion: those between were made by following what moves", "footage",
        lambda material, settings, folder, tell: make_between(material.original, folder / "between", tell),
        files=("between",), doing="Frames are being made",
    ),
    "loudness": Maker(
        "how loud it is: integrated loudness, range and true peak (ITU-R BS.1770)", "footage with sound, sound",
        _loudness, doing="How loud it is is being measured",
    ),
    "noise": Maker(
        "its sound without noise", "footage with sound, sound",
        lambda material, settings, folder, tell: take_noise_out(_sound(material), folder / "sound", tell),
        files=("sound",), doing="Noise is being taken out",
    ),
    "voice": Maker(
        "its sound with a voice made clearer, evened out, hushed between words, softened, its speakers alike",
        "footage with sound, sound",
        lambda material, settings, folder, tell: make_voice(
            _sound(material), material.before, settings, folder / "sound", tell
        ),
        files=("sound",), settings=dict.fromkeys(VOICE_NAMES, 0), doing="The voice is being made ready", after="noise",
    ),
    "tone": Maker(
        "the sound of the room, from its quietest stretch, as a loop", "footage with sound, sound",
        lambda material, settings, folder, tell: make_tone(_sound(material), folder / "sound", tell),
        files=("sound",), doing="The sound of the room is being looked for",
    ),
    "beats": Maker(
        "its beats and bars, its strongest moments, and which bars may follow one another", "footage with sound, sound",
        lambda material, settings, folder, tell: find_beats(_sound(material), tell),
        doing="Beats are being looked for",
    ),
    "transcript": Maker(
        "what is said in it, word by word, with when and how surely", "footage with sound, sound", _transcript,
        settings={"language": "", "model": "", "careful": False}, doing="What is said is being written down",
        model="speech-many",
    ),
}  # fmt: skip


def made_name(need: Need, name: str) -> str:
    """The name under which a file lies that a maker made of a source."""
    return f"{need.maker}-{settings_key(need.maker, dict(need.settings))}-{name}"


def settings_key(maker: str, settings: Settings) -> str:
    """Names the settings of something made: equal settings, equal key. Raises `KeyError` for unknown ones."""
    known = MAKERS[maker].settings
    strange = set(settings) - set(known)
    if strange:
        raise KeyError(sorted(strange)[0])
    whole = {**known, **settings}
    data = orjson.dumps([MAKERS[maker].version, whole], option=orjson.OPT_SORT_KEYS)
    return hashlib.blake2b(data, digest_size=8).hexdigest()
