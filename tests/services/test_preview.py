"""Previews over the real store: cached by what they show, held inside the promo, equal by frame and by run."""

import cv2
import numpy as np
import pytest
from sqlalchemy import select

from glowreel.core.document import Promo
from glowreel.core.errors import BadMedia, Missing, Refusal
from glowreel.core.time import SAMPLE_RATE
from glowreel.engine.draw import TooSlow
from glowreel.services import accounts, promos
from glowreel.services.blob_keys import original
from glowreel.services.preview import Preview
from glowreel.services.setup import Runtime
from glowreel.store.models import PromoRow
from tests.conftest import by
from tests.core.build import sets


@pytest.fixture(scope="module")
def preview(runtime: Runtime) -> Preview:
    return Preview(runtime)


@pytest.fixture(scope="module")
def demo(runtime: Runtime) -> tuple[str, str]:
    """Team and a copy of the finished demo promo."""
    with runtime.database.unit() as unit:
        team = accounts.demo_user(unit.session).team_id
        query = select(PromoRow.id).where(PromoRow.team_id == team, PromoRow.name == "Dawn flight vouchers")
        return team, promos.duplicate(unit.session, unit.session.scalar(query), by(team)).id


def opened(runtime: Runtime, demo: tuple[str, str]) -> Promo:
    with runtime.database.unit() as unit:
        return promos.open_promo(unit.session, demo[1], by(demo[0])).promo


def picture(preview: Preview, promo: Promo, format: str, frame: int, short: int = 180) -> np.ndarray:
    recipe, key = preview.recipe(promo, format, frame, short)
    return cv2.imdecode(np.frombuffer(preview.frame(promo, format, recipe, key, short), np.uint8), cv2.IMREAD_COLOR)


def test_frames_have_the_shape_of_their_format_and_show_something(preview, runtime, demo) -> None:
    promo = opened(runtime, demo)
    for format, size in (("wide", (180, 320)), ("square", (180, 180)), ("tall", (320, 180))):
        pixels = picture(preview, promo, format, 200)
        assert pixels.shape[:2] == size
        assert pixels.std() > 20


def test_a_frame_is_drawn_once_and_again_only_when_its_recipe_changed(preview, runtime, demo) -> None:
    before = opened(runtime, demo)
    item = next(i for i in before.items if i.values.get("text", "").startswith("Fly"))
    with runtime.database.unit() as unit:
        promos.edit(unit.session, demo[1], by(demo[0]), sets(item.id, text="Rise at first light"))
    after = opened(runtime, demo)
    keys = {
        (frame, promo is after): preview.recipe(promo, "wide", frame, 180)[1]
        for frame in (45, 400)
        for promo in (before, after)
    }
    assert keys[45, False] != keys[45, True]
    assert keys[400, False] == keys[400, True]
    assert preview.recipe(after, "wide", 400, 360)[1] != keys[400, True], "another size is another picture"


def test_frames_beyond_the_end_are_the_last_one(preview, runtime, demo) -> None:
    promo = opened(runtime, demo)
    assert preview.recipe(promo, "wide", 599, 180)[1] == preview.recipe(promo, "wide", 10**9, 180)[1]


def test_a_run_is_the_same_frames_in_a_row(preview, runtime, demo) -> None:
    promo = opened(runtime, demo)
    run = list(preview.run(promo, "square", 100, 5, 120))
    assert [key for key, _ in run] == [preview.recipe(promo, "square", n, 120)[1] for n in range(100, 105)]
    for n, (key, data) in enumerate(run):
        assert data == preview.frame(promo, "square", preview.recipe(promo, "square", 100 + n, 120)[0], key, 120)
    assert len(list(preview.run(promo, "square", 0, 10_000, 72))) <= 60


def test_sound_is_heard_and_comes_in_the_length_asked_for(preview, runtime, demo) -> None:
    promo = opened(runtime, demo)
    samples = np.frombuffer(preview.sound(promo, 5 * SAMPLE_RATE, SAMPLE_RATE)[0], np.int16)
    assert len(samples) == 2 * SAMPLE_RATE
    assert np.abs(samples).max() > 500
    past = np.frombuffer(preview.sound(promo, 60 * SAMPLE_RATE, 100)[0], np.int16)
    assert not past.any()
    with pytest.raises(Refusal, match="four seconds"):
        preview.sound(promo, 0, 10 * SAMPLE_RATE)


def test_a_sprite_is_the_layer_alone(preview, runtime, demo) -> None:
    promo = opened(runtime, demo)
    item = next(i for i in promo.items if i.values.get("text", "").startswith("hollow"))
    data = preview.sprite(promo, "wide", item.id, 360)
    pixels = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    assert pixels.shape == (360, 640, 4)
    assert 0 < (pixels[:, :, 3] > 0).mean() < 0.2
    song = promo.sounds[0].items[0]
    with pytest.raises(Missing):
        preview.sprite(promo, "wide", song.id, 360)


def test_sizes_and_formats_that_are_not_there_are_refused(preview, runtime, demo) -> None:
    promo = opened(runtime, demo)
    with pytest.raises(Refusal, match="fixed sizes"):
        preview.recipe(promo, "wide", 0, 361)
    with pytest.raises(Missing):
        preview.recipe(promo, "cinema", 0, 180)


def test_a_frame_that_took_too_long_is_not_tried_again_at_once(runtime, demo, monkeypatch) -> None:
    preview = Preview(runtime)
    promo = opened(runtime, demo)
    recipe, key = preview.recipe(promo, "wide", 77, 120)
    monkeypatch.setattr("glowreel.services.preview.FRAME_SECONDS", -1.0)
    with pytest.raises(TooSlow):
        preview.frame(promo, "wide", recipe, key, 120)
    monkeypatch.undo()
    with pytest.raises(TooSlow):
        preview.frame(promo, "wide", recipe, key, 120)
    preview._cache.delete(key)
    assert preview.frame(promo, "wide", recipe, key, 120)


def test_nothing_is_drawn_that_was_not_looked_at(runtime, demo) -> None:
    promo = opened(runtime, demo)
    media = next(m for m in promo.media.values() if m.kind == "footage")
    strange = "ab" * 32
    runtime.blobs.write(
        original(strange), lambda out: out.write_bytes(runtime.blobs.local(original(media.hash)).read_bytes())
    )
    media = media.changed(hash=strange)
    promo = promo.changed(media={**promo.media, media.id: media})
    with pytest.raises(BadMedia, match="has not been looked at yet"):
        frames = Preview(runtime)
        for n in range(0, 600, 20):
            recipe, key = frames.recipe(promo, "wide", n, 120)
            frames.frame(promo, "wide", recipe, key, 120)
