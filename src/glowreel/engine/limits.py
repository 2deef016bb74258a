"""What is accepted, in one place. Every limit has a sentence that names it."""

from __future__ import annotations

MAX_BYTES = 2 * 1024**3
MAX_SVG_BYTES = 2 * 1024**2
MAX_SVG_ELEMENTS = 20_000
MAX_SVG_DEPTH = 100
MAX_PIXELS = 120_000_000
MAX_SIDE = 16_384
MAX_VIDEO_SIDE = 8192
MAX_SECONDS = 2 * 3600
MAX_STREAMS = 16
MAX_SAMPLE_RATE = 768_000
MAX_ANIMATION_FRAMES = 1200
MAX_ANIMATION_PIXELS = 2_000_000_000
"""Of all frames together: each is decoded whole."""
SVG_SIDE = 2048
"""Drawings are drawn to pixels at this size on their longer side, once."""
WORK_SIDE = 4096
"""Photos are kept at most this large on their longer side while they are drawn."""
PROXY_SIDE = 540
"""Short side of the stand-in that previews are drawn from."""
