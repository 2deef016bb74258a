"""Documents of earlier versions as ones of this version.

Each step is a pure function from one version's plain data to the next one's, and they are chained. A golden file for
every version ever released lies beside the tests. A document of a newer program is refused in a sentence.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glowreel.core.brand import upgraded
from glowreel.core.document import VERSION
from glowreel.core.errors import Refusal

Data = dict[str, Any]


def _speeds_and_tracks(data: Data) -> Data:
    """1 to 2: fields and kinds were added; an older document is one that does not use them."""
    return data


def _rate_of_first_footage(data: Data) -> Data:
    """2 to 3: the rate follows the first footage. What was made before keeps the rate it was cut at."""
    return {**data, "rate_chosen": True}


def _same_parts(data: Data) -> Data:
    """3 to 4: clips, layers and sounds are parts of one shape; what can be set of them is in their values."""
    scenes = [{**scene, "clips": [_clip(clip) for clip in scene["clips"]]} for scene in data.get("scenes", ())]
    made = {**data, "scenes": scenes}
    for side in ("layers", "sounds"):
        made[side] = [{**t, "items": [_item(item) for item in t.get("items", ())]} for t in data.get(side, ())]
    return made


def _source(old: Data) -> tuple[Data | None, int]:
    """The material of an old clip or content, and how far into its own time it begins."""
    if old.get("media") is None:
        return None, 0
    speed = dict(old["speed"]) if old.get("speed") else None
    into = speed.pop("into", 0) if speed is not None else 0
    return {"media": old["media"], "at": old.get("source_in", 0), "speed": speed}, into


def _framing(old: Data) -> Data:
    return {name: old[name] for name in ("fit", "focus", "zoom") if name in old}


def _differences(ways: Data, usual: Data) -> Data:
    """What is different in a format from what is usual."""
    own = {key: {name: v for name, v in way.items() if usual.get(name, v) != v} for key, way in ways.items()}
    return {key: values for key, values in own.items() if values}


CLIP_FIELDS = {
    "kind", "media", "source_in", "speed", "framing", "framing_in", "colour", "gain", "muted",
}  # fmt: skip


def _clip(old: Data) -> Data:
    source, into = _source(old)
    framing = {"fit": "fill", "focus": [0.5, 0.5], "zoom": 1.0, **_framing(old.get("framing", {}))}
    ways = {key: _framing(way) for key, way in old.get("framing_in", {}).items()}
    values: Data = {}
    values_in: Data = {}
    if source is None:
        values = {"fill": old.get("colour", "#D9CFC0")}
    else:
        values, values_in = framing, _differences(ways, framing)
    if old["kind"] == "footage":
        values |= {"gain": old.get("gain", 0.0), "muted": old.get("muted", False)}
    rest = {name: value for name, value in old.items() if name not in CLIP_FIELDS}
    return {**rest, "kind": old["kind"], "source": source, "into": into, "values": values, "values_in": values_in}


def _place(old: Data, *, words: bool) -> Data:
    known = {"frame": [0.5, 0.5], "dx": 0.0, "dy": 0.0, "size": 0.1, "wrap": 1.2, "turn": 0.0, **old}
    values = {"pin": known["frame"], "place": [known["dx"], known["dy"]], "size": known["size"], "turn": known["turn"]}
    return {**values, "wrap": known["wrap"]} if words else values


ITEM_FIELDS = {
    "content", "place", "place_in", "opacity", "arrives", "arrive_length", "leaves", "leave_length", "muted",
}  # fmt: skip


def _item(old: Data) -> Data:
    content = old["content"]
    kind = content["kind"]
    source, into = (None, 0) if kind == "words" else _source(content)
    values: Data = {}
    values_in: Data = {}
    if kind == "sound":
        values = {name: content[name] for name in ("gain", "fade_in", "fade_out") if name in content}
        values["muted"] = old.get("muted", False)
    else:
        values = _place(old.get("place", {}), words=kind == "words")
        ways = {key: _place(way, words=kind == "words") for key, way in old.get("place_in", {}).items()}
        values_in = _differences(ways, values)
        values |= {"opacity": old.get("opacity", 1.0)}
        for motion, length in (("arrives", "arrive_length"), ("leaves", "leave_length")):
            if old.get(motion, "none") != "none":
                values |= {motion: old[motion], length: old.get(length, 0)}
    if kind == "words":
        names = ("text", "font", "weight", "colour", "align", "line", "box_opacity", "shadow")
        values |= {name: content[name] for name in names if name in content} | {"box": content.get("box") or ""}
    rest = {name: value for name, value in old.items() if name not in ITEM_FIELDS}
    made = {**rest, "kind": kind, "source": source, "into": into, "values": values, "values_in": values_in}
    return made | ({"of": content["of"]} if content.get("of") else {})


def _grounds(data: Data) -> Data:
    """4 to 5: scenes and promos say what lies behind pictures; an older document says nothing of it."""
    return data


def _facts(data: Data) -> Data:
    """5 to 6: promos say what template they are, or come from; an older document is neither."""
    return data


def _palettes(data: Data) -> Data:
    """6 to 7: a brand has palettes with names."""
    return {**data, "brand": upgraded(data["brand"])} if isinstance(data.get("brand"), dict) else data


def _transcripts(data: Data) -> Data:
    """7 to 8: promos hold what is said and shown of it; an older document holds neither."""
    return data


STEPS: dict[int, Callable[[Data], Data]] = {
    1: _speeds_and_tracks, 2: _rate_of_first_footage, 3: _same_parts, 4: _grounds, 5: _facts, 6: _palettes,
    7: _transcripts,
}  # fmt: skip
"""The step that leads on from each version."""


def upgrade(data: object) -> Data:
    """A document of any version there was as one of this version; the input is untouched.

    Raises `Refusal` for what is no document, and for one of a newer program.
    """
    if not isinstance(data, dict):
        raise Refusal("no-document", "This is not a promo document.")
    version = data.get("version")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise Refusal("no-version", "This is not a promo document: it does not say its version.")
    if version > VERSION:
        raise Refusal("newer", "This promo was made with a newer Glow Reel.", "Update this one to open it.")
    for step in range(version, VERSION):
        data = STEPS[step](data)
    return {**data, "version": VERSION}
