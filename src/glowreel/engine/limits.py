"""What is accepted, in one place. Every limit has a sentence that names it."""

from __future__ import annotations

MAX_BYTES = 2 * 1024**3
MAX_SVG_BYTES = 2 * 1024**2
MAX_PIXELS = 120_000_000
MAX_SIDE = 16_384
MAX_VIDEO_SIDE = 8192
MAX_SECONDS = 2 * 3600
MAX_STREAMS = 16
MAX_ANIMATION_FRAMES = 1200
WORK_SIDE = 4096
"""Photos are kept at most this large on their longer side while they are drawn."""
PROXY_SIDE = 540
"""Short side of the stand-in that previews are drawn from."""
