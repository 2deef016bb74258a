"""Rows of how a part is heard, and the buses that mix what is alike."""

from __future__ import annotations

from glowreel.core.properties.row import Property
from glowreel.core.properties.rows.shared import HEARD, SOUND, share
from glowreel.core.time import ticks

BUSES: dict[str, str] = {
    "voice": "somebody speaking, and the sound of footage",
    "music": "songs, and whatever lies under the rest",
    "effects": "sounds that something makes",
    "ambience": "the sound of a place: wind, a room, a street",
}
"""What is mixed together before it becomes a whole, and what each is for."""

CHANNELS: dict[str, str] = {
    "both": "left and right as they came",
    "swapped": "left and right change places",
    "mixed": "both are heard on both sides",
    "left": "only the left one, on both sides",
    "right": "only the right one, on both sides",
}
"""Which sides of a recording are heard, and where."""
FADE_CURVES: dict[str, str] = {
    "straight": "evenly",
    "even": "as loud all along when two cross",
    "late": "slowly at the quiet end",
    "soft": "slowly at both ends",
}
"""The ways in which a fade rises. Of a share x of its length: x, sin(x·π/2), x², (1 − cos(x·π)) / 2."""
_CHANNELS = (
    ("both", "Left and right"), ("swapped", "Changed over"), ("mixed", "Mixed"), ("left", "Left only"),
    ("right", "Right only"),
)  # fmt: skip
_CURVES = (("straight", "evenly"), ("even", "evenly loud"), ("late", "late"), ("soft", "softly"))

ROWS = (
    Property("gain", "Gain", "how loud it is; −60 dB is silence", "number", 0.0, HEARD, "sound", unit="dB", low=-60,
             high=12, step=0.5, digits=1, slider="straight", over_time=True, find="volume loud quiet"),
    Property("pan", "Side", "how far to the left (−100) or the right (100) it is heard", "number", 0.0, HEARD, "sound",
             unit="%", low=-1, high=1, scale=0.01, step=5, slider="straight", find="pan balance left right stereo"),
    Property("channels", "Channels", "which sides of the recording are heard, and where", "choice", "both", HEARD,
             "sound", choices=_CHANNELS, control="choice", find="mono stereo swap left right"),
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
    Property("fade_in_curve", "rises", "how evenly it comes in", "choice", "straight", SOUND, "sound", choices=_CURVES,
             control="choice", end="start", beside="fade_in", find="curve fade"),
    Property("fade_out", "Fade out", "over how long it goes out", "length", 0, SOUND, "sound", unit="s", high=120,
             step=0.1, digits=2, end="end"),
    Property("crosses", "Passes over", "over how long it passes into the sound that it meets at its end, on its track",
             "length", 0, SOUND, "sound", unit="s", high=30, step=0.1, digits=2, end="end", find="crossfade"),
    Property("fade_out_curve", "falls", "how evenly it goes out", "choice", "straight", SOUND, "sound",
             choices=_CURVES, control="choice", end="end", beside="fade_out", find="curve fade"),
    # ---- a voice ----
    share("clear", "Clear voice", "how much a voice is made clearer: rumble taken out, words brought forward, hissing "
          "softened, loud and quiet brought nearer together", 0.0, HEARD, group="voice", per_format=False,
          find="speech enhance presence"),
    share("noise", "Noise out", "how much of what is not a voice is taken out", 0.0, HEARD, group="voice",
          per_format=False, find="denoise hiss hum background"),
    share("evened", "Evened out", "how near loud and quiet are brought to one another", 0.0, HEARD,
          group="voice", per_format=False, find="compressor compress dynamics"),
    share("hushed", "Hush pauses", "how much more quiet it is while nobody speaks", 0.0, HEARD, group="voice",
          per_format=False, find="gate silence"),
    share("softened", "Soft breaths", "how much breaths and clicks are softened", 0.0, HEARD,
          group="voice", per_format=False, find="breath mouth click pop"),
    Property("alike", "All alike", "whether everybody who speaks is brought to the same loudness", "flag", False,
             HEARD, "voice", switched=("alike", "as they came"), verbs=("Brought speakers alike", "Left speakers as "
             "they came"), find="several speakers level"),
    # ---- equaliser ----
    Property("bands", "Bands", "by how much each range of tones is louder or quieter", "bands", (), HEARD, "equaliser",
             control="bands", find="equaliser eq tone bass treble"),
    Property("low_cut", "Cut below", "below which tone everything is taken away; 0 takes nothing", "number", 0.0, HEARD,
             "equaliser", unit="Hz", high=1000, step=10, slider="straight", find="high pass rumble"),
    Property("high_cut", "Cut above", "above which tone everything is taken away; 0 takes nothing", "number", 0.0,
             HEARD, "equaliser", unit="Hz", high=20_000, step=100, slider="straight", find="low pass hiss"),
    # ---- under a voice ----
    Property("dip", "Gives way by", "by how much it is quieter while somebody speaks", "number", 0.0, SOUND, "dips",
             unit="dB", high=40, step=1, slider="straight", most=24, find="duck dip music under voice"),
    Property("dip_band", "Gives way", "what of it gives way: all, or only the range of speech, so that it keeps its "
             "life", "choice", "all", SOUND, "dips", choices=(("all", "All of it"), ("speech", "Only where words lie")),
             control="choice", beside="dip"),
    Property("dip_early", "Falls over", "how long before a voice it begins to give way", "length", ticks(0.3),
             SOUND, "dips", unit="s", high=5, step=0.05, digits=2, beside="dip"),
    Property("dip_slow", "Rises over", "how long it takes to come back after a voice", "length", ticks(0.8), SOUND,
             "dips", unit="s", high=10, step=0.1, digits=2, beside="dip"),
    Property("dip_hold", "Holds over", "pauses as short as this bring it not back", "length", ticks(1.0), SOUND,
             "dips", unit="s", high=10, step=0.1, digits=2, beside="dip"),
    Property("room_tone", "Room tone", "whether only the quiet of the room is heard, round and round", "flag", False,
             SOUND, "sound", switched=("room tone", "as it came"), verbs=("Made room tone", "As it came")),
)  # fmt: skip
VOICE_NAMES: tuple[str, ...] = tuple(row.name for row in ROWS if row.group == "voice")
"""What is done to a voice beforehand, in a copy of its own."""
EQUALISER_NAMES: tuple[str, ...] = tuple(row.name for row in ROWS if row.group == "equaliser")
HEARD_NAMES: tuple[str, ...] = tuple(row.name for row in ROWS if row.of == HEARD)
"""Everything that is said of how a part is heard, whatever it is: what parts that take one another's place hand on."""
