"""What is seen is what is exported, and what a bundle carries, where everything is used at once."""

import subprocess
import sys
from pathlib import Path

import cv2
import numpy as np
import pytest

from glowreel.core.document import Promo
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.timeline import timeline
from glowreel.demo.scenario import MEDIA
from glowreel.engine.draw import Canvas
from glowreel.engine.frames import FrameMaker
from glowreel.engine.intake import take_in
from glowreel.engine.sources import Sources
from glowreel.engine.still import draw_still
from glowreel.engine.typesetting import measure
from glowreel.interchange.bundles import write_bundle
from tests.conftest import Folder
from tests.engine.everything import FILES, everything


@pytest.fixture(scope="module")
def made(tmp_path_factory) -> tuple[Promo, Folder, Folder]:
    """The promo, its files as they came, and their stand-ins."""
    own, small = Folder(tmp_path_factory.mktemp("own")), Folder(tmp_path_factory.mktemp("small"))
    media = {name: own.add(MEDIA / name) for name in FILES}
    for name, one in media.items():
        folder = small.folder / name
        folder.mkdir()
        intake = take_in(MEDIA / name, name, folder, lambda *_: None, lambda *_: None)
        small.replace(one, folder / "proxy")
        if "picture" in intake.made:
            own.replace(one, folder / "picture")
    return everything(media), own, small


@pytest.mark.parametrize("shape", ["wide", "tall"])
def test_a_preview_shows_what_the_export_has_wherever_everything_is_used(made, shape: str) -> None:
    promo, own, small = made
    format = SHIPPED[shape]
    # As large as the stage of a usual window asks for.
    size, full = format.size(480), format.size(1080)
    canvas, maker = Canvas(Sources(small), *size), FrameMaker(Sources(own), *full)
    frames = timeline(promo).frame_count
    found = {}
    for n in range(5, frames, 33):
        recipe = frame_recipe(promo, format, promo.rate.frame_start(n), measure)
        seen = canvas.draw(recipe)[:, :, :3].astype(int)
        encoded = maker.make(recipe).reformat(format="bgr24", src_colorspace=1, src_color_range=1)
        exported = cv2.resize(encoded.to_ndarray(format="bgr24"), size, interpolation=cv2.INTER_AREA)
        found[n] = float(np.abs(seen - exported.astype(int)).mean())
    assert np.mean(list(found.values())) < 2, found
    assert max(found.values()) < 2.7, found
    assert len(found) > 5


@pytest.mark.long
def test_a_bundle_carries_it_all_and_draws_the_same_without_a_server(made, tmp_path: Path) -> None:
    promo, own, _ = made
    bundle = tmp_path / "all.otioz"
    by_hash = {one.hash: MEDIA / one.name for one in promo.media.values()}
    write_bundle(promo, lambda source: by_hash[source], bundle)
    for at in (0.5, 3.1, 6.4):
        out = tmp_path / "frame.png"
        command = ["frame", str(bundle), "-o", str(out), "--at", str(at), "--height", "180", "--format", "wide"]
        subprocess.run([sys.executable, "-m", "glowreel.cli", *command], check=True, capture_output=True)
        rendered = cv2.imread(str(out)).astype(int)
        direct = draw_still(promo, SHIPPED["wide"], promo.rate.snap(round(at * 705_600_000)), 180, Sources(own))
        assert rendered.shape[:2] == direct.shape[:2]
        assert np.abs(rendered - direct[:, :, :3].astype(int)).mean() < 0.6, at
