"""Files that come in piece by piece, by a link, and from an address."""

from __future__ import annotations

import hashlib
import io
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pillow_heif
import pytest
from PIL import Image
from sqlalchemy import select

from glowreel.core.errors import Missing, NoRoom, Refusal
from glowreel.engine.limits import MAX_BYTES
from glowreel.interchange.page_media import shown_on
from glowreel.services import activity, by_link, retention, upload_links, uploads
from glowreel.services.access import Actor
from glowreel.services.blob_keys import original
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile, Upload, UploadLink, User, now
from tests.conftest import Files, by
from tests.services.test_promos import new_team


@pytest.fixture
def team(runtime: Runtime) -> str:
    return new_team(runtime)


def begun(runtime: Runtime, team: str, name: str, size: int) -> Upload:
    with runtime.database.unit() as unit:
        return uploads.begin(runtime, unit, by(team), name, size)


def text_of(count: int) -> bytes:
    return str(time.time_ns()).encode() * (count // 19 + 1)


def test_what_has_come_stays_and_the_rest_goes_on_where_it_ended(runtime: Runtime, team: str) -> None:
    data = text_of(3_000_000)
    row = begun(runtime, team, "../../holiday.mp4", len(data))
    assert row.name == "holiday.mp4"
    assert uploads.append(runtime, row, 0, io.BytesIO(data[:1_000_001])) == 1_000_001
    with pytest.raises(uploads.Elsewhere):
        uploads.append(runtime, row, 999, io.BytesIO(data[999:]))
    assert uploads.finished(runtime, by(team), row.id).media_id is None
    # What is sent beyond the end that was told is not taken.
    assert uploads.append(runtime, row, 1_000_001, io.BytesIO(data[1_000_001:] + b"more")) == len(data)
    done = uploads.finished(runtime, by(team), row.id)
    assert uploads.finished(runtime, by(team), row.id).media_id == done.media_id, "asked for again, it is the same"
    with runtime.database.unit() as unit:
        media = unit.session.get_one(MediaFile, done.media_id)
        assert (media.hash, media.size) == (hashlib.sha256(data).hexdigest(), len(data))
    assert runtime.blobs.local(original(media.hash)).read_bytes() == data
    assert not uploads.part_of(runtime, row.id).exists()


def test_the_same_bytes_are_one_file_of_the_shelf(runtime: Runtime, team: str) -> None:
    data = text_of(40_000)
    found = []
    for name in ("one.bin", "other name.bin"):
        row = begun(runtime, team, name, len(data))
        uploads.append(runtime, row, 0, io.BytesIO(data))
        found.append(uploads.finished(runtime, by(team), row.id))
    assert found[0].media_id == found[1].media_id
    assert [one.known for one in found] == [False, True]


def test_a_piece_that_was_changed_on_its_way_is_dropped(runtime: Runtime, team: str) -> None:
    row = begun(runtime, team, "a.bin", 8)
    uploads.append(runtime, row, 0, io.BytesIO(b"1234"))
    with pytest.raises(uploads.Damaged):
        uploads.append(runtime, row, 4, io.BytesIO(b"56x8"), ("sha256", hashlib.sha256(b"5678").digest()))
    assert uploads.arrived(runtime, row) == 4
    assert uploads.append(runtime, row, 4, io.BytesIO(b"5678"), ("sha256", hashlib.sha256(b"5678").digest())) == 8


@pytest.mark.parametrize(("size", "code"), [(0, "empty"), (MAX_BYTES + 1, "too-large")])
def test_what_cannot_be_taken_is_refused_before_it_is_sent(runtime: Runtime, team: str, size: int, code: str) -> None:
    with pytest.raises(Refusal) as refused:
        begun(runtime, team, "film.mp4", size)
    assert refused.value.code == code
    assert not isinstance(refused.value, NoRoom)


def test_nobody_else_goes_on_with_an_upload_and_what_is_left_alone_has_an_end(runtime: Runtime, team: str) -> None:
    row = begun(runtime, team, "mine.bin", 10)
    with runtime.database.unit() as unit:
        for who in (by(new_team(runtime)), Actor.sender("l-x", team)):
            link_id = "l-x" if who.kind == "link" else None
            with pytest.raises(Missing):
                uploads.find(unit.session, who, row.id, link_id)
        unit.session.get_one(Upload, row.id).until = now() - timedelta(minutes=1)
    assert retention.tidy(runtime)["uploads"] >= 1
    with runtime.database.unit() as unit:
        assert unit.session.get(Upload, row.id) is None
    assert not uploads.part_of(runtime, row.id).exists()


def linked(runtime: Runtime, team: str, most: int = 5) -> UploadLink:
    with runtime.database.unit() as unit:
        user = unit.session.scalars(select(User.id).where(User.team_id == team)).first()
        return upload_links.make(unit.session, by(team, user), None, 1, most)


def test_a_link_takes_so_many_files_and_ends(runtime: Runtime, team: str) -> None:
    link = linked(runtime, team)
    for number in range(5):
        with runtime.database.unit() as unit:
            row = upload_links.begin(runtime, unit, link.token, f"{number}.jpg", 4)
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="takes no more"):
        upload_links.begin(runtime, unit, link.token, "6.jpg", 4)
    with runtime.database.unit() as unit:
        door = upload_links.opened(unit.session, link.token)
        assert uploads.find(unit.session, door.actor, row.id, link.id).id == row.id
        with pytest.raises(Missing):  # What comes by the link is not the team's to go on with by itself.
            uploads.find(unit.session, by(team), row.id)
        upload_links.end(unit.session, by(team), link.id)
        with pytest.raises(Missing, match="ended"):
            upload_links.opened(unit.session, link.token)
    with runtime.database.unit() as unit, pytest.raises(Missing):
        upload_links.end(unit.session, by(new_team(runtime)), link.id)


