"""Roles: what a colour, a font or a logo is for. Parts and designs name them; the promo's brand fills them."""

from __future__ import annotations

COLOUR_ROLES: dict[str, tuple[str, str]] = {
    "ground": ("what things stand on", "#2C2A4A"),
    "ink": ("words and lines on the ground", "#FFFCF6"),
    "accent": ("what should be seen first", "#F6B73C"),
    "second": ("a second accent beside the first", "#C8430B"),
    "paper": ("a light ground", "#F6F1E7"),
    "dark": ("words on a light ground", "#23201C"),
}
"""Each role with its meaning and the colour where the brand has none."""

FONT_ROLES: dict[str, tuple[str, str]] = {
    "heading": ("large words that are read first", "Bricolage Grotesque"),
    "body": ("all other words", "Instrument Sans"),
    "aside": ("a word that should stand out by its manner", "Caveat"),
}
"""Each role with its meaning and the family where the brand has none."""

ON = "on-"
"""Before a role of colour: the colour of the brand that reads best on it."""

LIGHT = "-on-light"
LOGO_ROLES: dict[str, str] = {
    "logo": "the whole logo",
    "logo-on-light": "the whole logo, for light grounds",
    "mark": "its sign alone",
    "mark-on-light": "its sign alone, for light grounds",
    "word": "its name in letters",
    "word-on-light": "its name in letters, for light grounds",
}
"""What logos are for. One for light grounds is used there; without it, the one beside it is used everywhere."""
