"""Files made to break whatever reads them. Each is made by code, from the same seed every time."""

from __future__ import annotations

import io
import json
import random
import struct
import zipfile
import zlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

import av
import numpy as np
from PIL import Image

Make = Callable[[], bytes]


@dataclass(frozen=True)
class Attack:
    """A file, by name. `quick` ones are refused or read in a second or two."""

    name: str
    make: Make
    quick: bool = True


def svg(body: str, head: str = 'width="100" height="100"') -> bytes:
    names = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    return f"<svg {names} {head}>{body}</svg>".encode()


def nested_uses(levels: int, wide: int = 10) -> bytes:
    groups = '<g id="a0"><rect width="1" height="1"/></g>'
    for n in range(1, levels + 1):
        groups += f'<g id="a{n}">' + f'<use xlink:href="#a{n - 1}"/>' * wide + "</g>"
    return svg(groups + f'<use xlink:href="#a{levels}"/>')


def chained_patterns() -> bytes:
    """Patterns that are filled with patterns."""
    one = '<pattern id="p{0}" width="1%" height="1%"><rect width="9" height="9" fill="url(#p{1})"/></pattern>'
    return svg("".join(one.format(n, n + 1) for n in range(90)) + '<rect width="100" height="100" fill="url(#p0)"/>')


def heavy_filters(count: int) -> bytes:
    area = 'x="-500%" y="-500%" width="1100%" height="1100%"'
    steps = '<feTurbulence baseFrequency="0.01" numOctaves="10"/><feMorphology radius="90"/>'
    steps += '<feGaussianBlur stdDeviation="50"/>'
    return svg(f'<filter id="f" {area}>{steps}</filter>' + '<rect width="100" height="100" filter="url(#f)"/>' * count)


def _chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def png(width: int, height: int, frames: int = 0, said: tuple[int, int] | None = None) -> bytes:
    """A PNG of nothing; with `frames`, an animated one; with `said`, one that claims another size."""
    packer = zlib.compressobj(9)
    row = b"\0" * (width * 4 + 1)
    packed = b"".join(packer.compress(row) for _ in range(height)) + packer.flush()
    out = b"\x89PNG\r\n\x1a\n" + _chunk(b"IHDR", struct.pack(">IIBBBBB", *(said or (width, height)), 8, 6, 0, 0, 0))
    sequence = 0
    if frames:
        out += _chunk(b"acTL", struct.pack(">II", frames, 0))
    for number in range(max(1, frames)):
        if frames:
            out += _chunk(b"fcTL", struct.pack(">IIIIIHHBB", sequence, width, height, 0, 0, 1, 30, 0, 0))
            sequence += 1
        if number == 0:
            out += _chunk(b"IDAT", packed)
        else:
            out += _chunk(b"fdAT", struct.pack(">I", sequence) + packed)
            sequence += 1
    return out + _chunk(b"IEND", b"")


def wav(seconds: float, said: int | None = None, rate: int = 48000) -> bytes:
    """A WAV of silence; with `said`, one whose header claims so many bytes."""
    data = bytes(int(seconds * rate) * 4)
    size = said if said is not None else len(data)
    form = struct.pack("<HHIIHH", 1, 2, rate, (rate * 4) & 0xFFFFFFFF, 4, 16)
    head = b"RIFF" + struct.pack("<I", (36 + size) & 0xFFFFFFFF) + b"WAVEfmt " + struct.pack("<I", 16) + form
    return head + b"data" + struct.pack("<I", size & 0xFFFFFFFF) + data


@cache
def picture(form: str, side: int = 96) -> bytes:
    """A small real picture."""
    noise = np.random.default_rng(7).integers(0, 255, (side, side, 3), np.uint8)
    out = io.BytesIO()
    Image.fromarray(noise).save(out, form)
    return out.getvalue()


