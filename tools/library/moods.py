"""Twelve moods: scale, chords, who plays, how dense. Three songs of each, at three tempos, with a loop and a sting."""

from __future__ import annotations

from dataclasses import dataclass

MAJOR, MINOR, DORIAN, MIXED = (0, 2, 4, 5, 7, 9, 11), (0, 2, 3, 5, 7, 8, 10), (0, 2, 3, 5, 7, 9, 10), (
    0, 2, 4, 5, 7, 9, 10)  # fmt: skip
KEYS = ("C", "C sharp", "D", "E flat", "E", "F", "F sharp", "G", "A flat", "A", "B flat", "B")


@dataclass(frozen=True)
class Mood:
    """`chords` are degrees of the scale, one a bar, for verse and for lift. `harmony`, `figure`, `voice` and `low` are
    instruments: of chords, of the figure over them, of the melody, of the bass. `kit` maps drums to the sixteenths of a
    bar in which they are struck, lightest first; `swing` is how late the second sixteenth comes; `echo` seconds of the
    room and how much of it. `tempos` are beats a minute; `names` what the three songs are called."""

    name: str
    words: str
    scale: tuple[int, ...]
    verse: tuple[int, ...]
    lift: tuple[int, ...]
    harmony: str
    figure: str
    voice: str
    low: str
    kit: tuple[tuple[str, str], ...]
    tempos: tuple[int, int, int]
    names: tuple[str, str, str]
    swing: float = 0.0
    echo: tuple[float, float] = (1.6, 0.25)

    @property
    def bright(self) -> bool:
        return self.scale[2] == 4


_FOUR = (("soft-kick", "x...x...x...x..."), ("hat", "..x...x...x...x."), ("clap", "....x.......x..."))
_HALF = (("kick", "x.....x...x....."), ("snare", "........x......."), ("hat", "x.x.x.x.x.x.x.x."))
_ROCK = (("kick", "x.....x.x.x....."), ("hat", "x.x.x.x.x.x.x.xx"), ("snare", "....x.......x..."))
_LIGHT = (("shaker", "x.x.x.x.x.x.x.x."), ("rim", "....x.......x..."), ("soft-kick", "x.......x......."))
_BIG = (("big-kick", "x.......x......."), ("tom", "......x.......x."), ("high-tom", ".......x.......x"))
_JAZZ = (("brush", "....x..x....x..x"), ("hat", "....x.......x..."), ("soft-kick", "x.....x...x....."))

MOODS: tuple[Mood, ...] = (
    Mood("cheerful", "happy friendly sunny light family", MAJOR, (0, 4, 5, 3), (3, 4, 0, 5), "pluck", "pluck", "bell",
         "bass", _FOUR, (84, 108, 126), ("Picnic Blanket", "Two Bicycles", "Open Windows")),
    Mood("uplifting", "hope inspiring bright corporate launch", MAJOR, (5, 3, 0, 4), (3, 0, 4, 5), "pad", "piano",
         "lead", "bass", _FOUR, (80, 104, 124), ("First Light", "Up the Stairs", "Long Horizon"), echo=(2.4, 0.32)),
    Mood("calm", "quiet gentle soft meditation nature", MAJOR, (0, 3, 0, 4), (5, 3, 0, 4), "pad", "keys", "flute",
         "bass", _LIGHT, (66, 92, 118), ("Still Water", "Slow Garden", "Morning Post"), echo=(3.0, 0.4)),
    Mood("dreamy", "floating night stars soft wonder", MIXED, (0, 6, 3, 0), (3, 6, 0, 4), "pad", "bell", "flute",
         "deep", _LIGHT, (70, 94, 120), ("Paper Moon", "Between Floors", "Blue Hour"), echo=(3.4, 0.5)),
    Mood("energetic", "sport power fast drive young", MINOR, (0, 5, 2, 6), (5, 6, 0, 0), "organ", "lead", "lead",
         "deep", _ROCK, (88, 116, 140), ("Second Wind", "Sprint Finish", "Red Shoes"), echo=(0.9, 0.14)),
    Mood("bold", "strong proud heavy advert statement", DORIAN, (0, 0, 3, 4), (5, 3, 4, 4), "organ", "deep", "lead",
         "deep", _ROCK, (82, 100, 122), ("Iron Gate", "Plain Speaking", "Front Row"), echo=(0.8, 0.12)),
    Mood("epic", "grand cinema heroic trailer vast", MINOR, (0, 5, 2, 6), (5, 2, 6, 0), "pad", "piano", "lead",
         "deep", _BIG, (72, 96, 128), ("The Wide Valley", "Over the Ridge", "Summit Day"), echo=(3.6, 0.42)),
    Mood("tense", "suspense dark waiting thriller serious", MINOR, (0, 0, 5, 4), (3, 0, 5, 4), "pad", "pluck", "bell",
         "deep", _HALF, (76, 98, 124), ("Closed Door", "The Last Train", "Count of Nine"), echo=(2.2, 0.3)),
    Mood("thoughtful", "documentary story piano memory sincere", MINOR, (0, 5, 3, 4), (2, 6, 5, 4), "pad", "piano",
         "piano", "bass", _LIGHT, (68, 90, 118), ("Old Letters", "What She Said", "Side Streets"), echo=(2.6, 0.35)),
    Mood("playful", "funny quirky children curious light", MIXED, (0, 3, 0, 4), (5, 1, 4, 0), "pluck", "keys", "flute",
         "bass", _LIGHT, (86, 112, 132), ("Left Sock", "Button Box", "Hopscotch"), swing=0.18, echo=(0.9, 0.16)),
    Mood("smooth", "lounge jazz evening elegant fashion", DORIAN, (0, 3, 6, 2), (5, 1, 4, 0), "keys", "keys", "flute",
         "bass", _JAZZ, (78, 98, 120), ("Late Table", "Velvet Rope", "City Lights Below"), swing=0.3, echo=(1.4, 0.22)),
    Mood("modern", "technology electronic clean product science", DORIAN, (0, 2, 5, 3), (5, 3, 0, 6), "pad", "pluck",
         "bell", "deep", _HALF, (85, 110, 128), ("Glass Lift", "Clear Signal", "Version Nine"), echo=(1.2, 0.2)),
)  # fmt: skip
