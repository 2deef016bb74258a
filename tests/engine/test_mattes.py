"""Cutting out: by a model, by a colour; and what is done with a matte when it is drawn."""

from __future__ import annotations

from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from tools.heads import head

from glowreel.core import commands as c
from glowreel.core.derived import Need
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.model import Applied, Box, Composite, DrawPicture, DrawShape, Fill, FrameRecipe, Matte
from glowreel.core.recipe.needs import needs
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import ticks
from glowreel.engine.draw import Canvas
from glowreel.engine.makers import settings_key
from glowreel.engine.mattes import fitted, guided, make_people
from glowreel.engine.sources import Sources
from glowreel.engine.things import make_things
from tests.conftest import Files, Folder
from tests.core.build import Table, measure, sets

NEED = Need("0" * 64, "people")


def test_a_person_in_a_photo_is_found_and_the_wall_is_not(tmp_path: Path) -> None:
    photo, out = tmp_path / "person.png", tmp_path / "matte"
    cv2.imwrite(str(photo), head(120))
    facts = make_people(photo, "photo", {}, out, lambda share: None)
    matte = cv2.imdecode(np.fromfile(out, np.uint8), cv2.IMREAD_GRAYSCALE)
    assert matte.shape == (320, 240)
    assert matte[130, 120] > 200, "the face"
    assert matte[285, 120] > 200, "the chest"
    assert matte[20:60, :20].mean() < 40, "the wall"
    assert facts["share"] == pytest.approx(matte.mean() / 255, abs=0.01)


def test_footage_has_a_matte_for_each_of_its_frames_and_it_follows(
    files: Files, library: Folder, tmp_path: Path
) -> None:
    film = tmp_path / "person.mp4"
    with av.open(str(film), "w") as out:
        stream = out.add_stream("libx264", rate=25, options={"crf": "12"})
        stream.width, stream.height, stream.pix_fmt = 240, 320, "yuv420p"
        for n in range(20):
            out.mux(stream.encode(av.VideoFrame.from_ndarray(head(70 + 5 * n), format="bgr24")))
        out.mux(stream.encode(None))
    media = library.add(film)
    told: list[float] = []
    make_people(film, "footage", {}, library.folder / f"{media.hash}.people.matte", told.append)
    assert told == sorted(told)
    assert len(told) == 20
    sources, need = Sources(library), Need(media.hash, "people")

    def middle(frame: int) -> float:
        """Where the face is, across."""
        matte = sources.matte(need, ticks(frame / 25))
        assert matte is not None
        row = matte[125:135].astype(float).mean(0)
        return float((row * np.arange(240)).sum() / row.sum())

    assert middle(2) == pytest.approx(80, abs=12)
    assert middle(18) == pytest.approx(160, abs=12)
    assert middle(2) == middle(2), "going back finds the same"
    picture = DrawPicture(media.hash, False, ticks(10 / 25), Box(0, 0, 1080, 1080), False, matte=Matte(need))
    seen = Canvas(sources, 120, 120).draw(FrameRecipe(1080, 1080, (Fill("#FF0000"), picture))).copy()
    assert seen[5, 5, :3].tolist() == [0, 0, 255], "behind what is cut out lies what is behind"
    assert seen[50, 60, 0] > 60, "the face is there"


def test_until_it_is_made_all_of_it_is_shown(files: Files, library: Folder) -> None:
    media = library.add(files.footage("flat.mp4", lambda n: (200, 100, 50), frames=3))
    picture = DrawPicture(media.hash, False, 0, Box(0, 0, 1920, 1080), False, matte=Matte(Need(media.hash, "people")))
    seen = Canvas(Sources(library), 192, 108).draw(FrameRecipe(1920, 1080, (picture,)))
    assert (seen[:, :, 3] == 255).all()


def test_the_edge_is_moved_and_softened_and_small_pieces_go() -> None:
    matte = np.zeros((200, 200), np.uint8)
    cv2.circle(matte, (80, 100), 50, 255, -1)
    cv2.circle(matte, (180, 20), 10, 255, -1)
    matte = cv2.GaussianBlur(matte, (0, 0), 3)

    def area(**how: float) -> float:
        return float((fitted(matte, Matte(NEED, **how), 200, 200) > 127).sum())

    plain = area()
    assert area(grow=0.5) > plain * 1.03
    assert area(grow=-0.5) < plain * 0.97
    assert area(largest=True) == pytest.approx(np.pi * 50**2, rel=0.03)
    soft = fitted(matte, Matte(NEED, soft=1.0), 200, 200)
    assert ((soft > 30) & (soft < 225)).sum() > 1.2 * ((matte > 30) & (matte < 225)).sum()
    assert fitted(matte, Matte(NEED), 100, 50).shape == (50, 100)


def test_the_guided_filter_brings_a_rough_edge_to_the_edge_of_the_picture() -> None:
    picture = np.zeros((100, 100), np.float32)
    picture[:, 50:] = 1
    rough = cv2.GaussianBlur(np.roll(picture, 3, 1) * 1.0, (0, 0), 6).astype(np.float32)
    made = guided(picture, rough, 8, 1e-4)
    assert made[50, 52] - made[50, 47] > 0.5
    assert made[50, 52] - made[50, 47] > 1.6 * (rough[50, 52] - rough[50, 47])


# ---- by a colour ----


