"""How the file of each form is put together from its pieces and its sound."""

from __future__ import annotations

import zipfile
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
from av.filter import Graph

from glowreel.core.film_forms import Making
from glowreel.engine.filming import ENCODINGS
from glowreel.engine.joining import join
from glowreel.engine.soundcodes import SOUNDS_ALONE
from glowreel.engine.texttrack import TextTrack

Told = Callable[[float], None]
"""Told now and then which share of a try is done; may raise to stop the work."""


@dataclass(frozen=True)
class Parts:
    """What a file is put together from: pieces (file, frames), its sound, its rate, its title, and captions as text."""

    pieces: Sequence[tuple[Path, int]]
    sound: Path | None
    rate: Fraction
    title: str = ""
    captions: Sequence[TextTrack] = field(default_factory=tuple)

    @property
    def frames(self) -> int:
        return max(1, sum(count for _, count in self.pieces))


def finish(making: Making, parts: Parts, out: Path, told: Told = lambda share: None) -> None:
    """Writes the file of a form to `out`."""
    if making.form in SOUNDS_ALONE:
        assert parts.sound is not None
        _named(parts.sound, parts.title, out, SOUNDS_ALONE[making.form].container)
    elif ENCODINGS[making.form].whole:
        row = ENCODINGS[making.form]
        join(parts.pieces, parts.sound, parts.rate, out, parts.title, parts.captions, row)
    else:
        FINISHERS[making.form](making, parts, out, told)


def _named(sound: Path, title: str, out: Path, container: str) -> None:
    """The sound by itself, with its title."""
    with av.open(str(sound)) as source, av.open(str(out), "w", format=container) as target:
        if title:
            target.metadata["title"] = title
        stream = target.add_stream_from_template(source.streams.audio[0])
        for packet in source.demux(source.streams.audio[0]):
            if packet.dts is not None:
                packet.stream = stream
                target.mux(packet)


def _pictures(parts: Parts) -> Iterator[bytes]:
    """Every frame as the PNG file that it is kept as."""
    for path, _ in parts.pieces:
        with av.open(str(path)) as source:
            for packet in source.demux(source.streams.video[0]):
                if packet.size:
                    yield bytes(packet)


def _still(making: Making, parts: Parts, out: Path, told: Told) -> None:
    out.write_bytes(next(_pictures(parts)))


def _sequence(making: Making, parts: Parts, out: Path, told: Told) -> None:
    """All frames in a ZIP, numbered from one in their order; PNG is pressed already."""
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED, allowZip64=True) as archive:
        for number, picture in enumerate(_pictures(parts), 1):
            told(number / parts.frames)
            archive.writestr(f"frame-{number:05d}.png", picture)


def _frames(parts: Parts) -> Iterator[Any]:
    """Every frame, numbered through."""
    number = 0
    for path, _ in parts.pieces:
        with av.open(str(path)) as source:
            for frame in source.decode(video=0):
                frame.pts, frame.time_base = number, 1 / parts.rate
                number += 1
                yield frame


MOST_TRIES, SMALLEST = 5, 0.2
"""So often pictures are made smaller until the file is small enough, and how small at the most."""
COLOURS = {"small": 64, "standard": 128, "fine": 256}
QUALITY = {"small": 45, "standard": 70, "fine": 88}


def _small_enough(write: Callable[[Making, Parts, Path, Told, float], None]) -> Callable[..., None]:
    """The same with smaller pictures, until the file is as small as it is to be; the smallest where none is."""

    def finisher(making: Making, parts: Parts, out: Path, told: Told) -> None:
        scale = 1.0
        for _ in range(MOST_TRIES):
            write(making, parts, out, told, scale)
            share = making.megabytes * 1e6 / out.stat().st_size if making.megabytes is not None else 1.0
            if share >= 1 or scale <= SMALLEST:
                return
            # A file shrinks a little less than its area does.
            scale = max(SMALLEST, scale * min(0.97, share**0.55))

    return finisher


