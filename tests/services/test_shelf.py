"""Files coming in through the real worker: good ones are made ready, bad ones get a sentence."""

import time

import numpy as np
import pytest
from PIL import Image
from sqlalchemy import select

from glowreel.core.errors import BadMedia
from glowreel.core.media import Media
from glowreel.core.time import ticks
from glowreel.services import promos, shelf
from glowreel.services.blob_keys import derived, original
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile
from tests.conftest import Files, by
from tests.services.test_promos import new_team


@pytest.fixture(scope="module")
def team(runtime: Runtime) -> str:
    return new_team(runtime)


def bring(runtime: Runtime, team: str, path) -> str:
    with path.open("rb") as stream:
        source, size = shelf.receive(runtime.blobs, path.parent / "in", stream)
    with runtime.database.unit() as unit:
        return shelf.add(unit, by(team), path.name, source, size).id


def wait(runtime: Runtime, ids: list[str]) -> dict[str, MediaFile]:
    for _ in range(900):
        with runtime.database.unit() as unit:
            rows = {row.id: row for row in unit.session.scalars(select(MediaFile).where(MediaFile.id.in_(ids)))}
        if all(row.state in ("ready", "failed") for row in rows.values()):
            return rows
        time.sleep(0.1)
    raise AssertionError({row.name: row.state for row in rows.values()})


def test_many_at_once_and_a_bad_one_blocks_none(runtime: Runtime, team: str, files: Files) -> None:
    good = files.footage("good.mp4", lambda n: (90, 60, 30), frames=45, tone=300)
    song = files.sound("song.wav", np.full((48000 * 2, 2), 0.25))
    broken = files.folder / "broken.mp4"
    broken.write_bytes(good.read_bytes()[:2000])
    ids = [bring(runtime, team, path) for path in (broken, good, song)]
    rows = wait(runtime, ids)
    assert [rows[i].state for i in ids] == ["failed", "ready", "ready"]
    assert "broken.mp4" in rows[ids[0]].error
    facts = Media.model_validate(rows[ids[1]].facts)
    assert (facts.kind, facts.length, facts.sounding) == ("footage", ticks(1.5), True)
    for name in ("proxy", "poster.jpg", "strip.jpg", "samples", "peaks"):
        assert runtime.blobs.has(derived(facts.hash, name)), name
    assert Media.model_validate(rows[ids[2]].facts).length == ticks(2)


def test_what_an_earlier_program_looked_at_is_used_while_it_is_looked_at_anew(
    runtime: Runtime, team: str, files: Files
) -> None:
    key = bring(runtime, team, files.footage("early.mp4", lambda n: (10, 60, 90), frames=30))
    wait(runtime, [key])
    with runtime.database.unit() as unit:
        row = unit.session.get_one(MediaFile, key)
        row.made, row.facts = 1, {name: value for name, value in row.facts.items() if name != "subject"}
        unit.session.flush()
        assert shelf.make_anew(unit.session) >= 1
        unit.session.refresh(row)
        assert row.state == "queued"
        assert promos.team_media(unit.session, by(team), {key})[key].subject is None, "it can be used"
        unit.later("glowreel.ingest", key)
    (row,) = wait(runtime, [key]).values()
    assert (row.made, row.facts["subject"]) == (shelf.MAKER, {"shots": []}), "more is known of it now"


def test_the_same_file_twice_is_one_file(runtime: Runtime, team: str, files: Files) -> None:
    song = files.sound("twice.wav", np.full((4800, 2), 0.1))
    assert bring(runtime, team, song) == bring(runtime, team, song)


def test_two_workers_never_take_the_same_file(runtime: Runtime, team: str, files: Files) -> None:
    with runtime.database.unit() as unit:
        row = MediaFile(id="m-claim", team_id=team, name="x", hash="0" * 64, size=1)
        unit.session.merge(row)
        unit.session.flush()
        assert shelf.claim(unit.session, "m-claim") is not None
        assert shelf.claim(unit.session, "m-claim") is None
        unit.session.get_one(MediaFile, "m-claim").state = "failed"


def test_names_are_only_ever_words() -> None:
    assert shelf.clean_name("../../etc/pass\x00wd.MP4") == ("passwd.MP4", ".mp4")
    assert shelf.clean_name("C:\\films\\dawn.mov")[0] == "dawn.mov"
    assert shelf.clean_name("///") == ("Unnamed file", "")


def test_uploads_beyond_the_limit_stop_at_once(runtime: Runtime, files: Files, tmp_path) -> None:
    song = files.sound("big.wav", np.full((48000, 2), 0.1))
    with song.open("rb") as stream, pytest.raises(BadMedia, match="larger than"):
        shelf.receive(runtime.blobs, tmp_path, stream, limit=1000)
    assert not list(tmp_path.glob("upload-*"))


def test_the_pages_of_a_document_become_pictures_in_order(runtime: Runtime, team: str, files: Files) -> None:
    path = files.folder / "Spring plan.pdf"
    colours = [(200, 40, 40), (40, 160, 60), (40, 60, 180)]
    first, *others = (Image.new("RGB", (400, 225), colour) for colour in colours)
    first.save(path, save_all=True, append_images=others)
    key = bring(runtime, team, path)
    assert wait(runtime, [key])[key].state == "ready"
    with runtime.database.unit() as unit:
        listed = [row for row in shelf.list_media(unit.session, by(team)) if row.folder == "Spring plan"]
        assert [row.name for row in listed] == [f"Spring plan {n:03}.png" for n in (1, 2, 3)], "the first page first"
        assert unit.session.get_one(MediaFile, key).removed_at is not None, "the document itself is none of the files"
    rows = wait(runtime, [row.id for row in listed])
    for row, colour in zip(listed, colours, strict=True):
        facts = Media.model_validate(rows[row.id].facts)
        assert (facts.kind, facts.height) == ("photo", 2160)
        with Image.open(runtime.blobs.local(original(row.hash))) as page:
            assert np.abs(np.asarray(page.convert("RGB"))[1000, 1000].astype(int) - colour).max() < 6


def test_a_document_that_cannot_be_read_says_so(runtime: Runtime, team: str, files: Files) -> None:
    path = files.folder / "broken.pdf"
    path.write_bytes(b"%PDF-1.7\n" + bytes(range(256)) * 4)
    row = wait(runtime, [key := bring(runtime, team, path)])[key]
    assert (row.state, row.error) == ("failed", "broken.pdf is damaged and cannot be read. Save it again as PDF.")
