"""Opening files of other people's, and decoding their pictures: see-through ones too, and without interlacing.

Only containers that hold one thing by themselves are opened. Play lists, stream descriptions and the like would make
the decoder read other files, or ask the network for them.
"""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
from av.filter import Graph

from glowreel.core.errors import BadMedia

CONTAINERS = (
    "mov,mp4,m4a,3gp,3g2,mj2", "matroska,webm", "avi", "mpegts", "mpeg", "mpegvideo", "m4v", "h264", "hevc",
    "av1", "obu", "ivf", "flv", "asf", "mxf", "ogg", "wav", "w64", "aiff", "au", "caf", "flac", "mp3", "aac",
    "ac3", "eac3", "amr", "amrnb", "amrwb", "dts", "wv", "ape", "tta", "gif", "apng", "dv", "nut", "webp",
    "yuv4mpegpipe", "rm", "wtv", "gxf",
)  # fmt: skip

CLEAR = {"vp9": "libvpx-vp9", "vp8": "libvpx"}
"""Decoders that bring out transparency where the usual ones leave it out."""

STACKED = "alpha-below"
"""What a stand-in of ours says of itself where the lower half of its picture is the transparency of the upper one."""


def open_media(path: Path, **more: Any) -> Any:
    """An open container. Raises what PyAV raises for anything that is none of `CONTAINERS`."""
    options = {"format_whitelist": ",".join(CONTAINERS), "protocol_whitelist": "file"}
    return av.open(f"file:{path}", options=options, **more)


class Pictures:
    """The decoded pictures of a stream, in order. After a seek of the container, ask for them again."""

    def __init__(self, container: Any, stream: Any, threads: int = 0) -> None:
        self._container, self._stream = container, stream
        context = stream.codec_context
        self.stacked = container.metadata.get("comment") == STACKED
        self._own: Any = None
        if stream.metadata.get("alpha_mode") == "1" and context.name in CLEAR:
            self._own = av.CodecContext.create(CLEAR[context.name], "r")
            self._own.extradata = context.extradata
            self._own.thread_count = threads
        stream.thread_type = "AUTO"
        context.thread_count = threads
        self.clear = self.stacked or self._own is not None or has_alpha(context.pix_fmt)
        self._interlaced: bool | None = None

    def __iter__(self) -> Iterator[Any]:
        """Frames with a time. What is damaged is passed over."""
        graph: Graph | None = None
        for frame in self._plain():
            if self._interlaced is None:
                self._interlaced = bool(frame.interlaced_frame)
            if not self._interlaced:
                yield frame
                continue
            if graph is None:
                graph = self._deinterlacing(frame)
            graph.push(frame)
            yield from self._pulled(graph)
        if graph is not None:
            graph.push(None)
            yield from self._pulled(graph)

    def _deinterlacing(self, frame: Any) -> Graph:
        """One whole picture for each interlaced one, from both of its fields and its neighbours'."""
        graph = Graph()
        source = graph.add_buffer(template=self._stream, time_base=frame.time_base)
        graph.link_nodes(source, graph.add("bwdif", "mode=send_frame:deint=interlaced"), graph.add("buffersink"))
        graph.configure()
        return graph

    def _pulled(self, graph: Graph) -> Iterator[Any]:
        """Whole pictures that are ready, on the clock of the stream: the filter counts twice as fine."""
        base = self._stream.time_base
        while True:
            try:
                frame: Any = graph.pull()
            except (av.error.BlockingIOError, av.error.EOFError):
                return
            frame.pts, frame.time_base = round(frame.pts * frame.time_base / base), base
            yield frame

    def _plain(self) -> Iterator[Any]:
        if self._own is not None:
            self._own.flush_buffers()
        for packet in self._packets():
            try:
                frames = packet.decode() if self._own is None else self._own.decode(packet if packet.size else None)
            except av.error.InvalidDataError:
                continue
            except (av.error.EOFError, StopIteration):
                return
            for frame in frames:
                if frame.pts is not None:
                    yield frame

    def _packets(self) -> Iterator[Any]:
        packets = self._container.demux(self._stream)
        while True:
            try:
                packet = next(packets)
            except (StopIteration, av.error.EOFError):
                return
            except av.error.InvalidDataError:
                continue
            except av.error.FFmpegError:
                return
            yield packet


def has_alpha(form: str | None) -> bool:
    """Whether a pixel format carries transparency."""
    if not form:
        return False
    return form.startswith(("yuva", "rgba", "bgra", "argb", "abgr", "gbrap", "ya8", "ya16", "ayuv", "vuya", "pal8"))


def first_picture(container: Any, stream: Any, name: str) -> Any:
    """The first decoded picture, or `BadMedia`."""
    try:
        for frame in Pictures(container, stream):
            return frame
    except av.error.FFmpegError as error:
        raise BadMedia("broken", f"{name} is footage, but its pictures cannot be decoded.") from error
    raise BadMedia("broken", f"{name} is footage without a single picture.")


def time_base(stream: Any) -> Fraction:
    return Fraction(stream.time_base) if stream.time_base else Fraction(0)