def _graph(parts: Parts, first: Any, steps: Sequence[tuple[str, str]]) -> Any:
    """A chain of libavfilter's filters that frames like this one are pushed into."""
    graph = Graph()
    size = f"video_size={first.width}x{first.height}:pix_fmt={first.format.name}"
    rate = parts.rate
    nodes = [graph.add("buffer", f"{size}:time_base={rate.denominator}/{rate.numerator}:pixel_aspect=1/1")]
    for name, arguments in steps:
        nodes.append(graph.add(name, arguments))
        nodes[-2].link_to(nodes[-1])
    return graph, nodes


def _sized(first: Any, scale: float) -> str:
    return f"{max(2, round(first.width * scale))}:{max(2, round(first.height * scale))}:flags=lanczos"


def _gif(making: Making, parts: Parts, out: Path, told: Told, scale: float) -> None:
    """Two passes: the colours of the whole, then every frame in them."""
    first = next(_frames(parts))
    most = COLOURS[making.look]
    graph, nodes = _graph(parts, first, [
        ("scale", _sized(first, scale)),
        ("palettegen", f"max_colors={most}:stats_mode=full:reserve_transparent={int(making.clear)}"),
    ])  # fmt: skip
    nodes[-1].link_to(graph.add("buffersink"))
    graph.configure()
    for frame in _frames(parts):
        told(frame.pts / parts.frames / 2)
        graph.push(frame)
    graph.push(None)
    palette = graph.pull()
    _write_gif(parts, first, palette, out, told, scale)


def _write_gif(parts: Parts, first: Any, palette: Any, out: Path, told: Told, scale: float) -> None:
    graph, nodes = _graph(parts, first, [("scale", _sized(first, scale))])
    colours = graph.add("buffer", f"video_size={palette.width}x{palette.height}:pix_fmt={palette.format.name}"
                        ":time_base=1/1:pixel_aspect=1/1")  # fmt: skip
    use, sink = graph.add("paletteuse", "dither=bayer:bayer_scale=4:diff_mode=rectangle"), graph.add("buffersink")
    nodes[-1].link_to(use, 0, 0)
    colours.link_to(use, 0, 1)
    use.link_to(sink)
    graph.configure()
    palette.pts, palette.time_base = 0, Fraction(1)
    colours.push(palette)
    colours.push(None)
    with av.open(str(out), "w", format="gif", options={"loop": "0"}) as target:
        stream: Any = target.add_stream("gif", rate=parts.rate)
        stream.pix_fmt = "pal8"
        stream.width, stream.height = max(2, round(first.width * scale)), max(2, round(first.height * scale))
        stream.codec_context.time_base = 1 / parts.rate
        for frame in _frames(parts):
            told(0.5 + frame.pts / parts.frames / 2)
            nodes[0].push(frame)
            _pull_into(sink, stream, target)
        nodes[0].push(None)
        _pull_into(sink, stream, target)
        target.mux(stream.encode(None))


def _pull_into(sink: Any, stream: Any, target: Any) -> None:
    while True:
        try:
            made = sink.pull()
        except (av.BlockingIOError, av.EOFError):
            return
        made.time_base = made.time_base or stream.codec_context.time_base
        target.mux(stream.encode(made))


def _webp(making: Making, parts: Parts, out: Path, told: Told, scale: float) -> None:
    first = next(_frames(parts))
    width, height = max(2, round(first.width * scale)), max(2, round(first.height * scale))
    options = {"quality": str(QUALITY[making.look]), "compression_level": "4", "preset": "default"}
    with av.open(str(out), "w", format="webp", options={"loop": "0"}) as target:
        stream: Any = target.add_stream("libwebp_anim", rate=parts.rate, options=options)
        stream.width, stream.height = width, height
        stream.pix_fmt = "bgra"
        stream.codec_context.time_base = 1 / parts.rate
        for frame in _frames(parts):
            told(frame.pts / parts.frames)
            made = frame.reformat(width=width, height=height, format=stream.pix_fmt)
            made.pts, made.time_base = frame.pts, frame.time_base
            target.mux(stream.encode(made))
        target.mux(stream.encode(None))


FINISHERS: dict[str, Callable[[Making, Parts, Path, Told], None]] = {
    "still": _still,
    "png": _sequence,
    "gif": _small_enough(_gif),
    "webp": _small_enough(_webp),
}