@cache
def animation(form: str = "GIF", frames: int = 8) -> bytes:
    shades = [Image.new("RGB", (64, 48), (n * 20, 90, 40)) for n in range(frames)]
    out = io.BytesIO()
    shades[0].save(out, form, save_all=True, append_images=shades[1:], duration=80)
    return out.getvalue()


def _silence(target: Any, stream: Any, blocks: int) -> None:
    """So many fiftieths of a second of nothing."""
    for n in range(blocks):
        block = av.AudioFrame(format=stream.codec_context.format.name, layout="stereo", samples=960)
        for plane in block.planes:
            plane.update(bytes(plane.buffer_size))
        block.sample_rate, block.pts, block.time_base = 48000, n * 960, Fraction(1, 48000)
        target.mux(stream.encode(block))


@cache
def footage(
    container: str = "mp4", codec: str = "libx264", size: tuple[int, int] = (160, 90), frames: int = 20
) -> bytes:
    """A little real footage with sound."""
    out = io.BytesIO()
    with av.open(out, "w", format=container) as target:
        stream = target.add_stream(codec, rate=25)
        stream.width, stream.height, stream.pix_fmt = *size, "yuv420p"
        sound = target.add_stream("aac" if container != "webm" else "libopus", rate=48000, layout="stereo")
        for n in range(frames):
            pixels = np.full((size[1], size[0], 3), (n * 9 % 255, 80, 160), np.uint8)
            frame = av.VideoFrame.from_ndarray(pixels, format="rgb24").reformat(format="yuv420p")
            frame.pts, frame.time_base = n, Fraction(1, 25)
            target.mux(stream.encode(frame))
        target.mux(stream.encode(None))
        _silence(target, sound, 40)
        target.mux(sound.encode(None))
    return out.getvalue()


@cache
def song(codec: str = "mp3", container: str = "mp3", seconds: float = 2.0) -> bytes:
    out = io.BytesIO()
    with av.open(out, "w", format=container) as target:
        stream = target.add_stream(codec, rate=48000, layout="stereo")
        _silence(target, stream, int(seconds * 50))
        target.mux(stream.encode(None))
    return out.getvalue()


def mutated(data: bytes, seed: int) -> bytes:
    """The same file with some bytes changed, left out, doubled or cut off."""
    rng = random.Random(seed)
    made = bytearray(data)
    for _ in range(rng.randint(1, 12)):
        at = rng.randrange(len(made))
        how = rng.randrange(4)
        if how == 0:
            made[at] = rng.randrange(256)
        elif how == 1:
            made[at : at + 4] = rng.choice([b"\xff\xff\xff\xff", b"\0\0\0\0", b"\x7f\xff\xff\xff", b"\x80\0\0\0"])
        elif how == 2:
            del made[at : at + rng.randint(1, 64)]
        else:
            made[at:at] = made[at : at + rng.randint(1, 64)]
        if len(made) < 16:
            break
    return bytes(made if rng.random() < 0.8 else made[: rng.randrange(1, len(made))])


def drawings() -> Iterator[Attack]:
    yield Attack("deep.svg", lambda: svg("<g>" * 60_000 + "</g>" * 60_000))
    yield Attack("uses.svg", lambda: nested_uses(8))
    yield Attack("circle.svg", lambda: svg('<g id="a"><use xlink:href="#b"/></g><g id="b"><use xlink:href="#a"/></g>'))
    yield Attack("many.svg", lambda: svg("<rect/>" * 60_000))
    entity = b'<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>'
    yield Attack("entities.svg", lambda: entity + svg("<text>&b;</text>"))
    links = ("file:///etc/passwd", "http://127.0.0.1:1/x")
    outside = "".join(f'<image href="{link}" width="9" height="9"/>' for link in links)
    yield Attack("outside.svg", lambda: svg(outside))
    yield Attack("huge.svg", lambda: svg("", 'width="1e30" height="1e30"'))
    yield Attack("nan.svg", lambda: svg("", 'viewBox="0 0 nan nan"'))
    yield Attack("ribbon.svg", lambda: svg("", 'width="90000" height="1"'))
    yield Attack("pattern.svg", chained_patterns)
    yield Attack("path.svg", lambda: svg(f'<path d="M0 0{"L9 9" * 200_000}"/>'))
    yield Attack("filters.svg", lambda: heavy_filters(50), quick=False)


