"""Rows of how a part is heard, and the buses that mix what is alike."""

from __future__ import annotations

from glowreel.core.properties.row import Property
from glowreel.core.properties.rows.shared import HEARD, SOUND

BUSES: dict[str, str] = {
    "voice": "somebody speaking, and the sound of footage",
    "music": "songs, and whatever lies under the rest",
    "effects": "sounds that something makes",
}
"""What is mixed together before it becomes a whole, and what each is for."""

ROWS = (
    Property("gain", "Gain", "how loud it is; −60 dB is silence", "number", 0.0, HEARD, "sound", unit="dB", low=-60,
             high=12, step=0.5, digits=1, slider="straight", over_time=True, find="volume loud quiet"),
    Property("bus", "Heard as", "with which other sounds it is mixed", "choice", "music", HEARD,
             choices=tuple((name, name.capitalize()) for name in BUSES), defaults={"footage": "voice"}),
    Property("muted", "Muted", "whether it is silent, without forgetting how loud it was", "flag", False, HEARD,
             "sound", switched=("silent", "heard"), verbs=("Muted", "Unmuted"), find="silent"),
    Property("levelled", "Level it", "brings what it is made of to −18 LUFS, without peaks above −1 dBTP", "flag",
             False, HEARD, "sound", switched=("levelled", "as it came"), verbs=("Levelled", "Left as it came"),
             needs="loudness", hint="Brings quiet and loud files to the same loudness (−18 LUFS); Gain is on top of it",
             find="normalise loudness even"),
    Property("fade_in", "Fade in", "over how long it comes in", "length", 0, SOUND, "sound", unit="s", high=120,
             step=0.1, digits=2, end="start"),
    Property("fade_out", "Fade out", "over how long it goes out", "length", 0, SOUND, "sound", unit="s", high=120,
             step=0.1, digits=2, end="end"),
)  # fmt: skip
