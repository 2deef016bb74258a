"""Joining: pieces of picture, the sound and captions, put into one film without encoding any of them again."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path
from typing import Any

import av

from glowreel.core.errors import Fault
from glowreel.engine.filming import ENCODINGS, Encoding
from glowreel.engine.texttrack import TextTrack, TextWriter

H264 = ENCODINGS["h264"]
TEXT = ("mp4", "mov")
"""Containers that captions are put into as text; beside others they can be had as files."""


def join(
    pieces: Sequence[tuple[Path, int]],
    sound: Path | None,
    rate: Fraction,
    out: Path,
    title: str = "",
    captions: Sequence[TextTrack] = (),
    encoding: Encoding = H264,
) -> None:
    """Joins pieces (file, frames), sound and captions into one film; an MP4 starts to play before it is all there
    (faststart)."""
    with av.open(str(out), "w", format=encoding.whole, options=dict(encoding.whole_options)) as target:
        if title:
            target.metadata["title"] = title
        with av.open(str(pieces[0][0])) as first:
            # An AV1 decoder is another library than its encoder: what the stream holds is taken over as it is.
            video: Any = target.add_stream_from_template(first.streams.video[0], opaque=True)
            if encoding.tag:
                video.codec_context.codec_tag = encoding.tag
            if first.streams.video[0].metadata.get("alpha_mode"):
                video.metadata["alpha_mode"] = "1"
        audio_in = av.open(str(sound)) if sound else None
        audio: Any = target.add_stream_from_template(audio_in.streams.audio[0]) if audio_in else None
        waiting = audio_in.demux(audio_in.streams.audio[0]) if audio_in else iter(())
        held: Any = next(waiting, None)
        text, offset = TextWriter(target, captions if encoding.whole in TEXT else ()), 0
        for path, frames in pieces:
            with av.open(str(path)) as container:
                for packet in container.demux(container.streams.video[0]):
                    if packet.dts is None:
                        continue
                    seconds = _renumber(packet, offset, rate)
                    while held is not None and (held.dts is None or held.dts * held.time_base <= seconds):
                        held = _pass_on(target, held, audio, waiting)
                    text.until(seconds)
                    packet.stream = video
                    target.mux(packet)
            offset += frames
        while held is not None:
            held = _pass_on(target, held, audio, waiting)
        text.until(None)
        if audio_in:
            audio_in.close()


def _renumber(packet: Any, offset: int, rate: Fraction) -> Fraction:
    """Moves a packet by whole frames onto the common clock; answers with its decoding time in seconds."""
    if packet.pts is None:
        raise Fault("a piece of an export has a picture without a time")
    pts = round(packet.pts * packet.time_base * rate) + offset
    dts = round(packet.dts * packet.time_base * rate) + offset
    packet.time_base = 1 / rate
    packet.pts, packet.dts, packet.duration = pts, dts, 1
    return dts / rate


def _pass_on(target: Any, packet: Any, stream: Any, waiting: Any) -> Any:
    if packet.dts is not None:
        packet.stream = stream
        target.mux(packet)
    return next(waiting, None)
