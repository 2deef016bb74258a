"""Media that are not plain: see-through, interlaced, of other families, of high range, and drawings of any size."""

from contextlib import closing
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from PIL import Image

from glowreel.core.commands import AddPicture
from glowreel.core.errors import BadMedia
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import Rate, ticks
from glowreel.engine.draw import Canvas, TooSlow
from glowreel.engine.footage import Footage
from glowreel.engine.ingest import make_samples
from glowreel.engine.intake import take_in
from glowreel.engine.probe import probe
from glowreel.engine.sources import Sources
from glowreel.engine.still import draw_still
from glowreel.engine.svg import draw_svg, measure_svg
from glowreel.engine.typesetting import measure
from tests.conftest import Files, Folder
from tests.engine.build import promo_of

WIDE = SHIPPED["wide"]


def silent(_: float) -> None:
    """Told of progress."""


def see_through(path: Path, frames: int = 12) -> Path:
    """VP9 in WebM: red on the left, nothing on the right, half of it in the middle third."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream("libvpx-vp9", rate=30, options={"crf": "4", "b": "0", "cpu-used": "8"})
        stream.width, stream.height, stream.pix_fmt = 240, 120, "yuva420p"
        for n in range(frames):
            pixels = np.zeros((120, 240, 4), np.uint8)
            pixels[:, :, 0] = 220
            pixels[:, :80, 3], pixels[:, 80:160, 3] = 255, 128
            frame = av.VideoFrame.from_ndarray(pixels, format="rgba").reformat(format="yuva420p")
            frame.pts, frame.time_base = n, Fraction(1, 30)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return path


def alphas(pixels: np.ndarray) -> list[float]:
    width = pixels.shape[1]
    return [float(pixels[:, int(width * share)][:, 3].mean()) for share in (0.15, 0.5, 0.85)]


def test_transparency_of_vp9_stays_from_the_file_to_the_frame(tmp_path: Path, library: Folder, files: Files) -> None:
    path = see_through(tmp_path / "clear.webm")
    media = library.add(path)
    assert media.alpha
    with closing(Footage(path)) as footage:
        assert np.allclose(alphas(footage.bgra(footage.frame(ticks(0.2)), 240, 120)), (255, 128, 0), atol=4)
        assert np.allclose(alphas(footage.bgra(footage.frame(0), 240, 120)), (255, 128, 0), atol=4), "after going back"
    ground = library.add(files.footage("ground.mp4", lambda n: (20, 160, 20), frames=20))
    promo = promo_of(ground)
    from glowreel.core.commands import Context, apply
    from tests.core.build import numbered

    context = Context(numbered("q"), {media.id: media})
    promo = apply(promo, AddPicture(media=media.id), context).promo
    made = take_in(path, "clear", tmp_path, silent, silent)
    assert made.facts.alpha
    frames = [draw_still(promo, WIDE, ticks(0.1), 180, Sources(library))]
    library.replace(media, tmp_path / "proxy")
    frames.append(draw_still(promo, WIDE, ticks(0.1), 180, Sources(library)))
    for frame in frames:
        blue, green, red = (frame[:, :, n].astype(int) for n in range(3))
        assert ((red > 180) & (green < 60) & (blue < 60)).sum() > 200
        assert ((abs(red - 118) < 30) & (abs(green - 80) < 30)).sum() > 200, "half of red over green"
    assert np.abs(frames[0].astype(int) - frames[1]).mean() < 3, "the stand-in shows something else than the file"


def test_an_animated_picture_has_a_stand_in_that_holds_each_frame_as_long(tmp_path: Path) -> None:
    shades = [Image.new("RGBA", (64, 48), (value, value, value, 255)) for value in (20, 120, 240)]
    path = tmp_path / "a.gif"
    shades[0].save(path, save_all=True, append_images=shades[1:], duration=[100, 300, 200])
    made = take_in(path, "a.gif", tmp_path, silent, silent)
    assert (made.facts.length, set(made.made)) == (ticks(0.6), {"proxy", "strip.jpg", "poster.jpg"})
    with closing(Footage(tmp_path / "proxy")) as footage:
        seen = [int(footage.bgra(footage.frame(ticks(at)), 64, 48)[24, 32, 1]) for at in (0.05, 0.11, 0.39, 0.41, 0.59)]
    assert np.allclose(seen, (20, 120, 120, 240, 240), atol=4)


def combed(path: Path) -> Path:
    """Interlaced footage of a bright bar that moves from field to field."""
    with av.open(str(path), "w") as out:
        options = {"x264-params": "interlaced=1:tff=1", "crf": "4"}
        stream = out.add_stream("libx264", rate=25, options=options)
        stream.width, stream.height, stream.pix_fmt = 320, 180, "yuv420p"
        for n in range(16):
            pixels = np.full((180, 320, 3), 30, np.uint8)
            pixels[0::2, n * 12 : n * 12 + 60] = 220
            pixels[1::2, n * 12 + 6 : n * 12 + 66] = 220
            frame = av.VideoFrame.from_ndarray(pixels, format="rgb24").reformat(format="yuv420p")
            frame.pts, frame.time_base = n, Fraction(1, 25)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return path


def test_interlaced_footage_has_no_combs_in_any_order(tmp_path: Path) -> None:
    path = combed(tmp_path / "combs.mp4")
    rate = Rate(num=25, den=1)
    with closing(Footage(path)) as footage:
        for n in (3, 4, 9, 5):
            rows = footage.bgra(footage.frame(rate.frame_start(n)), 320, 180)[20:160, :, 1].astype(int)
            assert np.abs(np.diff(rows, axis=0)).max() < 60, "neighbouring lines are of two moments"
            assert rows[70, n * 12 + 30] > 180, "the bar is not where it was at that moment"


@pytest.mark.parametrize("form", ["HEIF", "AVIF"])
def test_photos_of_newer_families_are_photos(tmp_path: Path, form: str) -> None:
    path = tmp_path / "photo"
    Image.new("RGB", (120, 80), (30, 140, 200)).save(path, form)
    made = take_in(path, "photo", tmp_path, silent, silent)
    assert (made.facts.kind, made.facts.width, made.facts.height) == ("photo", 120, 80)
    with Image.open(tmp_path / "proxy") as stand_in:
        assert np.allclose(stand_in.convert("RGB").getpixel((60, 40)), (30, 140, 200), atol=8)


def test_footage_of_high_range_says_which(tmp_path: Path) -> None:
    for number, name in ((16, "pq"), (18, "hlg"), (1, "")):
        path = tmp_path / f"{number}.mp4"
        with av.open(str(path), "w") as out:
            stream = out.add_stream("libx265", rate=25, options={"x265-params": "log-level=none"})
            stream.width, stream.height, stream.pix_fmt = 320, 180, "yuv420p10le"
            stream.codec_context.color_trc, stream.codec_context.color_primaries = number, 9
            stream.codec_context.colorspace = 9
            frame = av.VideoFrame.from_ndarray(np.full((180, 320, 3), 90, np.uint8), format="rgb24")
            for n in range(3):
                part = frame.reformat(format="yuv420p10le")
                part.pts, part.time_base, part.color_trc = n, Fraction(1, 25), number
                out.mux(stream.encode(part))
            out.mux(stream.encode(None))
        assert probe(path, "x").transfer == name


@pytest.mark.parametrize(
    ("head", "size"),
    [
        ('width="40" height="20"', (40, 20)),
        ('width="10mm" height="5mm"', (37.8, 18.9)),
        ('viewBox="0 0 300 100"', (300, 100)),
        ('width="100%" height="100%" viewBox="5 5 300,100"', (300, 100)),
        ('width="60" viewBox="0 0 300 100"', (60, 20)),
        ('height="2in" viewBox="0 0 300 100"', (576, 192)),
    ],
)
def test_drawings_are_as_large_as_they_say(tmp_path: Path, head: str, size: tuple[float, float]) -> None:
    path = tmp_path / "a.svg"
    shape = '<rect x="0" y="0" width="400%" height="400%" fill="#00ff00"/>'
    path.write_text(f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{shape}</svg>')
    assert measure_svg(path) == pytest.approx(size, abs=0.1)
    pixels = draw_svg(path, 200)
    assert pixels.shape[1] == 200
    assert pixels.shape[0] == round(200 * size[1] / size[0])
    assert tuple(pixels[pixels.shape[0] // 2, 100]) == (0, 255, 0, 255)


def test_drawings_without_a_size_are_refused(tmp_path: Path) -> None:
    path = tmp_path / "a.svg"
    path.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="50%"><rect/></svg>')
    with pytest.raises(BadMedia, match="how large"):
        measure_svg(path)


def test_a_frame_that_takes_too_long_is_given_up_and_leaves_nothing_behind(files: Files, library: Folder) -> None:
    clip = library.add(files.footage("a.mp4", lambda n: (120, 60, 30), frames=30))
    promo = promo_of(clip)
    canvas = Canvas(Sources(library), 320, 180)
    recipe = frame_recipe(promo, WIDE, 0, measure)
    kept = canvas.draw(recipe).copy()
    with pytest.raises(TooSlow, match="takes too long"):
        canvas.draw(recipe, within=-1)
    assert np.array_equal(canvas.draw(recipe), kept)


class Pipe:
    """Takes what is written, one after another, as a recording is kept: nothing is ever put right at its head."""

    def __init__(self) -> None:
        self.data = bytearray()

    def write(self, piece: bytes) -> int:
        self.data += piece
        return len(piece)


def test_a_recording_that_does_not_say_how_long_it_is_has_the_time_it_needs(tmp_path: Path) -> None:
    pipe = Pipe()
    with av.open(pipe, "w", format="webm", options={"live": "1"}) as out:
        stream = out.add_stream("vp8", rate=30, options={"deadline": "realtime", "cpu-used": "8"})
        stream.width, stream.height, stream.pix_fmt = 160, 90, "yuv420p"
        stream.codec_context.time_base = Fraction(1, 1000)
        # Uneven, as a screen is recorded: nothing changes for a while, then much.
        for number, at in enumerate((*range(0, 4000, 40), *range(9000, 12000, 33))):
            frame = av.VideoFrame.from_ndarray(np.full((90, 160, 3), number % 200, np.uint8), format="rgb24")
            frame = frame.reformat(format="yuv420p")
            frame.pts, frame.time_base = at, Fraction(1, 1000)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    path = tmp_path / "screen.webm"
    path.write_bytes(pipe.data)
    assert probe(path, path.name).length == 0, "it does not say"
    told: list[float] = []
    needs: list[float] = []
    made = take_in(path, path.name, tmp_path, told.append, needs.append)
    assert made.facts.length == pytest.approx(ticks(12), rel=0.01)
    assert max(needs) > 6 * 11.5, "it is asked for as much time as that length needs"
    assert sum(1 for share in told if 0.1 < share < 0.9) > 20, "and it says how far it is meanwhile"


@pytest.mark.parametrize(("lost", "twice"), [((), ()), ((40, 41, 42, 90), ()), ((), (60, 61, 62))])
def test_sound_stays_with_the_picture_where_a_busy_machine_recorded_less_of_it(
    tmp_path: Path, lost: tuple[int, ...], twice: tuple[int, ...]
) -> None:
    """A click every second; blocks of 20 ms that are lost or come once more do not move the ones after them."""
    path = tmp_path / "voice.mka"
    samples = np.zeros((1, 48000 * 4), np.float32)
    for second in range(4):
        samples[0, second * 48000 + 24000 : second * 48000 + 24480] = 0.8
    with av.open(str(path), "w", format="matroska") as out:
        stream = out.add_stream("pcm_s16le", rate=48000, layout="mono")
        for number in range(200):
            for _ in range(number not in lost and 1 + (number in twice)):
                block = (samples[:, number * 960 : (number + 1) * 960] * 32767).astype(np.int16)
                packet = av.Packet(block.tobytes())
                packet.stream, packet.time_base = stream, Fraction(1, 48000)
                packet.pts = packet.dts = number * 960
                packet.duration = 960
                out.mux(packet)
    copy = tmp_path / "copy"
    make_samples(path, copy)
    heard = np.abs(np.fromfile(copy, np.int16).reshape(-1, 2)[:, 0].astype(int)) > 16000
    begins = np.nonzero(heard[1:] & ~heard[:-1])[0] / 48000
    assert begins == pytest.approx([0.5, 1.5, 2.5, 3.5], abs=0.027)