def keyed(**values: object) -> np.ndarray:
    """A red square on a green wall, keyed; BGRA."""
    wall = (Fill("#00B140"), DrawShape(Box(270, 270, 540, 540), "#C8430B"))
    given = {"colour": "#00B140", "tolerance": 0.3, "soft": 0.2, "spill": 0.6, **values}
    group = Composite(wall, effects=(Applied("key", tuple(given.items())),), region=Box(0, 0, 1080, 1080))
    return Canvas(Sources(None), 120, 120).draw(FrameRecipe(1080, 1080, (group,))).copy()


def test_a_colour_is_taken_out_and_what_is_not_of_it_stays() -> None:
    seen = keyed()
    assert seen[10, 10].tolist() == [0, 0, 0, 0]
    assert seen[60, 60, 3] == 255
    assert np.abs(seen[60, 60, :3].astype(int) - [0x0B, 0x43, 0xC8]).max() <= 3
    darker = keyed(colour="#008030")
    assert darker[10, 10, 3] == 0, "how light it is does not matter much"
    nothing = keyed(tolerance=0.0, soft=0.0, colour="#0000FF")
    assert (nothing[:, :, 3] == 255).all()


def test_a_narrow_tolerance_with_a_wide_softness_leaves_half() -> None:
    far = keyed(tolerance=0.0, soft=1.0, colour="#40A060")
    assert 0 < far[10, 10, 3] < 255
    assert (far[:, :, :3] <= far[:, :, 3:4]).all()


def table_with_a_cup() -> np.ndarray:
    """A blue cup in the middle of a pale table, and a small plate of the table's own colour beside it."""
    picture = np.full((300, 400, 3), (205, 215, 222), np.uint8)
    cv2.ellipse(picture, (330, 220), (45, 18), 0, 0, 360, (150, 170, 178), -1)
    cv2.rectangle(picture, (140, 90), (240, 230), (170, 80, 30), -1)
    cv2.ellipse(picture, (190, 90), (50, 16), 0, 0, 360, (120, 50, 20), -1)
    cv2.ellipse(picture, (190, 230), (50, 16), 0, 0, 180, (170, 80, 30), -1)
    cv2.ellipse(picture, (250, 155), (28, 38), 0, -90, 90, (170, 80, 30), 12)
    return cv2.GaussianBlur(picture, (0, 0), 1.0)


def matte_of(photo: Path, out: Path, strokes: list | None = None) -> np.ndarray:
    make_things(photo, {"cut_strokes": strokes or []}, out, lambda share: None)
    return cv2.resize(cv2.imdecode(np.fromfile(out, np.uint8), cv2.IMREAD_GRAYSCALE), (400, 300))


def test_the_thing_that_a_photo_is_of_is_found_and_what_is_painted_stays_or_goes(tmp_path: Path) -> None:
    photo = tmp_path / "cup.png"
    cv2.imwrite(str(photo), table_with_a_cup())
    plain = matte_of(photo, tmp_path / "matte")
    assert plain[120:220, 150:230].mean() > 220, "the cup"
    assert plain[20:60].mean() < 30, "the table"
    assert plain[220, 330] < 100, "the plate is not what it is of"
    stays = matte_of(photo, tmp_path / "more", [[1, 0.06, [[0.76, 0.733], [0.89, 0.733]]]])
    assert stays[220, 305:355].mean() > 220
    assert stays[120:220, 150:230].mean() > 220, "the cup is still there"
    goes = matte_of(photo, tmp_path / "less", [[0, 0.2, [[0.4, 0.35], [0.55, 0.7], [0.65, 0.5]]]])
    assert goes[150:160, 180:200].mean() < 40


def test_a_photo_asks_for_its_thing_with_what_was_painted_and_footage_does_not() -> None:
    table = Table()
    table.do(c.InsertClips(media=("still", "ridge")))
    photo, footage = table.promo.clips
    for clip in (photo, footage):
        table.do(sets(clip.id, cutout="things"))
    (need,) = needs(table.promo)
    assert (need.maker, need.settings) == ("things", ())
    table.do(sets(photo.id, cut_strokes=[[1, 0.05, [[0.1, 0.2]]]]))
    (painted,) = needs(table.promo)
    assert painted.settings == (("cut_strokes", ((1, 0.05, ((0.1, 0.2),)),)),)
    op = frame_recipe(table.promo, SHIPPED["wide"], 0, measure).ops[-1]
    assert isinstance(op, DrawPicture)
    assert op.matte is not None
    assert op.matte.need == painted
    assert settings_key("things", dict(painted.settings)) != settings_key("things", {})
    with pytest.raises(Refusal):
        table.do(sets(photo.id, cut_strokes=[[1, 0.9, [[0.1, 0.2]]]]))


@pytest.mark.parametrize("grow", [-1.0, -0.5, 0.5, 1.0])
def test_a_moved_edge_leaves_what_is_nothing_and_what_is_all(grow: float) -> None:
    matte = np.zeros((80, 80), np.uint8)
    matte[20:60, 20:60] = 255
    made = fitted(matte, Matte(NEED, grow=grow, soft=0.4), 80, 80)
    assert made[:6].max() < 3
    assert made[38:42, 38:42].min() > 252
    assert (made.astype(int).sum() > fitted(matte, Matte(NEED, soft=0.4), 80, 80).astype(int).sum()) == (grow > 0)
