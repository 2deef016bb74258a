"""A grid as a small drawing."""

from __future__ import annotations

from glowreel.core.collage.grids import Grid
from glowreel.core.collage.layout import arranged

LONG = 96.0
GAP = 3.0


def grid_svg(grid: Grid, wide: float, high: float) -> str:
    """The cells of a grid in a frame of a ratio, as an SVG drawing in the colour of text."""
    scale = LONG / max(wide, high)
    size = (wide * scale, high * scale)
    boxes = arranged(grid, size, GAP, GAP, {})
    cells = "".join(
        f'<rect x="{box.x:.1f}" y="{box.y:.1f}" width="{box.width:.1f}" height="{box.height:.1f}" rx="2" '
        f'fill="{"#8A7FB8" if n == 0 else "#B9B0CF"}"/>'
        for n, box in enumerate(boxes)
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {size[0]:.1f} {size[1]:.1f}" width="{size[0]:.0f}" '
        f'height="{size[1]:.0f}">{cells}</svg>'
    )
