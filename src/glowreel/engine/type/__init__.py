"""Setting words: faces, shaping, lines, and drawing them. Everything in canonical units (short side 1080)."""
