"""Looking at what a promo shows: how well letters stand out, where faces are, what is calm, what flashes, which light
is even. What was seen is remembered under what was looked at."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager
from functools import lru_cache
from typing import Protocol

import diskcache
import numpy as np
import numpy.typing as npt

from glowreel.core.content.pictures import source_frame
from glowreel.core.document import Item, Part, Promo
from glowreel.core.formats import CANON, Format
from glowreel.core.layout import Box
from glowreel.core.naming import naming
from glowreel.core.recipe.model import DrawPicture, FrameRecipe, recipe_hash
from glowreel.core.recipe.picture import frame_recipe, part_box, resting_op
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import ByIdentity, timeline
from glowreel.engine.balance import balanced
from glowreel.engine.calm import calmest, costs
from glowreel.engine.contrast import contrast, letters_recipe
from glowreel.engine.draw import Canvas
from glowreel.engine.drawing import digest as drawing
from glowreel.engine.faces import faces_in
from glowreel.engine.flashes import SIZE, light_of
from glowreel.engine.typesetting import measure

SAMPLE, SAMPLES = (64, 36), 5
"""The size of the frames, and how many of a part, by which its colours are judged."""
LOOKED_AT = 240
"""The short side, in pixels, of frames that are looked at."""
FACES_AT = 360
"""The same where faces are looked for."""
MOMENTS = (0.2, 0.5, 0.8)
"""Where in the time of a layer one looks for what is calm behind it."""
FRAME_SECONDS = 5.0
"""How long a frame that is looked at may take."""
FACES, LIGHT = "1", "1"
"""Raised where faces are found, or light is measured, otherwise than before."""


class Painting(Protocol):
    """Who draws: canvases of a size."""

    def canvas(self, width: int, height: int) -> Canvas: ...


class Eyes:
    """Looks at frames, by whoever draws them."""

    def __init__(self, cache: diskcache.Cache, painter: Callable[[], AbstractContextManager[Painting]]) -> None:
        self._cache = cache
        self._painter = painter

    def contrast(self, promo: Promo, item: Item, format: Format, at: int) -> float | None:
        """How well the letters of a layer stand out where they do so least, at a time of the promo."""
        recipe = frame_recipe(promo, format, at, measure, (item.id,))
        span = timeline(promo).item_span(item)
        op = resting_op(promo, format, item, measure, item.into + at - span.start)
        alone = letters_recipe(recipe, (op,) if op is not None else ())
        key = f"contrast {recipe_hash(recipe, drawing())} {recipe_hash(alone)}"
        known = self._cache.get(key)
        if known is not None:
            return known or None
        with naming(promo), self._painter() as painter:
            canvas = painter.canvas(*format.size(LOOKED_AT))
            shown = canvas.draw(recipe, within=FRAME_SECONDS).copy()
            found = contrast(shown, canvas.draw(alone, within=FRAME_SECONDS))
        self._cache.set(key, found or 0.0)
        return found

    def faces(self, promo: Promo, item: Item, format: Format, at: int) -> tuple[Box, ...]:
        """The faces in a frame without words, as canonical boxes; looked for every half second."""
        step = promo.rate.frame_floor(TICKS_PER_SECOND // 2)
        at = promo.rate.frame_start(promo.rate.frame_floor(at) // step * step)
        recipe = frame_recipe(_wordless(ByIdentity(promo)), format, at, measure)
        key = f"faces {recipe_hash(recipe, drawing(), FACES)}"
        known = self._cache.get(key)
        if known is None:
            with naming(promo), self._painter() as painter:
                size = format.size(FACES_AT)
                found = faces_in(painter.canvas(*size).draw(recipe, within=FRAME_SECONDS))
            unit = CANON / min(size)
            known = [(box.x * unit, box.y * unit, box.width * unit, box.height * unit) for box in found]
            self._cache.set(key, known)
        return tuple(Box(*box) for box in known)

    def calm(self, promo: Promo, item: Item, format: Format) -> Box:
        """Where an item would lie over the calmest part of what is behind it, for all its time, in the safe area and
        beside other words; canonical."""
        index = timeline(promo)
        span, box = index.item_span(item), part_box(promo, format, item, measure)
        box = box or Box(0, 0, 0, 0)
        times = [promo.rate.frame_start(promo.rate.frame_floor(span.start + round(span.length * share)))
                 for share in MOMENTS]  # fmt: skip
        size = format.size(LOOKED_AT)
        scale = min(size) / CANON
        faces = [face for at in times for face in self.faces(promo, item, format, at)]
        layers = (other for track in promo.layers for other in track.items if other.id != item.id)
        meeting = [part_box(promo, format, one, measure) for one in layers if span.meets(index.item_span(one))]
        taken = [lies for lies in meeting if lies is not None and _beside(lies, format)]
        with naming(promo), self._painter() as painter:
            canvas = painter.canvas(*size)
            recipes = [frame_recipe(promo, format, at, measure, without=item.id) for at in times]
            frames = [canvas.draw(recipe, within=FRAME_SECONDS).copy() for recipe in recipes]
        left, top, right, low = format.safe
        wide, high = size
        room = Box(left * wide, top * high, (1 - left - right) * wide, (1 - top - low) * high)
        cost = costs(frames, [_scaled(face, scale) for face in faces], [_scaled(lies, scale) for lies in taken])
        mine = _scaled(box, scale)
        x, y = calmest(cost, (mine.width, mine.height), room, (mine.x, mine.y))
        return Box(x / scale, y / scale, box.width, box.height)

    def light(self, promo: Promo, format: Format, first: int, count: int) -> npt.NDArray[np.float32]:
        """The relative luminance of frames, in fields: shape (count, fields down, fields across)."""
        recipes = [frame_recipe(promo, format, promo.rate.frame_start(n), measure) for n in range(first, first + count)]
        names = "".join(recipe_hash(recipe) for recipe in recipes)
        key = f"light {recipe_hash(recipes[0], drawing(), LIGHT, names)}"
        known = self._cache.get(key)
        if known is None:
            with naming(promo), self._painter() as painter:
                canvas = painter.canvas(SIZE[0] * 4, SIZE[1] * 4)
                known = np.stack([light_of(canvas.draw(recipe, within=FRAME_SECONDS)) for recipe in recipes])
            self._cache.set(key, known)
        found: npt.NDArray[np.float32] = known
        return found

    def balance(self, promo: Promo, part: Part, like: Part | None) -> dict[str, float]:
        """The light and colour with which the picture of a part is even, or like that of another one."""
        with naming(promo), self._painter() as painter:
            canvas = painter.canvas(*SAMPLE)
            found = [self._sample(canvas, promo, one) for one in (part, like) if one is not None]
        return balanced(*found)

    @staticmethod
    def _sample(canvas: Canvas, promo: Promo, part: Part) -> npt.NDArray[np.float32]:
        """Pixels of a part's material as it came, from moments all over it."""
        assert part.source is not None
        media, (width, height) = promo.media[part.source.media], SAMPLE
        moments = (part.into + part.length * n // SAMPLES for n in range(1 if media.still else SAMPLES))
        ops = (
            DrawPicture(media.hash, media.still, source_frame(media, part.source, at), Box(0, 0, width, height))
            for at in moments
        )
        frames = [canvas.draw(FrameRecipe(width, height, (op,)))[:, :, :3].reshape(-1, 3) for op in ops]
        return np.concatenate([np.asarray(frame, np.float32) for frame in frames])


@lru_cache(maxsize=16)
def _wordless(held: ByIdentity) -> Promo:
    """A promo without its words and designs: what is behind all of them is then looked at once."""
    layers = tuple(
        track.changed(items=tuple(item for item in track.items if not item.content.traits & {"words", "design"}))
        for track in held.promo.layers
    )
    return held.promo.changed(layers=layers)


def _scaled(box: Box, scale: float) -> Box:
    return Box(box.x * scale, box.y * scale, box.width * scale, box.height * scale)


def _beside(box: Box, format: Format) -> bool:
    """Whether there is room beside something: what fills the frame is no obstacle."""
    wide, high = format.canon
    return box.width * box.height < 0.6 * wide * high
