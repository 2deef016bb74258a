"""Voices with which a text is spoken: a row each. What they say is marked as made by a machine."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Voice:
    """What a voice is called and sounds like, in which language it speaks, which file says how it sounds, and which
    model it needs beyond what comes with the program."""

    label: str
    meaning: str
    language: str = "en"
    style: str = ""
    model: str = ""


VOICES: dict[str, Voice] = {
    "bright": Voice("Bright", "a woman, clear and quick; spoken at once"),
    "calm": Voice("Calm", "a man, calm and warm; takes about as long as it lasts", style="calm", model="voices"),
    "crisp": Voice("Crisp", "a woman, British; takes about as long as it lasts", style="crisp", model="voices"),
}
"""By their names."""
SPEEDS = (0.7, 1.4)
MOST_LETTERS = 600
"""Of one line that is spoken."""
MOST_LINES = 60


def spoken_seconds(text: str, speed: float = 1.0) -> float:
    """How long a text takes to be said, roughly: by its syllables, told from its vowels, and its punctuation."""
    letters, syllables, before = text.casefold(), 0, False
    for letter in letters:
        vowel = letter in "aeiouyäöüéèàáíóú"
        syllables += vowel and not before
        before = vowel
    digits = sum(letter.isdigit() for letter in text)
    halts = sum(text.count(mark) for mark in ",;:–—")
    ends = sum(text.count(mark) for mark in ".!?…")
    return round((syllables * 0.19 + digits * 0.36 + halts * 0.16 + max(0, ends - 1) * 0.34 + 0.65) / speed, 2)