def pictures() -> Iterator[Attack]:
    yield Attack("pixels.png", lambda: png(64, 64, said=(60_000, 60_000)))
    yield Attack("short.png", lambda: png(16, 16, said=(9_000, 9_000)))
    yield Attack("frames.png", lambda: png(40, 30, frames=1500))
    yield Attack("bomb.png", lambda: png(10_000, 10_000), quick=False)
    yield Attack("film.png", lambda: png(10_000, 10_000, frames=20), quick=False)
    yield Attack("film-small.png", lambda: png(4_000, 4_000, frames=110), quick=False)
    for form in ("JPEG", "PNG", "WEBP", "GIF", "TIFF", "BMP"):
        for seed in range(12):
            yield Attack(f"{form}-{seed}.{form.lower()}", lambda f=form, s=seed: mutated(picture(f), s), quick=seed < 2)
    for seed in range(12):
        yield Attack(f"film-{seed}.gif", lambda s=seed: mutated(animation(), s), quick=seed < 2)
        yield Attack(f"film-{seed}.webp", lambda s=seed: mutated(animation("WEBP"), s), quick=seed < 2)


def moving() -> Iterator[Attack]:
    yield Attack("list.m3u8", lambda: b"#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\n/etc/passwd\n#EXT-X-ENDLIST\n")
    yield Attack("list.mp4", lambda: b"ffconcat version 1.0\nfile /etc/passwd\n")
    yield Attack("session.mp4", lambda: b"v=0\no=- 0 0 IN IP4 127.0.0.1\nc=IN IP4 127.0.0.1\nm=video 5004 RTP/AVP 96\n")
    yield Attack("empty.mp4", lambda: b"")
    yield Attack("zeros.mov", lambda: bytes(100_000))
    yield Attack("noise.mp4", lambda: random.Random(3).randbytes(300_000))
    yield Attack("tail.mp4", lambda: footage()[-2000:])
    yield Attack("said.wav", lambda: wav(0.2, said=0xFFFFFFF0))
    yield Attack("rate.wav", lambda: wav(0.2, rate=0xFFFFFFF))
    yield Attack("tiny.mp4", lambda: footage(size=(16, 16), frames=1))
    for container, codec in (("mp4", "libx264"), ("matroska", "libx264"), ("webm", "libvpx-vp9"), ("mpegts", "libx264"),
                             ("avi", "mpeg4")):  # fmt: skip
        for seed in range(14):
            yield Attack(
                f"{container}-{seed}.{container}",
                lambda c=container, k=codec, s=seed: mutated(footage(c, k), s),
                quick=seed < 2,
            )
    for codec, container in (("mp3", "mp3"), ("flac", "flac"), ("libopus", "ogg")):
        for seed in range(10):
            yield Attack(
                f"song-{seed}.{container}", lambda c=container, k=codec, s=seed: mutated(song(k, c), s), quick=seed < 1
            )


def media() -> list[Attack]:
    """Files for the Shelf."""
    return [*drawings(), *pictures(), *moving()]


def bundle(timeline: bytes | str, files: dict[str, bytes] | None = None) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr("content.otio", timeline)
        for name, data in (files or {}).items():
            made.writestr(name, data)
    return out.getvalue()


def timeline_text(**more: object) -> str:
    stack = {"OTIO_SCHEMA": "Stack.1", "children": [], "effects": [], "markers": [], "enabled": True, "metadata": {},
             "name": "tracks", "source_range": None}  # fmt: skip
    return json.dumps({"OTIO_SCHEMA": "Timeline.1", "name": "t", "metadata": {}, "tracks": stack, **more})


