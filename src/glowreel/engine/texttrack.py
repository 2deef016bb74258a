"""Captions as text inside an MP4 file: a track of 3GPP timed text (`mov_text`), which players show when asked to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

import av

MILLISECONDS = Fraction(1, 1000)
HEADER = (
    b"[Script Info]\nScriptType: v4.00+\n\n[V4+ Styles]\nFormat: Name, Fontname, Fontsize, PrimaryColour,"
    b" SecondaryColour, OutlineColour, BackColour, Bold, Italic, Underline, StrikeOut, ScaleX, ScaleY, Spacing, Angle,"
    b" BorderStyle, Outline, Shadow, Alignment, MarginL, MarginR, MarginV, Encoding\nStyle: Default,Sans,16,&Hffffff,"
    b"&Hffffff,&H0,&H0,0,0,0,0,100,100,0,0,1,1,0,2,10,10,10,0\n\n[Events]\nFormat: Layer, Start, End, Style, Name,"
    b" MarginL, MarginR, MarginV, Effect, Text\n"
)
"""How players show it where nothing else is said; the encoder asks for it in this form."""
THREE_LETTERS = {
    "en": "eng", "de": "deu", "fr": "fra", "es": "spa", "it": "ita", "nl": "nld", "pt": "por", "pl": "pol", "cs": "ces",
    "da": "dan", "sv": "swe", "no": "nor", "fi": "fin", "tr": "tur", "el": "ell", "ru": "rus", "uk": "ukr", "ar": "ara",
    "hi": "hin", "ja": "jpn", "ko": "kor", "zh": "zho",
}  # fmt: skip
"""Languages as MP4 files name them (ISO 639-2)."""


@dataclass(frozen=True)
class TextTrack:
    """Cues in a language: from when to when (milliseconds), and what is shown."""

    language: str
    cues: Sequence[tuple[int, int, str]]


class TextWriter:
    """Writes text tracks into a container beside its picture, each cue when it is its turn."""

    def __init__(self, target: Any, tracks: Sequence[TextTrack]) -> None:
        self._target = target
        self._due: list[tuple[int, int, str, Any]] = []
        for track in tracks:
            stream = target.add_stream("mov_text")
            stream.codec_context.subtitle_header = HEADER
            stream.codec_context.time_base = MILLISECONDS
            stream.metadata["language"] = THREE_LETTERS.get(track.language.split("-")[0], "und")
            self._due += [(start, end, text, stream) for start, end, text in track.cues if end > start]
        self._due.sort(key=lambda cue: cue[0], reverse=True)

    def until(self, seconds: Fraction | None) -> None:
        """Writes the cues that begin by a time; all that are left without one."""
        while self._due and (seconds is None or self._due[-1][0] <= seconds * 1000):
            start, end, text, stream = self._due.pop()
            data = text.encode()
            packet: Any = av.Packet(len(data).to_bytes(2, "big") + data)
            packet.stream, packet.time_base = stream, MILLISECONDS
            packet.pts = packet.dts = start
            packet.duration = end - start
            self._target.mux(packet)
