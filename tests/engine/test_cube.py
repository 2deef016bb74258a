"""Looks that come in files."""

from pathlib import Path

import cv2
import numpy as np
import pytest

from glowreel.core import commands as c
from glowreel.core.commands import Context, apply
from glowreel.core.errors import BadMedia, Refusal
from glowreel.core.formats import SHIPPED
from glowreel.engine.cube import put_on, read_cube
from glowreel.engine.intake import take_in
from glowreel.engine.probe import probe
from glowreel.engine.sources import Sources
from glowreel.engine.still import draw_still
from tests.conftest import Files, Folder
from tests.core.build import numbered, sets
from tests.engine.build import promo_of


def write(path: Path, size: int, colours, head: str = "LUT_3D_SIZE") -> Path:
    """A table: for each red, green and blue between 0 and 1 what it becomes."""
    steps = np.linspace(0, 1, size)
    rows = [colours(r, g, b) for b in steps for g in steps for r in steps] if "3D" in head else [
        colours(v, v, v) for v in steps
    ]  # fmt: skip
    lines = [f"{r:.6f} {g:.6f} {b:.6f}" for r, g, b in rows]
    path.write_text("\n".join(["# a look", 'TITLE "Dusk"', f"{head} {size}", *lines]))
    return path


def pixels() -> np.ndarray:
    return np.random.default_rng(4).integers(0, 256, (40, 50, 3), dtype=np.uint8)


@pytest.mark.parametrize("size", [2, 17, 33])
def test_a_table_that_changes_nothing_changes_nothing(tmp_path: Path, size: int) -> None:
    table = read_cube(write(tmp_path / "same.cube", size, lambda r, g, b: (r, g, b)))
    assert np.abs(put_on(pixels(), table, 1.0).astype(int) - pixels()).max() <= 1


def test_a_table_turns_colours_as_it_says(tmp_path: Path) -> None:
    swapped = read_cube(write(tmp_path / "swap.cube", 9, lambda r, g, b: (b, r, g)))
    made = put_on(pixels(), swapped, 1.0).astype(int)
    assert np.abs(made - pixels()[:, :, [1, 2, 0]]).max() <= 1
    half = put_on(pixels(), swapped, 0.5).astype(int)
    assert np.abs(half - (made + pixels()) / 2).max() <= 1
    darker = read_cube(write(tmp_path / "dark.cube", 64, lambda r, g, b: (r * 0.5, g * 0.5, b), "LUT_1D_SIZE"))
    assert np.abs(put_on(pixels(), darker, 1.0) - pixels() * (1.0, 0.5, 0.5)).max() <= 1.5


@pytest.mark.parametrize(
    "text", ["LUT_3D_SIZE 3\n0 0 0\n", "LUT_3D_SIZE 900\n", "LUT_3D_SIZE 2\nred green blue\n",
             "LUT_1D_SIZE 2\n0 0 0\nnan 0 0\n", "LUT_3D_SIZE\n0 0 0\n"],
)  # fmt: skip
def test_a_broken_table_is_refused_in_a_sentence(tmp_path: Path, text: str) -> None:
    path = tmp_path / "bad.cube"
    path.write_text(text)
    with pytest.raises(BadMedia, match=r"bad\.cube"):
        probe(path, "bad.cube")


def test_a_look_comes_in_and_is_put_on_a_clip(tmp_path: Path, files: Files, library: Folder) -> None:
    path = write(tmp_path / "dusk.cube", 5, lambda r, g, b: (b, g, r))
    made = take_in(path, "dusk.cube", tmp_path, lambda *_: None, lambda *_: None)
    assert made.facts.kind == "look"
    poster = cv2.imread(str(tmp_path / "poster.jpg"))
    assert poster.std() > 20
    look, clip = library.add(path), library.add(files.footage("red.mp4", lambda _: (210, 60, 30)))
    promo = promo_of(clip)
    context = Context(numbered("l"), {m.id: m for m in (look, clip)})
    key = promo.clips[0].id
    promo = apply(promo, c.FillPicture(item=key, name="filter", media=look.id), context).promo
    assert promo.clips[0].read("filter") == "file"
    frame = draw_still(promo, SHIPPED["wide"], 0, 180, Sources(library))
    assert frame[90, 160, 2::-1].astype(int) == pytest.approx([30, 60, 210], abs=4)
    weak = apply(promo, sets(key, filter_strength=0.0), context).promo
    assert draw_still(weak, SHIPPED["wide"], 0, 180, Sources(library))[90, 160, 2] == pytest.approx(210, abs=4)
    with pytest.raises(Refusal):
        apply(promo, c.FillPicture(item=key, name="filter", media=clip.id), context)
    for command in (c.InsertClips(media=(look.id,)), c.AddPicture(media=look.id), c.AddSound(media=look.id),
                    c.Replace(item=key, media=look.id), c.FillPicture(item=key, name="mask",
                    media=look.id)):  # fmt: skip
        with pytest.raises(Refusal):
            apply(promo, command, context)
