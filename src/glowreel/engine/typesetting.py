"""Measuring and drawing words: what the rest of the engine knows of setting them. Canonical units."""

from __future__ import annotations

import functools
from typing import Any

from glowreel.core.recipe.model import DrawWords
from glowreel.core.words import Words
from glowreel.engine.drawing import part
from glowreel.engine.type.faces import FOLDER, find_own
from glowreel.engine.type.letters import colour, draw_behind, draw_letters
from glowreel.engine.type.setting import set_words

__all__ = ["FOLDER", "colour", "draw_words", "find_own", "measure"]


@functools.lru_cache(maxsize=16_384)
@part(2)
def measure(words: Words, size: float, wrap: float) -> tuple[float, float]:
    """Width and height that words take, with their box; canonical units. Implements the core's `Measure`."""
    setting = set_words(words, size, wrap)
    return setting.width, setting.height


@part(2)
def draw_words(canvas: Any, op: DrawWords) -> None:
    """Draws words with the canvas in canonical units: their box, their shadow, the letters."""
    box = op.box
    setting = set_words(op.words, op.size, op.wrap)
    canvas.save()
    if op.turn:
        canvas.rotate(op.turn, box.x + box.width / 2, box.y + box.height / 2)
    canvas.translate(box.x, box.y)
    if op.opacity < 1:
        canvas.saveLayerAlpha(None, round(op.opacity * 255))
    draw_behind(canvas, op.words, op.size, setting)
    draw_letters(canvas, op.words, op.size, setting, setting.letters)
    if op.opacity < 1:
        canvas.restore()
    canvas.restore()
