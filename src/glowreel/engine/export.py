"""Making files: pieces of picture, the sound, and the joining of both without encoding again."""

from __future__ import annotations

import hashlib
from collections import deque
from collections.abc import Callable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import ExitStack, closing
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from glowreel.core.derived import Known, nothing
from glowreel.core.document import Promo
from glowreel.core.errors import Fault
from glowreel.core.formats import Format
from glowreel.core.recipe.model import FrameRecipe, recipe_hash
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.recipe.sound import PEAK, sound_length, sound_recipe
from glowreel.core.time import SAMPLE_RATE
from glowreel.core.timeline import timeline
from glowreel.engine.drawing import digest as drawing
from glowreel.engine.frames import FrameMaker
from glowreel.engine.loudness import Whole, measure_file
from glowreel.engine.meters import measure as measure_sound
from glowreel.engine.mix import mix
from glowreel.engine.sources import Sources
from glowreel.engine.texttrack import TextTrack, TextWriter
from glowreel.engine.typesetting import measure

PIECE_SECONDS = 8
AHEAD = 3
"""How many frames are drawn before the encoder has taken them."""
ENCODER = {"preset": "veryfast", "crf": "20", "profile": "high"}
SOUND_BITRATE = 256_000
"""At less, encoding lifts peaks that were held by up to a decibel and a half."""
PEAK_TRIES = 3

Progress = Callable[[int, int], None]
"""Told how many frames of how many are done; may raise to stop the work."""


@dataclass(frozen=True)
class Piece:
    """A run of frames that is encoded by itself: `first` and `count` in frames of the promo."""

    first: int
    count: int


