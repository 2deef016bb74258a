"""Makes every file under demo/media again."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import skia

from glowreel.demo.generate.films import films
from glowreel.demo.generate.music import SONGS, compose, noise
from glowreel.demo.generate.shots import FOOTAGE, PHOTOS, Shot
from glowreel.engine.colour import convert
from glowreel.engine.still import encode
from glowreel.engine.typesetting import FOLDER as FONTS
from glowreel.outside.art.files import sing
from glowreel.outside.art.tunes import RATE

MEDIA = Path(__file__).parent.parent / "media"


def painted(shot: Shot, t: float, pixels: Any) -> None:
    info = skia.ImageInfo.Make(shot.width, shot.height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)
    canvas = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    canvas.clear(0xFFFFFFFF)
    canvas.scale(shot.height, shot.height)
    shot.paint(canvas, shot.width / shot.height, t)


def film(shot: Shot) -> None:
    pixels = np.zeros((shot.height, shot.width, 4), np.uint8)
    reformatter = av.video.reformatter.VideoReformatter()
    with av.open(str(MEDIA / f"{shot.name}.mp4"), "w", options={"movflags": "+faststart"}) as out:
        video: Any = out.add_stream("libx264", rate=shot.rate, options={"preset": "slow", "crf": "22"})
        video.width, video.height, video.pix_fmt = shot.width, shot.height, "yuv420p"
        context = video.codec_context
        context.colorspace, context.color_primaries, context.color_trc, context.color_range = 1, 1, 1, 1
        context.time_base = Fraction(1, shot.rate)
        audio: Any = out.add_stream("aac", rate=RATE, layout="stereo") if shot.noise else None
        for n in range(round(shot.seconds * shot.rate)):
            painted(shot, n / shot.rate, pixels)
            frame = convert(reformatter, av.VideoFrame.from_numpy_buffer(pixels, format="bgra"), "yuv420p")
            frame.pts, frame.time_base = n, context.time_base
            out.mux(video.encode(frame))
        out.mux(video.encode(None))
        if audio is not None:
            sing(out, audio, noise(shot.noise, shot.seconds))


LOGO = """<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="200" viewBox="0 0 {width} 200">
<path fill="#F6B73C" d="{balloon}"/><rect x="70" y="163" width="40" height="20" rx="6" fill="{ink}"/>
{words}</svg>
"""
BALLOON = "M90 14C130 14 150 44 150 76C150 112 120 134 107 155L73 155C60 134 30 112 30 76C30 44 50 14 90 14Z"


def logos() -> None:
    """The wordmark's letters are outlines, so that it needs no font to be drawn."""
    face = skia.Typeface.MakeFromFile(str(FONTS / "BricolageGrotesque_800ExtraBold.ttf"))
    font = skia.Font(face, 110)
    path, x = skia.Path(), 178.0
    for glyph, width in zip(
        font.textToGlyphs("Hollowmere"), font.getWidths(font.textToGlyphs("Hollowmere")), strict=True
    ):
        outline = font.getPath(glyph)
        if outline is not None:
            path.addPath(outline, x, 132.0)
        x += width
    for name, ink in (("hollowmere-logo", "#F6F1E7"), ("hollowmere-logo-on-light", "#2C2A4A")):
        words = f'<path fill="{ink}" d="{_svg_path(path)}"/>'
        whole = LOGO.format(width=round(x + 30), balloon=BALLOON, words=words, ink=ink)
        (MEDIA / f"{name}.svg").write_text(whole)
    (MEDIA / "hollowmere-mark.svg").write_text(LOGO.format(width=180, balloon=BALLOON, words="", ink="#F6F1E7"))


def _svg_path(path: Any) -> str:
    parts = []
    for verb, points in path:
        at = " ".join(f"{p.x():.1f} {p.y():.1f}" for p in points[1:])
        if verb == skia.Path.kMove_Verb:
            parts.append(f"M{points[0].x():.1f} {points[0].y():.1f}")
        elif verb == skia.Path.kLine_Verb:
            parts.append(f"L{at}")
        elif verb == skia.Path.kQuad_Verb:
            parts.append(f"Q{at}")
        elif verb == skia.Path.kCubic_Verb:
            parts.append(f"C{at}")
        elif verb == skia.Path.kClose_Verb:
            parts.append("Z")
    return "".join(parts)


def main() -> None:
    MEDIA.mkdir(exist_ok=True)
    logos()
    for shot in PHOTOS:
        pixels = np.zeros((shot.height, shot.width, 4), np.uint8)
        painted(shot, 0, pixels)
        (MEDIA / f"{shot.name}.jpg").write_bytes(encode(pixels, ".jpg", 90))
    for song in SONGS:
        with av.open(str(MEDIA / f"{song.name}.m4a"), "w", format="ipod") as out:
            audio: Any = out.add_stream("aac", rate=RATE, layout="stereo")
            audio.bit_rate = 160_000
            sing(out, audio, compose(song))
    for shot in FOOTAGE:
        film(shot)
        print(shot.name, flush=True)
    films()


if __name__ == "__main__":
    main()