def test_a_link_is_forgotten_a_month_after_its_end_with_what_came_by_it(runtime: Runtime, team: str) -> None:
    link, kept = linked(runtime, team), linked(runtime, team)
    with runtime.database.unit() as unit:
        row = upload_links.begin(runtime, unit, link.token, "a.jpg", 4)
        unit.session.get_one(UploadLink, link.id).until = now() - timedelta(days=31)
    uploads.collect(runtime)
    with runtime.database.unit() as unit:
        assert unit.session.get(UploadLink, link.id) is None
        assert unit.session.get(Upload, row.id) is None
        assert unit.session.get(UploadLink, kept.id) is not None


def test_whoever_has_a_link_may_add_and_nothing_else(runtime: Runtime, team: str) -> None:
    link = linked(runtime, team)
    with runtime.database.unit() as unit:
        actor = upload_links.opened(unit.session, link.token).actor
    assert [verb for verb in ("see", "make", "fill", "add", "edit", "remove", "export") if actor.may(verb)] == ["add"]


PAGE = """<body><img class="site-logo" src="/logo.png"><img src="dot.gif" width="1" height="1">
<img src="small.jpg" srcset="small.jpg 320w, big.jpg 1280w" alt=" A  field "><a href="film.mp4">The film</a>
<video poster="still.png"><source src="clip.webm"></video><img src="data:image/png;base64,xx"><img src="big.jpg">
<picture><source srcset="p.avif 1x, p2.avif 2x"></picture><img src="javascript:alert(1)"><a href="page.html">x</a>
<audio src="https://cdn.example/song.mp3"></audio></body>"""


def test_a_page_offers_the_largest_of_what_it_shows_once_and_its_logo_first() -> None:
    shown = shown_on(PAGE, "https://firm.example/about/")
    base = "https://firm.example/about/"
    assert [(one.kind, one.url) for one in shown] == [
        ("logo", "https://firm.example/logo.png"), ("picture", base + "big.jpg"), ("footage", base + "film.mp4"),
        ("picture", base + "still.png"), ("footage", base + "clip.webm"), ("picture", base + "p2.avif"),
        ("sound", "https://cdn.example/song.mp3"),
    ]  # fmt: skip
    assert shown[1].name == "A field"


def until(true: Callable[[], Any], seconds: float = 60) -> Any:
    for _ in range(int(seconds * 10)):
        if found := true():
            return found
        time.sleep(0.1)
    raise AssertionError("waited in vain")


def test_what_is_picked_on_a_page_is_fetched_by_a_worker(runtime: Runtime, team: str) -> None:
    offer = by_link.look(runtime, by(team), "hollowmere.example")
    film = next(one for one in offer.shown if one.kind == "footage")
    assert not offer.file
    assert offer.shown[0].kind == "logo"
    assert by_link.look(runtime, by(team), film.url).file
    picture = next(one for one in offer.shown if one.url.endswith("fields-below.jpg"))
    assert by_link.thumbnail(runtime, picture.url).kind == "image/jpeg"
    with runtime.database.unit() as unit:
        keys = [by_link.begin(unit, by(team), one.url).id for one in (film, picture)]

    def came() -> list[str] | None:
        with runtime.database.unit() as unit:
            rows = [unit.session.get_one(Upload, key) for key in keys]
            return [str(row.media_id) for row in rows] if all(row.media_id for row in rows) else None

    media = until(came)
    with runtime.database.unit() as unit:
        assert [unit.session.get_one(MediaFile, key).name for key in media] == ["first-light.mp4", "fields-below.jpg"]


@pytest.mark.parametrize(("address", "sentence"), [
    ("http://127.0.0.1:80/a.mp4", "not one of the open web"), ("https://hollowmere.example/leads/here", "open web"),
    ("https://hollowmere.example/leads/metadata", "open web"), ("https://hollowmere.example/style.css", "neither"),
    ("https://hollowmere.example/nothing.mp4", "nothing at"), ("", "address"),
])  # fmt: skip
def test_addresses_that_lead_where_nobody_may_or_to_nothing_are_refused_in_a_sentence(
    runtime: Runtime, team: str, address: str, sentence: str
) -> None:
    with pytest.raises(Refusal, match=sentence):
        by_link.look(runtime, by(team), address)