def plan(promo: Promo) -> list[Piece]:
    """The promo cut into pieces of about eight seconds, none much shorter than the others."""
    total = timeline(promo).frame_count
    wanted = max(1, round(promo.rate.fraction * PIECE_SECONDS))
    pieces = max(1, round(total / wanted))
    edges = [total * n // pieces for n in range(pieces + 1)]
    return [Piece(a, b - a) for a, b in zip(edges, edges[1:], strict=False)]


def piece_key(promo: Promo, format: Format, short_side: int, piece: Piece) -> str:
    """Identifies a piece by all it shows and how it is encoded: an equal key means an equal file."""
    digest = hashlib.blake2b(digest_size=20)
    digest.update(repr((drawing(), ENCODER, format.size(short_side), promo.rate, piece.count)).encode())
    for n in range(piece.first, piece.first + piece.count):
        recipe = frame_recipe(promo, format, promo.rate.frame_start(n), measure)
        digest.update(recipe_hash(recipe).encode())
    return digest.hexdigest()


@dataclass(frozen=True)
class Out:
    """One of the files that a piece is encoded to: in which format, how large, and where."""

    format: Format
    short_side: int
    path: Path


class _Encoder:
    """Encodes the frames of one file beside whoever draws them."""

    def __init__(self, promo: Promo, out: Out, sources: Sources, threads: int) -> None:
        self.format, self.rate = out.format, promo.rate
        width, height = out.format.size(out.short_side)
        self._maker = FrameMaker(sources, width, height)
        self._container: Any = av.open(str(out.path), "w", format="mp4")
        self._stream: Any = self._container.add_stream("libx264", rate=promo.rate.fraction, options=dict(ENCODER))
        self._stream.width, self._stream.height, self._stream.pix_fmt = width, height, "yuv420p"
        context = self._stream.codec_context
        context.time_base = 1 / promo.rate.fraction
        context.gop_size = max(1, round(promo.rate.fraction * 2))
        context.thread_count, context.thread_type = threads, "FRAME"
        context.colorspace, context.color_primaries, context.color_trc = 1, 1, 1
        context.color_range = 1
        self._base = context.time_base
        self._last: tuple[str, Any] = ("", None)
        self._pool = ThreadPoolExecutor(1)
        self._waiting: deque[Future[None]] = deque()

    def add(self, recipe: FrameRecipe, number: int) -> None:
        """Draws a frame, and has it encoded while the next ones are drawn."""
        this_hash = recipe_hash(recipe)
        if this_hash != self._last[0] or self._last[1] is None:
            self._last = this_hash, self._maker.make(recipe)
        self._waiting.append(self._pool.submit(self._encode, self._last[1], number))
        if len(self._waiting) > AHEAD:
            self._waiting.popleft().result()

    def _encode(self, frame: Any, number: int) -> None:
        frame.pts, frame.time_base = number, self._base
        frame.pict_type = 0
        self._container.mux(self._stream.encode(frame))

    def finish(self) -> None:
        for one in self._waiting:
            one.result()
        self._container.mux(self._stream.encode(None))

    def close(self) -> None:
        self._pool.shutdown()
        self._container.close()


def render_pieces(
    promo: Promo,
    outs: Sequence[Out],
    piece: Piece,
    sources: Sources,
    progress: Progress = lambda done, total: None,
    threads: int = 0,
) -> None:
    """Encodes one piece in several formats, each to an MP4 file that starts with a key frame and needs nothing from its
    neighbours. What it shows is decoded once for all of them."""
    with ExitStack() as stack:
        encoders = [stack.enter_context(closing(_Encoder(promo, out, sources, threads))) for out in outs]
        for n in range(piece.count):
            at = promo.rate.frame_start(piece.first + n)
            for encoder in encoders:
                encoder.add(frame_recipe(promo, encoder.format, at, measure), n)
            progress(n + 1, piece.count)
        for encoder in encoders:
            encoder.finish()


def render_piece(
    promo: Promo,
    format: Format,
    short_side: int,
    piece: Piece,
    sources: Sources,
    out: Path,
    progress: Progress = lambda done, total: None,
    threads: int = 0,
) -> None:
    """Encodes one piece in one format."""
    render_pieces(promo, [Out(format, short_side, out)], piece, sources, progress, threads)


def render_sound(
    promo: Promo, sources: Sources, out: Path, progress: Progress = lambda done, total: None, known: Known = nothing
) -> Whole:
    """Mixes the whole promo to AAC in an MP4 file, a few seconds at a time, with what is known of its files; as loud as
    is wanted of it. Answers with how loud the file is found to be: where encoding lifted a peak above what is allowed,
    it is made again, that much lower."""
    total = max(1, sound_length(promo))
    louder = None
    if promo.loudness_wanted is not None:
        louder = measure_sound(promo, sources, known, lambda share: progress(0, total), lines=False).louder
    lower = 0.0
    for _ in range(PEAK_TRIES):
        _encode_sound(promo, sources, out, progress, known, louder, lower)
        found = measure_file(out)
        if louder is None or found.peak is None or found.peak <= PEAK:
            break
        lower += found.peak - PEAK + 0.05
    return found


def _encode_sound(
    promo: Promo, sources: Sources, out: Path, progress: Progress, known: Known, louder: float | None, lower: float
) -> None:
    total, step = max(1, sound_length(promo)), SAMPLE_RATE * 4
    with av.open(str(out), "w", format="mp4") as container:
        stream: Any = container.add_stream("aac", rate=SAMPLE_RATE, layout="stereo")
        stream.bit_rate = SOUND_BITRATE
        for start in range(0, total, step):
            recipe = sound_recipe(promo, start, min(step, total - start), known, louder)
            if recipe.master is not None and lower:
                ceiling = recipe.master.ceiling * 10 ** (-lower / 20)
                recipe = replace(recipe, master=replace(recipe.master, ceiling=ceiling))
            planar = np.ascontiguousarray(np.clip(mix(recipe, sources), -1, 1).T)
            for at in range(0, planar.shape[1], 1024):
                block = np.ascontiguousarray(planar[:, at : at + 1024])
                frame = av.AudioFrame.from_ndarray(block, format="fltp", layout="stereo")
                frame.sample_rate, frame.pts, frame.time_base = SAMPLE_RATE, start + at, Fraction(1, SAMPLE_RATE)
                container.mux(stream.encode(frame))
            progress(min(total, start + step), total)
        container.mux(stream.encode(None))


def join(
    pieces: Sequence[tuple[Path, int]],
    sound: Path | None,
    rate: Fraction,
    out: Path,
    title: str = "",
    captions: Sequence[TextTrack] = (),
) -> None:
    """Joins pieces (file, frames), sound and captions into one MP4 that starts to play before it is all there
    (faststart)."""
    with av.open(str(out), "w", format="mp4", options={"movflags": "+faststart"}) as target:
        if title:
            target.metadata["title"] = title
        with av.open(str(pieces[0][0])) as first:
            video: Any = target.add_stream_from_template(first.streams.video[0])
        audio_in = av.open(str(sound)) if sound else None
        audio: Any = target.add_stream_from_template(audio_in.streams.audio[0]) if audio_in else None
        waiting = audio_in.demux(audio_in.streams.audio[0]) if audio_in else iter(())
        held: Any = next(waiting, None)
        text, offset = TextWriter(target, captions), 0
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


def render_file(
    promo: Promo,
    format: Format,
    short_side: int,
    sources: Sources,
    out: Path,
    folder: Path,
    progress: Progress = lambda done, total: None,
    known: Known = nothing,
) -> None:
    """The whole export in this process: pieces in turn, sound beside them, then joined. `folder` holds parts."""
    pieces = plan(promo)
    total = timeline(promo).frame_count
    parts: list[tuple[Path, int]] = []
    sound = folder / "sound.mp4"
    # The sound has readers of its own and is mixed beside the picture, which keeps the encoder busy meanwhile.
    with ThreadPoolExecutor(1) as beside:
        mixing = beside.submit(render_sound, promo, sources.again(), sound, known=known)
        for number, piece in enumerate(pieces):
            path = folder / f"piece-{number:04d}.mp4"
            before = piece.first
            render_piece(promo, format, short_side, piece, sources, path, lambda d, _, b=before: progress(b + d, total))  # type: ignore[misc]
            parts.append((path, piece.count))
        mixing.result()
    join(parts, sound, promo.rate.fraction, out, promo.name)
    for path in (*(p for p, _ in parts), sound):
        path.unlink()
