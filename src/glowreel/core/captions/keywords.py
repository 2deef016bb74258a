"""Which words of captions are set off by rule, and which have a picture after them: both as data."""

from __future__ import annotations

import re

from glowreel.core.speech.transcript import plain, word_set

TELLING = word_set(
    "free new now today only first last never always best save half win gift offer sale book order join "
    "start try discover tomorrow tonight weekend limited exclusive"
)
"""Words that promos are about."""
NUMBER = re.compile(r"\d|[€$£¥%]")
EMOJI: dict[str, str] = {
    "sunrise": "🌅", "dawn": "🌅", "morning": "🌅", "sun": "☀️", "sunday": "☀️", "rain": "🌧️",
    "snow": "❄️", "night": "🌙", "balloon": "🎈", "balloons": "🎈", "fly": "🎈", "flight": "🎈",
    "flights": "🎈", "mountain": "⛰️", "valley": "🏞️", "coffee": "☕", "tea": "🍵", "bread": "🍞",
    "cake": "🎂", "pizza": "🍕", "breakfast": "🥐", "wine": "🍷", "love": "❤️", "heart": "❤️",
    "happy": "😊", "laugh": "😄", "wow": "🤩", "thanks": "🙏", "welcome": "👋", "hello": "👋", "win": "🏆",
    "prize": "🏆", "gift": "🎁", "party": "🎉", "birthday": "🎂", "music": "🎵", "song": "🎵",
    "book": "📖", "time": "⏰", "today": "📅", "money": "💰", "price": "🏷️", "sale": "🏷️", "save": "💰",
    "fast": "⚡", "energy": "⚡", "idea": "💡", "secret": "🤫", "question": "❓", "phone": "📱",
    "mail": "✉️", "home": "🏠", "house": "🏠", "garden": "🌱", "dog": "🐶", "cat": "🐱", "fire": "🔥",
    "hot": "🔥", "cold": "🥶", "star": "⭐", "team": "🤝", "friend": "🤝", "friends": "🤝", "photo": "📷",
    "camera": "📷", "film": "🎬", "video": "🎬", "bike": "🚲", "car": "🚗", "travel": "✈️", "sea": "🌊",
    "beach": "🏖️", "tree": "🌳", "flower": "🌸", "check": "✅", "yes": "✅", "health": "💪",
    "strong": "💪",
}  # fmt: skip
"""A picture by word."""


def is_key(text: str, brand: str = "") -> bool:
    """Whether a word is set off by rule: a number or a price, capitals, a word of an offer, a word of the brand."""
    bare = plain(text)
    if NUMBER.search(text) or bare in TELLING:
        return True
    letters = [letter for letter in text if letter.isalpha()]
    if len(letters) >= 3 and all(letter.isupper() for letter in letters):
        return True
    return bool(bare) and len(bare) > 2 and bare in {plain(word) for word in brand.split()}


def emoji_after(text: str) -> str:
    """The picture that belongs to a word; empty for most."""
    return EMOJI.get(plain(text), "")