def test_a_file_that_cannot_be_fetched_says_so_in_the_activity_until_it_is_put_away(
    runtime: Runtime, team: str
) -> None:
    with runtime.database.unit() as unit:
        key = by_link.begin(unit, by(team), "https://hollowmere.example/leads/metadata", "secret.png").id
    actor = by(team)

    def told() -> activity.Doing | None:
        with runtime.database.unit() as unit:
            rows = activity.going_on(runtime, unit.session, actor)
            return next((row for row in rows if row.key == key and row.failed), None)

    assert "open web" in until(told).said
    with runtime.database.unit() as unit:
        with pytest.raises(Missing):
            activity.again(runtime, unit, by(new_team(runtime)), "upload", key)
        activity.again(runtime, unit, actor, "upload", key)
    until(told)
    with runtime.database.unit() as unit:
        activity.end(runtime, unit, by(new_team(runtime)), "upload", key)
    assert told(), "another team ends nothing of this one"
    with runtime.database.unit() as unit:
        activity.end(runtime, unit, actor, "upload", key)
    assert told() is None


@pytest.mark.long
def test_sixty_mixed_files_come_in_and_none_keeps_another_waiting(
    runtime: Runtime, team: str, files: Files, tmp_path: Path
) -> None:
    """Pictures, footage, sounds, a document, and much that is broken: everything is ready or says why not."""
    sent: dict[str, bool] = {}
    good = _mixed(files, tmp_path)
    for number in range(60):
        source, usable = good[number % len(good)]
        data = source.read_bytes()
        # Every copy is a file of its own.
        name = f"{number:02}-{source.name}"
        tail = (
            f"\n<!-- {number} -->".encode()
            if source.suffix == ".svg"
            else (b"" if number < len(good) else bytes([number]))
        )
        row = begun(runtime, team, name, len(data + tail))
        uploads.append(runtime, row, 0, io.BytesIO(data + tail))
        assert uploads.finished(runtime, by(team), row.id).media_id
        sent[name] = usable

    def waiting() -> bool:
        with runtime.database.unit() as unit:
            states = unit.session.scalars(select(MediaFile.state).where(MediaFile.team_id == team))
            return not any(state in ("queued", "running") for state in states)

    until(waiting, 180)
    with runtime.database.unit() as unit:
        rows = {row.name: row for row in unit.session.scalars(select(MediaFile).where(MediaFile.team_id == team))}
        for name, usable in sent.items():
            row = rows[name]
            assert (row.state == "ready") == usable, (name, row.state, row.error)
            assert usable or (row.error.endswith(".") and 20 < len(row.error) < 300), row.error


def _mixed(files: Files, folder: Path) -> list[tuple[Path, bool]]:
    """Files of many kinds, and whether each can be used."""
    pixels = np.full((90, 160, 3), (30, 120, 200), np.uint8)
    made: list[tuple[Path, bool]] = []
    for suffix in (".png", ".jpg", ".webp", ".gif", ".avif", ".heic"):
        path = folder / f"picture{suffix}"
        if suffix == ".heic":
            pillow_heif.from_pillow(Image.fromarray(pixels)).save(path)
        else:
            Image.fromarray(pixels).save(path)
        made.append((path, True))
    drawing = folder / "drawing.svg"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="80" height="60"><rect width="40" height="60"/></svg>'
    )
    made.append((drawing, True))
    for name, codec in (("a.mp4", "libx264"), ("b.mkv", "libx264"), ("c.mov", "mpeg4"), ("d.webm", "libvpx")):
        made.append(
            (files.footage(f"mixed-{name}", lambda n: (n * 8, 60, 90), size=(160, 90), frames=12, codec=codec), True)
        )
    made.append((files.sound("mixed.wav", np.zeros((4800, 2), np.float32) + 0.1), True))
    for name, content in (
        ("notes.txt", b"only words"), ("empty-head.mp4", b"\0" * 4000), ("broken.jpg", b"\xff\xd8\xff\xe0" + b"x" * 90),
        ("program.exe", b"MZ" + b"\0" * 200), ("letter.docx", b"PK\x03\x04" + b"\0" * 60),
        ("torn.pdf", b"%PDF-1.7\nnothing"),
        ("talk.pptx", b"PK\x03\x04 torn"), ("hostile.svg", b"<svg><!ENTITY a 'b'>"),
    ):  # fmt: skip
        path = folder / name
        path.write_bytes(content)
        made.append((path, False))
    return made


def test_a_recording_that_grows_beyond_what_the_team_has_is_refused_and_what_came_stays(
    runtime: Runtime, team: str
) -> None:
    with runtime.database.unit() as unit:
        row = uploads.begin(runtime, unit, by(team), "voice.webm", None)
    uploads.append(runtime, row, 0, io.BytesIO(b"x" * 5000))
    full = Runtime(replace(runtime.settings, quota_gb=0), lambda name, arguments: None)
    with pytest.raises(Refusal, match="more than the 0 GB"):
        uploads.append(full, row, 5000, io.BytesIO(b"x" * 5000))
    assert uploads.arrived(runtime, row) == 5000
