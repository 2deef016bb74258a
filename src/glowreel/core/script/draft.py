"""A script drafted from a brief, by phrase patterns that are data: a beginning to be rewritten, nothing more.

What a brief says goes into the places of a pattern; which pattern is taken follows from a seed, so that another press
gives another draft and the same one comes back.
"""

from __future__ import annotations

import json
import random
import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from glowreel.core.errors import Refusal
from glowreel.core.script.lines import ScriptLine, key_phrase

TONES: dict[str, str] = {"warm": "Warm", "brisk": "Brisk", "plain": "Plain", "playful": "Playful"}
MOST = 160
PLACE = re.compile(r"\{(\w+)\}")


@dataclass(frozen=True)
class Brief:
    """What it is, for whom, why (a reason in each line), what it costs, what to do."""

    what: str
    whom: str = ""
    points: tuple[str, ...] = ()
    offer: str = ""
    call: str = ""
    tone: str = "warm"


@cache
def patterns() -> dict[str, dict[str, list[str]]]:
    """Phrases by tone and by what a line is for."""
    return json.loads((Path(__file__).parent / "patterns.json").read_text("utf-8"))  # type: ignore[no-any-return]


def draft(brief: Brief, seed: int = 1) -> list[ScriptLine]:
    """A script of a brief. Raises `Refusal` where it does not say what it is about."""
    what = _clean(brief.what)
    if not what:
        raise Refusal("no-brief", "Say what it is about.", "A few words are enough: “dawn flights by balloon”.")
    if brief.tone not in TONES:
        raise Refusal("no-tone", "There is no such tone.", "Choose one of those in the list.")
    chance = random.Random(seed)
    phrases = patterns()[brief.tone]
    says = {"what": what, "whom": _clean(brief.whom) or "you", "for": "for"}
    lines = [("hook", _pick(chance, [one for one in phrases["hook"] if brief.whom or "hom}" not in one]))]
    texts = [(role, _filled(pattern, says)) for role, pattern in lines]
    for point in [one for one in map(_clean, brief.points) if one][:8]:
        texts.append(("point", _filled(_pick(chance, phrases["point"]), {**says, "point": point})))
    if len(texts) > 2:
        texts.append(("proof", _filled(_pick(chance, phrases["proof"]), says)))
    if _clean(brief.offer):
        texts.append(("offer", _filled(_pick(chance, phrases["offer"]), {**says, "offer": _clean(brief.offer)})))
    call = _clean(brief.call) or "Come and see for yourself"
    texts.append(("call", _filled(_pick(chance, phrases["call"]), {**says, "call": call})))
    return [ScriptLine(text, role, key_phrase(text, role)) for role, text in texts]


def _clean(text: str) -> str:
    return " ".join(text.split()).strip(" .")[:MOST]


def _pick(chance: random.Random, phrases: list[str]) -> str:
    return phrases[chance.randrange(len(phrases))]


def _filled(pattern: str, says: dict[str, str]) -> str:
    """A pattern with its places filled; a place that begins with a capital begins a sentence."""

    def said(found: re.Match[str]) -> str:
        name = found.group(1)
        text = says[name.lower()]
        return text[:1].upper() + text[1:] if name[:1].isupper() else text

    made = PLACE.sub(said, pattern)
    made = made[:1].upper() + made[1:]
    return made if made.endswith((".", "!", "?")) else f"{made}."
