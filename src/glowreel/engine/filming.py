"""How each form of film is encoded: one row for each of `core.film_forms.FILM_FORMS`, and the encoder that goes by it.

A piece is encoded to a container of its own. What is no film (GIF, WebP, PNG) is made of pieces that hold every frame
as it was drawn, and is put together of these afterwards, as often as it takes to be small enough.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import av
from av.video.reformatter import ColorRange, VideoReformatter

from glowreel.core.document import Promo
from glowreel.core.film_forms import USUAL_MAKING, Look, Making, picture_bits
from glowreel.core.formats import Format
from glowreel.core.recipe.model import FrameRecipe, recipe_hash
from glowreel.engine.colour import BT709
from glowreel.engine.frames import FrameMaker
from glowreel.engine.soundcodes import AAC, OPUS, PCM, SOUNDS_ALONE, SoundCode
from glowreel.engine.sources import Sources

AHEAD = 3
"""How many frames are drawn before the encoder has taken them."""
KEY_SECONDS = 2
Options = Mapping[str, str]


def _nothing(bits: int) -> Options:
    return {}


def _held(bits: int) -> Options:
    """Never more than its bits in a quarter of a second, so that a film that is to be of a size does not exceed it."""
    return {"maxrate": str(bits), "bufsize": str(max(1000, bits // 4))}


def _even(bits: int) -> Options:
    """The same all along: what keeps a VP9 encoder to its bits."""
    return {**_held(bits), "minrate": str(bits)}


def _below(bits: int) -> Options:
    """As near as an AV1 encoder keeps to its bits; what comes out too large all the same is made again."""
    return {"svtav1-params": "overshoot-pct=0:undershoot-pct=50"}


@dataclass(frozen=True)
class Encoding:
    """How a form is encoded: codec and container of a piece, how its name ends, its pixels, those of what can be seen
    through, and the options of each look. `sized` gives the options for bits a second. `whole` is the container of the
    film that its pieces are joined to; without one they are put together otherwise. `tag` is how the film names its
    codec, where players want another name than is usual."""

    codec: str
    piece: str
    suffix: str
    pixels: str
    looks: Mapping[Look, Options]
    clear: str = ""
    options: Options = field(default_factory=dict)
    clear_options: Options = field(default_factory=dict)
    sized: Any = _held
    whole: str = ""
    whole_options: Options = field(default_factory=dict)
    tag: str = ""
    sound: SoundCode | None = AAC


def _crf(small: int, standard: int, fine: int) -> Mapping[Look, Options]:
    return {"small": {"crf": str(small)}, "standard": {"crf": str(standard)}, "fine": {"crf": str(fine)}}


FASTSTART = {"movflags": "+faststart"}
EVERY_FRAME = Encoding(
    "png", "mov", ".mov", "rgb24", {"small": {}, "standard": {}, "fine": {}}, clear="rgba", sized=_nothing, sound=None
)
"""Every frame as a picture, as it was drawn."""
ENCODINGS: dict[str, Encoding] = {
    "h264": Encoding("libx264", "mp4", ".mp4", "yuv420p", _crf(25, 20, 15),
                     options={"preset": "veryfast", "profile": "high"}, whole="mp4", whole_options=FASTSTART),
    "hevc": Encoding("libx265", "mp4", ".mp4", "yuv420p", _crf(29, 24, 19),
                     options={"preset": "superfast", "x265-params": "log-level=none:pools=2"}, whole="mp4",
                     whole_options=FASTSTART, tag="hvc1"),
    "av1": Encoding("libsvtav1", "mp4", ".mp4", "yuv420p", _crf(42, 34, 26), options={"preset": "9"},
                    sized=_below, whole="mp4", whole_options=FASTSTART),
    "vp9": Encoding("libvpx-vp9", "matroska", ".mkv", "yuv420p", _crf(38, 31, 23), clear="yuva420p",
                    options={"b": "0", "deadline": "good", "cpu-used": "5", "row-mt": "1", "tile-columns": "1"},
                    clear_options={"auto-alt-ref": "0"}, sized=_even, whole="webm", sound=OPUS),
    "prores": Encoding("prores_ks", "matroska", ".mkv", "yuv422p10le",
                       {"small": {"profile": "1"}, "standard": {"profile": "2"}, "fine": {"profile": "3"}},
                       clear="yuva444p10le", options={"vendor": "apl0"}, clear_options={"profile": "4"},
                       sized=_nothing, whole="mov", sound=PCM),
    **dict.fromkeys(("gif", "webp", "png", "still"), EVERY_FRAME),
}  # fmt: skip


def sound_of(making: Making) -> SoundCode | None:
    """How the sound of a form is encoded, if it has any."""
    return SOUNDS_ALONE.get(making.form) or ENCODINGS[making.form].sound


def options_of(promo: Promo, making: Making) -> dict[str, str]:
    """Everything that an encoder is told: equal options, equal pieces of equal frames."""
    row = ENCODINGS[making.form]
    options = {**row.options, **row.looks[making.look], **(row.clear_options if making.clear else {})}
    bits = picture_bits(making, promo)
    if bits is not None:
        options = {key: value for key, value in options.items() if key not in ("crf", "b")}
        options |= {"b": str(bits), **row.sized(bits)}
    return options


@dataclass(frozen=True)
class Out:
    """One of the files that a piece is encoded to: in which format, how large, where, and how."""

    format: Format
    short_side: int
    path: Path
    making: Making = USUAL_MAKING


class Encoder:
    """Encodes the frames of one file beside whoever draws them."""

    def __init__(self, promo: Promo, out: Out, sources: Sources, threads: int) -> None:
        self.format = out.format
        self._row, self._clear = ENCODINGS[out.making.form], out.making.clear
        self._pixels = self._row.clear if self._clear else self._row.pixels
        width, height = out.format.size(out.short_side)
        self._maker = FrameMaker(sources, width, height)
        self._reformatter = VideoReformatter()
        self._container: Any = av.open(str(out.path), "w", format=self._row.piece)
        options = options_of(promo, out.making)
        self._stream: Any = self._container.add_stream(self._row.codec, rate=promo.rate.fraction, options=options)
        stream: Any = self._stream
        stream.width, stream.height, stream.pix_fmt = width, height, self._pixels
        context: Any = stream.codec_context
        context.time_base = 1 / promo.rate.fraction
        context.gop_size = max(1, round(promo.rate.fraction * KEY_SECONDS))
        context.thread_count, context.thread_type = threads, "FRAME" if self._row.codec == "libx264" else "AUTO"
        if self._pixels.startswith("yuv"):
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
            self._last = this_hash, self._made(recipe)
        self._waiting.append(self._pool.submit(self._encode, self._last[1], number))
        if len(self._waiting) > AHEAD:
            self._waiting.popleft().result()

    def _made(self, recipe: FrameRecipe) -> Any:
        if self._pixels in ("rgb24", "rgba") or self._clear:
            return self._maker.drawn(recipe, clear=self._clear)
        return self._maker.make(recipe)

    def _encode(self, frame: Any, number: int) -> None:
        if frame.format.name != self._pixels:
            frame = self._as_taken(frame)
        frame.pts, frame.time_base = number, self._base
        frame.pict_type = 0
        self._container.mux(self._stream.encode(frame))

    def _as_taken(self, frame: Any) -> Any:
        """The frame in the pixels that the encoder takes."""
        full, limited = int(ColorRange.JPEG), int(ColorRange.MPEG)
        made = self._reformatter.reformat(
            frame, format=self._pixels, src_colorspace=BT709, dst_colorspace=BT709,
            src_color_range=limited if frame.format.name.startswith("yuv") else full,
            dst_color_range=limited if self._pixels.startswith("yuv") else full,
        )  # fmt: skip
        if self._pixels.startswith("yuv"):
            made.colorspace, made.color_range = 1, 1
        return made

    def finish(self) -> None:
        for one in self._waiting:
            one.result()
        self._container.mux(self._stream.encode(None))

    def close(self) -> None:
        self._pool.shutdown()
        self._container.close()
