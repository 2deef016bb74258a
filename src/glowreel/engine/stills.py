"""What does not change from frame to frame is made once: the pixels of groups without footage in them."""

from __future__ import annotations

from typing import Any

from glowreel.core.recipe.model import Composite, DrawPicture, Op
from glowreel.engine.footage import Pixels
from glowreel.engine.memory import Cache, process

MAX_MET = 400


def runs(op: Op | None) -> bool:
    """Whether an operation shows footage, which changes with every frame."""
    if isinstance(op, DrawPicture):
        return not op.still
    if isinstance(op, Composite):
        return any(runs(inner) for inner in op.ops) or any(runs(mask.picture) for mask in op.masks)
    return False


class Stills:
    """Keeps the pixels of what is met twice; what changes all the time is not worth the room."""

    def __init__(self) -> None:
        self._kept: Cache[Pixels] = Cache(process)
        self._met: dict[Any, None] = {}

    def get(self, key: Any) -> Pixels | None:
        return self._kept.get(key)

    def put(self, key: Any, pixels: Pixels) -> None:
        """Takes a copy where it was met before."""
        if key in self._met:
            del self._met[key]
            self._kept.put(key, pixels.copy(), pixels.nbytes)
            return
        self._met[key] = None
        if len(self._met) > MAX_MET:
            del self._met[next(iter(self._met))]
