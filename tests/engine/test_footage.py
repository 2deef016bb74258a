"""Odd files read right: rates, uneven times, rotation, pixel shape, depth, damage."""

from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from PIL import Image

from glowreel.core.errors import BadMedia
from glowreel.core.time import TICKS_PER_SECOND, Rate, ticks
from glowreel.engine.footage import Footage
from glowreel.engine.ingest import make_peaks, make_proxy, make_samples
from glowreel.engine.photo import Animation, load_photo
from glowreel.engine.probe import probe
from glowreel.engine.svg import draw_svg
from tests.conftest import Files


def grey(n: int) -> tuple[int, int, int]:
    return (40 + 6 * n, 40 + 6 * n, 40 + 6 * n)


def shown(footage: Footage, at: int) -> int:
    """Which frame of `grey` footage is on show."""
    pixels = footage.bgra(footage.frame(at), 320, 180)
    return round((float(pixels[:, :, :3].mean()) - 40) / 6)


@pytest.mark.parametrize(
    ("name", "rate"),
    [
        ("a.mp4", Fraction(30)),
        ("b.mp4", Fraction(24000, 1001)),
        ("c.mkv", Fraction(30000, 1001)),
        ("d.mkv", Fraction(60)),
    ],
)
def test_every_frame_is_found_in_any_order(files: Files, name: str, rate: Fraction) -> None:
    footage = Footage(files.footage(name, grey, rate=rate))
    exact = Rate(num=rate.numerator, den=rate.denominator)
    order = [0, 1, 2, 29, 3, 15, 14, 28, 0, 7, 8, 9]
    assert [shown(footage, exact.frame_start(n)) for n in order] == order
    assert shown(footage, ticks(30)) == 29, "the last frame is held"


def test_uneven_times_are_kept_and_told(files: Files, tmp_path: Path) -> None:
    times = [0, 33, 66, 300, 333, 900]
    path = files.footage("vfr.mkv", grey, frames=6, times=times)
    footage = Footage(path)
    assert [shown(footage, ticks(t)) for t in (0.29, 0.31, 0.5, 0.89, 0.95)] == [2, 3, 4, 4, 5]
    facts, _ = make_proxy(path, probe(path, "vfr"), tmp_path / "proxy.mp4", tmp_path / "s.jpg", lambda share: None)
    assert facts.rate is None
    stand_in = Footage(tmp_path / "proxy.mp4")
    assert [shown(stand_in, ticks(t)) for t in (0.29, 0.31, 0.89, 0.95)] == [2, 3, 4, 5]


def test_wide_pixels_are_shown_square(files: Files) -> None:
    facts = probe(files.footage("ana.mp4", grey, size=(180, 180), aspect=Fraction(16, 9)), "ana")
    assert (facts.width, facts.height) == (320, 180)


def test_rotation_flags_are_obeyed(files: Files, tmp_path: Path) -> None:
    plain = files.footage("plain.mp4", lambda n: (200, 40, 40), frames=4)
    path = tmp_path / "turned.mp4"
    data = bytearray(plain.read_bytes())
    at = data.index(b"tkhd") + 4 + 40
    unit = 1 << 16
    matrix = [0, unit, 0, (1 << 32) - unit, 0, 0, 180 * unit, 0, 1 << 30]
    data[at : at + 36] = b"".join(value.to_bytes(4, "big") for value in matrix)
    path.write_bytes(bytes(data))
    facts = probe(path, "turned")
    assert (facts.width, facts.height) == (180, 320)
    footage = Footage(path)
    assert footage.bgra(footage.frame(0), 180, 320).shape[:2] == (320, 180)
    made, _ = make_proxy(path, facts, tmp_path / "p.mp4", tmp_path / "s.jpg", lambda share: None)
    assert probe(tmp_path / "p.mp4", "p").width == 180
    assert made.length == Rate(num=30, den=1).frame_start(4)


@pytest.mark.parametrize(("form", "codec"), [("yuv420p10le", "libx264"), ("yuv444p", "libx264")])
def test_deep_and_full_chroma_footage_keeps_its_colour(files: Files, form: str, codec: str) -> None:
    footage = Footage(files.footage("deep.mp4", lambda n: (180, 90, 30), form=form, codec=codec, frames=3))
    mean = footage.bgra(footage.frame(0), 320, 180).reshape(-1, 4).mean(axis=0)
    assert np.allclose(mean[:3], (30, 90, 180), atol=3)


@pytest.mark.parametrize("matrix", [1, 5])
def test_bars_keep_their_colours_whichever_matrix_they_were_made_with(files: Files, matrix: int) -> None:
    for colour in ((191, 0, 0), (0, 191, 0), (0, 0, 191), (191, 191, 0), (16, 16, 16), (235, 235, 235)):
        path = files.footage(
            f"{matrix}-{colour[0]}-{colour[1]}-{colour[2]}.mp4", lambda n, c=colour: c, frames=2, matrix=matrix
        )
        footage = Footage(path)
        mean = footage.bgra(footage.frame(0), 320, 180).reshape(-1, 4).mean(axis=0)[:3]
        assert np.allclose(mean, colour[::-1], atol=3), colour