def _bomb() -> bytes:
    """A zip whose one file unpacks to two thousand times its size, and which says that it is small."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr("content.otio", timeline_text())
        with made.open("media/zeros.bin", "w") as member:
            for _ in range(300):
                member.write(bytes(1 << 20))
    return out.getvalue()


def _broken_deflate() -> bytes:
    data = bytearray(bundle(timeline_text(), {"media/a.bin": bytes(range(256)) * 400}))
    at = data.index(b"media/a.bin") + 40
    data[at : at + 60] = random.Random(5).randbytes(60)
    return bytes(data)


def _stored(**changes: object) -> str:
    """A timeline that carries a promo of ours, with a document that breaks a rule."""
    clip = {"id": "c1", "kind": "filler", "length": 705_600_000}
    promo = {
        "version": 3, "id": "p", "name": "p", "formats": [{"id": "wide", "name": "Wide", "wide": 16, "high": 9}],
        "scenes": [{"id": "s1", "name": "s", "clips": [clip]}], **changes,
    }  # fmt: skip
    return timeline_text(metadata={"glowreel": {"promo": promo}})


def _clips(count: int, length: int) -> list[dict[str, object]]:
    clips = [{"id": f"c{n}", "kind": "filler", "length": length} for n in range(count)]
    return [{"id": "s1", "name": "s", "clips": clips}]


def bundles() -> list[Attack]:
    """Files that say they are timelines."""
    hour = 3600 * 705_600_000
    ribbon = [{"id": "r", "name": "r", "wide": 100, "high": 1}]
    free = {"to": "time", "at": 0}
    values = {"opacity": float("nan")}
    nan = [{"id": "t1", "items": [{"id": "i1", "kind": "words", "anchor": free, "length": 30, "values": values}]}]
    return [
        Attack("brackets.otio", lambda: b"[" * 50_000),
        Attack("deep.otio", lambda: b'{"a":' * 10_000 + b"1" + b"}" * 10_000),
        Attack("deep-tracks.otio", lambda: timeline_text(tracks=json.loads("[" * 400 + "]" * 400)).encode()),
        Attack("numbers.otio", lambda: b'{"OTIO_SCHEMA":"Timeline.1","n":' + b"9" * 100_000 + b"}"),
        Attack("schema.otio", lambda: b'{"OTIO_SCHEMA":"Nothing.999"}'),
        Attack("text.otio", lambda: "ünbekannt".encode("latin-1") * 50),
        Attack("nothing.otio", lambda: b""),
        Attack("bomb.otioz", _bomb),
        Attack("deflate.otioz", _broken_deflate),
        Attack("paths.otioz", lambda: bundle(timeline_text(), {"media/../../x": b"x", "/media/y": b"y"})),
        Attack("members.otioz", lambda: bundle(timeline_text(), {f"media/{n}": b"" for n in range(2500)})),
        Attack("none.otioz", lambda: bundle(b"")),
        Attack("deep.otioz", lambda: bundle(b"[" * 50_000)),
        Attack("ribbon.otio", lambda: _stored(formats=ribbon).encode()),
        Attack("clips.otio", lambda: _stored(scenes=_clips(20_000, 705_600_000)).encode()),
        Attack("hours.otio", lambda: _stored(scenes=_clips(100, 5 * hour)).encode()),
        Attack("nan.otio", lambda: _stored(version=4, layers=nan).encode()),
        Attack("version.otio", lambda: _stored(version=-1).encode()),
        Attack("kinds.otio", lambda: _stored(scenes={"a": 1}, media=[1, 2]).encode()),
        Attack("cut.otioz", lambda: bundle(timeline_text(), {"media/a": b"x" * 9999})[:900]),
    ]


def write(attack: Attack, folder: Path) -> Path:
    path = folder / attack.name
    path.write_bytes(attack.make())
    return path
