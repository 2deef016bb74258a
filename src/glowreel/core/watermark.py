"""Where a brand's logo lands that is put on a promo."""

from __future__ import annotations

from typing import Any

from glowreel.core.brand import Watermark
from glowreel.core.media import Media

INSET = 0.06
"""How far from the frame's edges, in fractions of the short side."""


def placed(mark: Watermark, media: Media) -> dict[str, Any]:
    """The properties of a layer with the logo: in its corner, as high as the watermark is."""
    down, across = mark.corner.split("-")
    right, low = across == "right", down == "bottom"
    longer = max(media.width, media.height, 1)
    values: dict[str, Any] = {
        "pin": (float(right), float(low)),
        "place": (-INSET if right else INSET, -INSET if low else INSET),
        "size": round(mark.size * longer / max(1, media.height), 4),
    }
    return values if mark.opacity == 1 else {**values, "opacity": mark.opacity}
