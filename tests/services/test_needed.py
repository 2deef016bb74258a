"""What recipes name: begun with the edit or the first look, heard without it meanwhile, and waited for by exports."""

from __future__ import annotations

import time
from datetime import timedelta
from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from sqlalchemy import delete, select, update

from glowreel.core.commands import AddSound, InsertClips, SetWhole
from glowreel.core.derived import Need
from glowreel.core.document import Promo
from glowreel.core.recipe.needs import needs
from glowreel.services import exports, needed, promos
from glowreel.services.preview import Preview
from glowreel.services.setup import Runtime
from glowreel.store.models import Derived, ExportFile, now
from tests.conftest import Files, by
from tests.core.build import sets
from tests.engine.test_mattes import head
from tests.services.test_exports import begin, film, team, wait
from tests.services.test_shelf import bring
from tests.services.test_shelf import wait as wait_for_files

__all__ = ["team"]


@pytest.fixture
def promo_id(runtime: Runtime, team: str, files: Files) -> str:
    """A photo with a quiet sound that is to be levelled; nobody is at measuring it."""
    tone = 0.02 * np.sin(np.arange(2 * 48000) / 7)
    still = files.folder / "flat.png"
    cv2.imwrite(str(still), np.full((90, 160, 3), 90, np.uint8))
    ids = [bring(runtime, team, path) for path in (still, files.sound("quiet.wav", np.stack([tone, tone], 1)))]
    wait_for_files(runtime, ids)
    with runtime.database.unit() as unit:
        promo_id = promos.create(unit.session, by(team), "Quiet", ("wide",)).id
        promos.edit(unit.session, promo_id, by(team), InsertClips(media=(ids[0],)))
        promos.edit(unit.session, promo_id, by(team), SetWhole(loudness="mixed"))
        _, added = promos.edit(unit.session, promo_id, by(team), AddSound(media=ids[1]))
        promos.edit(unit.session, promo_id, by(team), sets(added.select[0], levelled=True))
    return promo_id


def test_a_person_is_cut_out_by_a_worker_and_seen_so_in_preview_and_export(
    runtime: Runtime, team: str, files: Files
) -> None:
    photo = files.folder / "person.png"
    cv2.imwrite(str(photo), head(120))
    (key,) = [bring(runtime, team, photo)]
    wait_for_files(runtime, [key])
    with runtime.database.unit() as unit:
        promo_id = promos.create(unit.session, by(team), "Cut", ("wide",)).id
        promos.edit(unit.session, promo_id, by(team), InsertClips(media=(key,)))
        clip = promos.open_promo(unit.session, promo_id, by(team)).promo.clips[0].id
        values = {"cutout": "people", "fit": "letterbox", "ground": "colour", "ground_colour": "#FF0000"}
        promo = promos.edit(unit.session, promo_id, by(team), sets(clip, **values))[0].promo
    preview = Preview(runtime)
    recipe, name = preview.recipe(promo, "wide", 0, 180)
    assert preview.waits(recipe)
    whole = cv2.imdecode(np.frombuffer(preview.frame(promo, "wide", recipe, name, 180), np.uint8), cv2.IMREAD_COLOR)
    assert whole[20, 160, 1] > 100, "the wall is there as long as it is not cut out"
    (file_id,) = begin(runtime, team, promo_id, ("wide",), 480)
    assert wait(runtime, [file_id])[0][0] == "done"
    assert not preview.waits(recipe)
    seen = cv2.imdecode(np.frombuffer(preview.frame(promo, "wide", recipe, name, 180), np.uint8), cv2.IMREAD_COLOR)
    with av.open(str(film(runtime, file_id))) as made:
        exported = next(made.decode(video=0)).to_ndarray(format="bgr24")
    for picture in (seen, cv2.resize(exported, (320, 180), interpolation=cv2.INTER_AREA)):
        assert picture[12, 108].astype(int) == pytest.approx([0, 0, 254], abs=16), "behind it lies its ground"
        assert picture[75, 160, 0] > 90, "the face"


def loudest(path: Path) -> float:
    with av.open(str(path)) as opened:
        return max(float(np.abs(frame.to_ndarray()).max()) for frame in opened.decode(audio=0))


def held(runtime: Runtime, team: str, promo_id: str, **values: object) -> tuple[Promo, Need]:
    """The promo and what it names, which is in a state as if a worker had it."""
    with runtime.database.unit() as unit:
        promo = promos.open_promo(unit.session, promo_id, by(team)).promo
        (need,) = needs(promo)
        unit.session.execute(delete(Derived).where(Derived.hash == need.source))
        assert needed.look(unit.session, promo).waiting == (need,)
        needed.begin(unit, promo, by(team))
        unit.forget()
        unit.session.execute(update(Derived).where(Derived.hash == need.source).values(**values))
    return promo, need


def test_an_export_waits_for_what_is_being_made_and_the_preview_does_not(
    runtime: Runtime, team: str, promo_id: str
) -> None:
    promo, need = held(runtime, team, promo_id, state="running", lease_until=now() + timedelta(hours=1))
    with runtime.database.unit() as unit:
        found = needed.look(unit.session, promo)
    assert (found.waiting, found.failed) == ((need,), "")
    data, waits = Preview(runtime).sound(promo, 0, 48000, found.known)
    assert waits == (need,)
    assert np.abs(np.frombuffer(data, np.int16)).max() == pytest.approx(0.02 * 32767, abs=2)
    (file_id,) = begin(runtime, team, promo_id, ("wide",))
    for _ in range(300):
        with runtime.database.unit() as unit:
            file = unit.session.get_one(ExportFile, file_id)
            if file.error:
                break
        time.sleep(0.1)
    assert (file.state, file.error, file.attempts) == ("planning", exports.WAITS, 0)
    with runtime.database.unit() as unit:
        row = unit.session.scalars(select(Derived).where(Derived.hash == need.source)).one()
        row.state, row.lease_until = "queued", None
        unit.later("glowreel.derive", row.id)
    assert wait(runtime, [file_id])[0][0] == "done"
    with runtime.database.unit() as unit:
        facts = needed.look(unit.session, promo).known(need)
    # A tone of 0.02 is far below −18 LUFS: it is lifted by as much as its measured loudness says.
    lifted = 0.02 * 10 ** ((-18 - facts["lufs"]) / 20)
    assert lifted > 0.05
    assert loudest(film(runtime, file_id)) == pytest.approx(lifted, rel=0.1)
    data, waits = Preview(runtime).sound(promo, 0, 48000, {need: facts}.get)
    assert waits == ()
    assert np.abs(np.frombuffer(data, np.int16)).max() / 32767 == pytest.approx(lifted, rel=0.01)


def test_what_cannot_be_made_is_said_and_tried_again_with_the_export(
    runtime: Runtime, team: str, promo_id: str
) -> None:
    promo, need = held(runtime, team, promo_id, state="stopped")
    (file_id,) = begin(runtime, team, promo_id, ("wide",))
    assert wait(runtime, [file_id])[0][0] == "failed"
    with runtime.database.unit() as unit:
        file = unit.session.get_one(ExportFile, file_id)
        assert file.error == "quiet.wav could not be made ready: it was stopped."
        exports.retry(unit, file)
    assert wait(runtime, [file_id])[0][0] == "done"
