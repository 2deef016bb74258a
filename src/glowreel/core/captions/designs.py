"""Caption designs: a row each. How words look is said in the properties of words; what happens at the word that is
being said, beside it.

```
cue    all words of a cue, from its start to its end
word   only the word that is being said
grows  the words that have been said by now
```
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

Shows = Literal["cue", "word", "grows"]


@dataclass(frozen=True)
class CaptionDesign:
    """`values` are properties of words; `now` is how the word that is being said differs, `key` a key word; `way` is a
    way of letters in which every word comes when it is said, in a second `colour` where that needs one."""

    label: str
    meaning: str
    values: Mapping[str, Any] = field(default_factory=dict)
    shows: Shows = "cue"
    now: Mapping[str, Any] = field(default_factory=dict)
    key: Mapping[str, Any] = field(default_factory=lambda: {"colour": "accent"})
    way: str = ""
    colour: str = "accent"

    @property
    def by_word(self) -> bool:
        """Whether it shows which word is being said."""
        return bool(self.shows != "cue" or self.now or self.way)


_INK = {"colour": "ink", "font": "body", "weight": 600}
_LOUD = {"colour": "ink", "font": "heading", "weight": 800}
_ROOM = (0.3, 0.14)
_BOX = {"box": "ground", "box_of": "line", "box_pad": _ROOM, "box_round": 0.12}

CAPTION_DESIGNS: dict[str, CaptionDesign] = {
    "plain-box": CaptionDesign("Plain", "a quiet box behind each line", {**_INK, **_BOX, "box_opacity": 0.78}),
    "outlined": CaptionDesign(
        "Edged", "letters with a line around them, without a box",
        {**_INK, "weight": 700, "outline": 0.07, "outline_colour": "dark"},
    ),
    "soft": CaptionDesign("Soft", "letters with a soft shadow", {**_INK, "shadow": 0.75}),
    "block": CaptionDesign(
        "Block", "one box around all lines", {**_INK, "box": "ground", "box_pad": (0.55, 0.35), "box_round": 0.3}
    ),
    "paper": CaptionDesign(
        "Paper", "dark letters on strips of paper",
        {"colour": "dark", "font": "body", "weight": 600, "box": "paper", "box_of": "line", "box_pad": _ROOM,
         "box_round": 0.04}, key={"colour": "second"},
    ),
    "label": CaptionDesign(
        "Label", "capitals on the accent of the brand",
        {"colour": "on-accent", "font": "body", "weight": 700, "case": "upper", "spacing": 0.04, "box": "accent",
         "box_of": "line", "box_pad": _ROOM, "box_round": 0.0}, key={"weight": 700},
    ),
    "headline": CaptionDesign(
        "Headline", "large letters with a hard shadow",
        {**_LOUD, "cast": 0.07, "cast_colour": "dark", "line": 1.02},
    ),
    "by-hand": CaptionDesign(
        "By hand", "as if somebody had written it",
        {"colour": "ink", "font": "aside", "weight": 700, "shadow": 0.6, "line": 1.0}, key={"colour": "accent"},
    ),
    "ruled": CaptionDesign(
        "Ruled", "with a line drawn under it",
        {**_INK, "weight": 700, "shadow": 0.55, "under": "hand", "under_colour": "accent"},
    ),
    "fill": CaptionDesign(
        "Filled in", "words are filled with colour while they are said",
        {**_LOUD, "weight": 700, "shadow": 0.7}, way="sing",
    ),
    "fill-box": CaptionDesign(
        "Filled in, boxed", "the same on a quiet box", {**_INK, "weight": 700, **_BOX, "box_opacity": 0.85}, way="sing",
    ),
    "follow": CaptionDesign(
        "Box that follows", "a box goes from word to word",
        {**_LOUD, "weight": 700, "shadow": 0.6}, now={"mark": "accent", "colour": "on-accent"},
    ),
    "follow-second": CaptionDesign(
        "Box that follows, second", "the same in the second accent, on dark lines",
        {**_INK, "weight": 700, **_BOX, "box_opacity": 0.8}, now={"mark": "second", "colour": "on-second"},
    ),
    "lit": CaptionDesign(
        "Lit", "the word that is said has the accent of the brand",
        {**_LOUD, "weight": 700, "outline": 0.06, "outline_colour": "dark"}, now={"colour": "accent"},
    ),
    "louder": CaptionDesign(
        "Louder", "the word that is said is larger",
        {**_LOUD, "shadow": 0.7}, now={"size": 1.18, "colour": "accent"}, key={"colour": "second"},
    ),
    "pop": CaptionDesign(
        "Pop", "every word pops up when it is said", {**_LOUD, "outline": 0.06, "outline_colour": "dark"}, way="pop",
    ),
    "rise": CaptionDesign(
        "Rise", "every word comes up when it is said", {**_INK, "weight": 700, "shadow": 0.7}, way="rise",
    ),
    "drop": CaptionDesign("Fall", "every word falls into its place", {**_LOUD, "shadow": 0.7}, way="drop"),
    "typed": CaptionDesign(
        "Typed", "every word is there when it is said", {**_INK, **_BOX, "box_of": "word", "box_opacity": 0.85},
        way="type",
    ),
    "swept": CaptionDesign(
        "Highlighter", "a highlighter runs along behind the words",
        {**_LOUD, "weight": 700, "shadow": 0.35}, way="mark", colour="second",
    ),
    "one-word": CaptionDesign(
        "Word by word", "one large word at a time",
        {**_LOUD, "outline": 0.05, "outline_colour": "dark", "size_by": 1.9}, shows="word",
    ),
    "one-word-box": CaptionDesign(
        "Word by word, boxed", "one word at a time on the accent of the brand",
        {"colour": "on-accent", "font": "heading", "weight": 800, "case": "upper", "box": "accent",
         "box_pad": (0.4, 0.2), "size_by": 1.7}, shows="word", key={"mark": "second", "colour": "on-second"},
    ),
    "grows": CaptionDesign(
        "Grows", "words stand when they have been said, the newest in colour",
        {**_INK, "weight": 700, "shadow": 0.7}, shows="grows", now={"colour": "accent"},
    ),
}  # fmt: skip
"""By their names. `size_by` is a factor on the usual size of captions."""