def test_sound_of_any_rate_becomes_stereo_at_48_kilohertz(files: Files, tmp_path: Path) -> None:
    t = np.arange(22050) / 22050
    path = files.sound("mono.wav", (0.5 * np.sin(2 * np.pi * 440 * t))[:, None], rate=22050)
    make_samples(path, tmp_path / "samples")
    samples = np.fromfile(tmp_path / "samples", np.int16).reshape(-1, 2)
    assert abs(len(samples) - 48000) < 64
    assert np.abs(samples[:, 0] - samples[:, 1]).max() == 0
    crossings = np.count_nonzero(np.diff(np.signbit(samples[4800:43200, 0])))
    assert abs(crossings / 2 / 0.8 - 440) < 3
    make_peaks(tmp_path / "samples", tmp_path / "peaks")
    peaks = np.frombuffer((tmp_path / "peaks").read_bytes(), np.uint8)
    assert len(peaks) in (100, 101)
    assert abs(int(np.median(peaks)) - 127) < 4


def test_footage_with_sound_says_so_and_keeps_them_together(files: Files, tmp_path: Path) -> None:
    path = files.footage("loud.mp4", grey, tone=440)
    assert probe(path, "loud").sounding
    assert not probe(files.footage("quiet.mp4", grey), "quiet").sounding
    make_samples(path, tmp_path / "samples")
    assert abs((tmp_path / "samples").stat().st_size / 4 - 48000) < 1100


def test_photos_are_turned_upright_and_transparency_survives(tmp_path: Path) -> None:
    picture = Image.new("RGB", (60, 40), (200, 30, 30))
    exif = picture.getexif()
    exif[0x0112] = 6
    picture.save(tmp_path / "turned.jpg", exif=exif)
    facts = probe(tmp_path / "turned.jpg", "turned")
    assert (facts.width, facts.height) == (40, 60)
    assert load_photo(tmp_path / "turned.jpg").shape == (60, 40, 4)
    Image.new("RGBA", (8, 8), (255, 255, 255, 128)).save(tmp_path / "half.png")
    assert tuple(load_photo(tmp_path / "half.png")[0, 0]) == (128, 128, 128, 128)
    assert probe(tmp_path / "half.png", "half").alpha


def test_animated_pictures_are_footage_with_their_own_times(tmp_path: Path) -> None:
    frames = [Image.new("RGBA", (16, 16), (v, v, v, 255)) for v in (10, 120, 240)]
    for name in ("a.gif", "b.webp"):
        options = {"lossless": True} if name.endswith("webp") else {}
        frames[0].save(tmp_path / name, save_all=True, append_images=frames[1:], duration=[100, 300, 200], **options)
        facts = probe(tmp_path / name, name)
        assert (facts.kind, facts.length) == ("footage", ticks(0.6))
        animation = Animation(tmp_path / name)
        seen = [int(animation.frame(ticks(t))[0, 0, 0]) for t in (0.05, 0.35, 0.45, 0.1)]
        animation.close()
        assert np.allclose(seen, (10, 120, 240, 120), atol=2)


SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20">'
    '<rect width="40" height="20" fill="#ff0000"/>{}</svg>'
)


def test_drawings_are_drawn_and_hostile_ones_refused(tmp_path: Path) -> None:
    (tmp_path / "a.svg").write_text(
        SVG.format('<image href="file:///etc/passwd" width="9" height="9"/><script>alert(1)</script>')
    )
    pixels = draw_svg(tmp_path / "a.svg", 2048)
    assert tuple(pixels[5, 5]) == (0, 0, 255, 255)
    (tmp_path / "b.svg").write_text('<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaa">]>' + SVG.format("&a;"))
    with pytest.raises(BadMedia, match="entities"):
        probe(tmp_path / "b.svg", "b.svg")
    (tmp_path / "c.svg").write_text(SVG.format("").replace('width="40"', 'width="4e9"'))
    with pytest.raises(BadMedia, match="size that cannot"):
        probe(tmp_path / "c.svg", "c.svg")


def test_broken_empty_and_disguised_files_get_one_sentence(files: Files, tmp_path: Path) -> None:
    good = files.footage("good.mp4", grey).read_bytes()
    bad = {
        "empty.mp4": b"",
        "text.mp4": b"this is a shopping list, not footage\n" * 50,
        "half.mp4": good[: len(good) // 3],
        "page.jpg": b"<html><body>hello</body></html>",
        "cut.png": cv2.imencode(".png", np.random.default_rng(1).integers(0, 255, (90, 90, 3), np.uint8))[1].tobytes()[
            :900
        ],
    }
    for name, data in bad.items():
        (tmp_path / name).write_bytes(data)
        with pytest.raises(BadMedia) as caught:
            probe(tmp_path / name, name)
        assert caught.value.sentence.count(".") <= 3
        assert name in caught.value.sentence
    disguised = tmp_path / "really-a-picture.mp4"
    Image.new("RGB", (20, 10)).save(disguised, format="PNG")
    assert probe(disguised, "x").kind == "photo", "what a file is does not depend on its name"


def test_damaged_frames_are_passed_over(files: Files, tmp_path: Path) -> None:
    path = files.footage("long.mp4", grey, frames=30)
    with av.open(str(path)) as container:
        places = [(p.pos, p.size) for p in container.demux(video=0) if p.size]
    data = bytearray(path.read_bytes())
    position, size = places[12]
    data[position + 8 : position + size] = bytes(size - 8)
    (tmp_path / "damaged.mp4").write_bytes(bytes(data))
    footage = Footage(tmp_path / "damaged.mp4")
    assert shown(footage, ticks(0)) == 0
    footage.frame(ticks(0.9))
    facts = probe(tmp_path / "damaged.mp4", "damaged")
    assert facts.length == TICKS_PER_SECOND
