"""Details of sound that are no properties: how it runs on, cutting to its beat, the tone of its room."""

from __future__ import annotations

from collections.abc import Iterable

from glowreel.core.commands.hearing import holes_of
from glowreel.core.document import Item, Part, Promo
from glowreel.web.editor.details.control import Control

RUNS = (("once", "Once"), ("round", "Round and round"), ("fitted", "Made to fit"))
EVERY = (("beat", "every beat"), ("bar", "every bar"), ("two-bars", "every second bar"))


def running_on(promo: Promo, part: Part) -> Iterable[Control]:
    """How a sound goes on where its file ends, and room tone for a voice that was cut."""
    if not isinstance(part, Item) or part.content.lane != "sound" or part.source is None:
        return
    if part.source.speed is None:
        hint = "Made to fit: it lasts as long as you make it, by whole bars that are left out or heard again."
        yield Control("a-runs", "Runs", "switches", part.source.runs, {"do": "run-sound", "item": part.id}, "runs",
                      choices=RUNS, hint=hint, find="loop repeat fit length music")  # fmt: skip
    holes = holes_of(promo, part)
    if holes:
        words = f"Lay room tone into {len(holes)} hole{'s' * (len(holes) != 1)}"
        yield Control("a-tone", "", "press", words, {"do": "lay-room-tone", "item": part.id},
                      find="silence gaps atmosphere")  # fmt: skip


def beats(promo: Promo, part: Part) -> Iterable[Control]:
    """What is done with the beats of a piece of music."""
    if not isinstance(part, Item) or part.content.lane != "sound" or part.read("bus") != "music":
        return
    if promo.clips:
        command = {"do": "cut-to-beat", "music": part.id, "every": ""}
        yield Control("a-cut", "Cut clips", "choice", "", command, "every", choices=EVERY,
                      placeholder="at …", find="beat rhythm montage")  # fmt: skip
    yield Control("a-mark", "", "press", "Mark strong moments", {"do": "mark-moments", "music": part.id},
                  find="beat drop accent notes")  # fmt: skip


CLEARER = {"clear": 0.6, "noise": 0.5}
"""What one press makes of a voice."""


def clearer(part: Part) -> Iterable[Control]:
    """A clear voice in one press; the amounts stand below it."""
    if "heard" in part.content.traits and any(part.read(name) != share for name, share in CLEARER.items()):
        yield Control("a-clear", "In one press", "press", "Make the voice clear",
                      {"do": "set", "items": [part.id], "values": CLEARER}, find="speech enhance noise")  # fmt: skip
