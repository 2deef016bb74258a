"""Every form that a promo is exported as: how many frames, which colours, what is heard, what is seen through."""

from __future__ import annotations

import zipfile
from collections.abc import Callable
from fractions import Fraction
from io import BytesIO
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
from PIL import Image

from glowreel.core.commands import AddSound
from glowreel.core.document import Promo
from glowreel.core.film_forms import FILM_FORMS, Making, as_made, read_making
from glowreel.core.formats import SHIPPED
from glowreel.engine.export import plan, render_file
from glowreel.engine.filming import ENCODINGS
from glowreel.engine.soundcodes import SOUNDS_ALONE
from glowreel.engine.sources import Sources
from tests.conftest import Files, Folder
from tests.engine.build import promo_of

SIDE, SECONDS = 120, 2
FILMS = [key for key, row in ENCODINGS.items() if row.whole]
Made = Callable[[Making], Path]


def grey(n: int) -> tuple[int, int, int]:
    """Each half of the footage has a colour of its own."""
    return (200, 40, 40) if n < 30 else (40, 40, 200)


@pytest.fixture
def promo(library: Folder, files: Files) -> Promo:
    footage = library.add(files.footage("halves.mp4", grey, frames=60))
    t = np.arange(48_000 * SECONDS) / 48_000
    tone = library.add(files.sound("tone.wav", np.stack([0.4 * np.sin(2 * np.pi * 440 * t)] * 2, axis=1)))
    return promo_of(footage, shelf=(tone,), commands=(AddSound(media=tone.id),))


@pytest.fixture
def made(promo: Promo, library: Folder, tmp_path: Path) -> Made:
    def make(making: Making) -> Path:
        out = tmp_path / f"film-{len(list(tmp_path.iterdir()))}{making.film_form.suffix}"
        folder = tmp_path / "parts"
        folder.mkdir(exist_ok=True)
        shown = promo.changed(layers=()) if making.clear else promo
        render_file(shown, SHIPPED["wide"], SIDE, Sources(library), out, folder, making=making)
        assert not list(folder.iterdir()), "no part is left behind"
        return out

    return make


def near(pixel: Any, colour: tuple[int, int, int], by: int = 12) -> bool:
    return all(abs(int(a) - b) <= by for a, b in zip(pixel[:3], colour, strict=True))


def test_every_form_is_encoded() -> None:
    assert set(ENCODINGS) | set(SOUNDS_ALONE) == set(FILM_FORMS)
    assert {key for key in FILM_FORMS if FILM_FORMS[key].clear} == {key for key, row in ENCODINGS.items() if row.clear}


@pytest.mark.parametrize("form", FILMS)
def test_a_film_of_every_form_has_all_frames_in_their_colours_and_its_sound(form: str, made: Made) -> None:
    path = made(read_making(form))
    with av.open(str(path)) as film:
        frames = [frame.to_ndarray(format="rgb24") for frame in film.decode(video=0)]
        at = [frame.shape for frame in frames[:1]]
    assert (len(frames), at) == (60, [(SIDE, 214, 3)])
    assert near(frames[5][60, 100], (200, 40, 40)), frames[5][60, 100]
    assert near(frames[55][60, 100], (40, 40, 200)), frames[55][60, 100]
    with av.open(str(path)) as film:
        heard = np.concatenate([f.to_ndarray().astype(float).reshape(-1) for f in film.decode(audio=0)])
        seconds = film.duration / av.time_base
    assert abs(seconds - SECONDS) < 0.06
    assert np.abs(heard).max() > 0.1 * (32767 if np.abs(heard).max() > 2 else 1)


def test_a_film_has_the_rate_that_was_chosen_and_lasts_as_long(made: Made) -> None:
    for rate, frames in (("24", 48), ("60", 120)):
        with av.open(str(made(read_making("h264", rate=rate)))) as film:
            assert (len(list(film.decode(video=0))), film.streams.video[0].average_rate) == (
                frames,
                Fraction(int(rate)),
            )


@pytest.mark.parametrize("form", [key for key, row in FILM_FORMS.items() if row.clear])
def test_what_can_be_seen_through_is_where_nothing_lies(
    form: str, library: Folder, files: Files, tmp_path: Path
) -> None:
    half = np.zeros((60, 60, 4), np.uint8)
    half[:, :30] = (30, 160, 30, 255)
    half[:30, 30:] = (200, 40, 40, 128)
    path = tmp_path / "half.png"
    Image.fromarray(half).save(path)
    promo = promo_of(library.add(path))
    folder = tmp_path / "parts"
    folder.mkdir()
    out = tmp_path / f"clear{FILM_FORMS[form].suffix}"
    making = read_making(form, "fine", clear=True)
    render_file(promo, SHIPPED["square"], SIDE, Sources(library), out, folder, making=making)
    seen = rgba(out, form)
    assert near(seen[60, 20], (30, 160, 30), 16)
    assert seen[60, 20][3] > 250
    assert seen[100, 100][3] < 6, "nothing lies there"
    if form != "gif":  # A GIF has no half.
        assert abs(int(seen[20, 100][3]) - 128) < 8
        assert near(seen[20, 100], (200, 40, 40), 20), "its colour is not darkened by what it lies on"


def rgba(path: Path, form: str) -> Any:
    """The first picture of a file, with its opacity."""
    if form == "png":
        with zipfile.ZipFile(path) as archive:
            return np.array(Image.open(BytesIO(archive.read("frame-00001.png"))).convert("RGBA"))
    if form in ("gif", "webp", "still"):
        with Image.open(path) as picture:
            return np.array(picture.convert("RGBA"))
    with av.open(str(path)) as film:
        stream = film.streams.video[0]
        if form != "vp9":
            return next(film.decode(stream)).to_ndarray(format="rgba")
        # The decoder that is taken by default leaves out what can be seen through.
        decoder: Any = av.CodecContext.create("libvpx-vp9", "r")
        return next(frame for packet in film.demux(stream) for frame in decoder.decode(packet)).to_ndarray(
            format="rgba"
        )


def test_moving_pictures_last_as_long_and_are_no_larger_than_asked(made: Made) -> None:
    for form in ("gif", "webp"):
        with Image.open(made(read_making(form))) as picture:
            whole = 0
            for number in range(picture.n_frames):
                picture.seek(number)
                picture.load()
                whole += picture.info["duration"]
            assert abs(whole - SECONDS * 1000) <= 80, form
            assert picture.info["loop"] == 0, "it goes on from the beginning"
            picture.seek(picture.n_frames - 1)
            assert near(np.array(picture.convert("RGB"))[60, 100], (40, 40, 200)), form


def test_pictures_are_numbered_and_a_still_is_taken_where_it_was_asked(made: Made, promo: Promo) -> None:
    with zipfile.ZipFile(made(read_making("png"))) as archive:
        assert archive.namelist()[::59] == ["frame-00001.png", "frame-00060.png"]
        assert near(np.array(Image.open(BytesIO(archive.read("frame-00060.png"))))[60, 100], (40, 40, 200))
    late = promo.rate.frame_start(45)
    assert near(np.array(Image.open(made(read_making("still", at=late))))[60, 100], (40, 40, 200))
    assert near(np.array(Image.open(made(read_making("still"))))[60, 100], (200, 40, 40))


@pytest.mark.parametrize("form", list(SOUNDS_ALONE))
def test_sound_alone_has_no_picture(form: str, made: Made) -> None:
    with av.open(str(made(read_making(form)))) as file:
        assert not file.streams.video
        heard = np.concatenate([f.to_ndarray().astype(float).reshape(-1) for f in file.decode(audio=0)])
    assert np.abs(heard).max() > 0.1 * (32767 if np.abs(heard).max() > 2 else 1)


@pytest.mark.parametrize("form", ["h264", "hevc", "av1", "vp9"])
def test_a_film_of_a_size_is_held_to_its_bits(form: str, library: Folder, files: Files, tmp_path: Path) -> None:
    noise = np.random.default_rng(3)
    path = tmp_path / "noise.mkv"
    with av.open(str(path), "w") as out:
        stream: Any = out.add_stream("ffv1", rate=30)
        stream.width, stream.height, stream.pix_fmt = 320, 180, "yuv420p"
        for _ in range(90):
            shown = noise.integers(0, 255, (45, 80, 3), dtype=np.uint8).repeat(4, 0).repeat(4, 1)
            out.mux(stream.encode(av.VideoFrame.from_ndarray(shown, format="rgb24")))
        out.mux(stream.encode(None))
    promo = promo_of(library.add(path))
    folder = tmp_path / "parts"
    folder.mkdir()
    sizes = {}
    for kilobits in (400, 1600):
        made = tmp_path / f"{kilobits}{FILM_FORMS[form].suffix}"
        making = read_making(form, kilobits=str(kilobits))
        render_file(promo, SHIPPED["wide"], 180, Sources(library), made, folder, making=making)
        sizes[kilobits] = made.stat().st_size * 8 / 3000
    assert sizes[400] < sizes[1600]
    assert sizes[400] < 400 * 1.6 + 60, sizes
    assert 700 < sizes[1600] < 1600 * 1.3 + 60, sizes


def test_sound_alone_needs_no_pieces(promo: Promo) -> None:
    assert plan(as_made(promo, Making(form="mp3")), Making(form="mp3")) == []
