"""Exports through the real queue and real workers, one of which is killed."""

import os
import random
import signal
import subprocess
import time
from datetime import timedelta
from pathlib import Path

import av
import pytest
from sqlalchemy import select
from tools.stack import Stack

from glowreel.core.commands import InsertClips, SetChannels
from glowreel.core.errors import Missing, Refusal
from glowreel.core.film_forms import read_making
from glowreel.core.time import ticks
from glowreel.services import accounts, exports, forecast, promos
from glowreel.services.setup import Runtime
from glowreel.store.models import Export, ExportFile, ExportPiece, PromoRow, now
from tests.conftest import by
from tests.core.build import sets


@pytest.fixture(scope="module")
def team(runtime: Runtime) -> str:
    with runtime.database.unit() as unit:
        return accounts.demo_user(unit.session).team_id


def copy_of_demo(runtime: Runtime, team: str) -> str:
    with runtime.database.unit() as unit:
        query = select(PromoRow.id).where(PromoRow.team_id == team, PromoRow.name == "Dawn flight vouchers")
        return promos.duplicate(unit.session, unit.session.scalar(query), by(team)).id


def begin(runtime: Runtime, team: str, promo_id: str, formats: tuple[str, ...], side: int = 480) -> list[str]:
    with runtime.database.unit() as unit:
        export = exports.start(unit, promo_id, by(team), formats, side, "A title")
        return list(unit.session.scalars(select(ExportFile.id).where(ExportFile.export_id == export.id)))


def fresh(runtime: Runtime, team: str, promo_id: str, formats: tuple[str, ...], side: int) -> list[str]:
    """The same at bits a second that nobody asked for before: no piece of it is there already, so that it lasts."""
    making = read_making(kilobits=str(random.randrange(2000, 9000)))
    with runtime.database.unit() as unit:
        export = exports.start(unit, promo_id, by(team), formats, side, "A title", making=making)
        return [file.id for file in export.files]


def states(runtime: Runtime, ids: list[str]) -> list[tuple[str, int, int]]:
    with runtime.database.unit() as unit:
        files = [unit.session.get_one(ExportFile, i) for i in ids]
        return [(file.state, file.frames_done, file.reused) for file in files]


def wait(runtime: Runtime, ids: list[str], seconds: float = 150) -> list[tuple[str, int, int]]:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        now = states(runtime, ids)
        if all(state not in exports.OPEN for state, _, _ in now):
            return now
        time.sleep(0.3)
    raise AssertionError(f"not finished: {states(runtime, ids)}")


def film(runtime: Runtime, file_id: str) -> Path:
    return runtime.blobs.local(exports.file_blob(file_id))


def test_three_formats_in_one_go_and_only_what_changed_the_next_time(runtime: Runtime, team: str) -> None:
    promo_id = copy_of_demo(runtime, team)
    ids = begin(runtime, team, promo_id, ("wide", "square", "tall"))
    assert [state for state, _, _ in wait(runtime, ids)] == ["done"] * 3
    sizes = []
    for file_id in ids:
        with av.open(str(film(runtime, file_id))) as container:
            video = container.streams.video[0]
            sizes.append((video.width, video.height))
            assert sum(1 for _ in container.decode(video)) == 600
            assert container.streams.audio[0].codec_context.name == "aac"
    assert sizes == [(854, 480), (480, 480), (480, 854)]
    with runtime.database.unit() as unit:
        opened = promos.open_promo(unit.session, promo_id, by(team))
        last = next(i for i in opened.promo.items if i.values.get("text", "").startswith("hollow"))
        promos.edit(unit.session, promo_id, by(team), sets(last.id, text="hollowmere.example/dawn"))
    again = begin(runtime, team, promo_id, ("wide",))
    ((state, _, reused),) = wait(runtime, again)
    with runtime.database.unit() as unit:
        pieces = unit.session.scalars(select(ExportPiece).where(ExportPiece.file_id == again[0])).all()
    assert (state, reused, len(pieces)) == ("done", 4, 5)


def worker_children(stack: Stack) -> list[int]:
    pid = stack.processes["worker"].pid
    out = subprocess.run(["ps", "-o", "pid=", "--ppid", str(pid)], capture_output=True, text=True, check=True).stdout
    return [int(line) for line in out.split()]


@pytest.mark.long
def test_a_worker_killed_in_the_middle_costs_a_piece_at_most(runtime: Runtime, team: str, stack: Stack) -> None:
    promo_id = copy_of_demo(runtime, team)
    with runtime.database.unit() as unit:
        media = [c.media for c in promos.open_promo(unit.session, promo_id, by(team)).promo.clips[:2]]
        promos.edit(unit.session, promo_id, by(team), InsertClips(media=tuple(media)))
    (file_id,) = fresh(runtime, team, promo_id, ("wide",), 720)
    in_hand = select(ExportPiece.id).where(
        ExportPiece.file_id == file_id, ExportPiece.state == "running", ExportPiece.count > 60
    )
    end = time.monotonic() + 60
    while time.monotonic() < end:
        with runtime.database.unit() as unit:
            if unit.session.scalars(in_hand).first() is not None:
                break
        time.sleep(0.05)
    worker = stack.processes["worker"]
    for pid in [*worker_children(stack), worker.pid]:
        os.kill(pid, signal.SIGKILL)
    worker.wait()
    time.sleep(0.5)
    then = states(runtime, [file_id])[0][0]
    stack.make_whole()
    assert then in exports.OPEN
    ((state, done, _),) = wait(runtime, [file_id])
    assert state == "done"
    with av.open(str(film(runtime, file_id))) as container:
        assert sum(1 for _ in container.decode(video=0)) == done
    with runtime.database.unit() as unit:
        attempts = [p.attempts for p in unit.session.scalars(select(ExportPiece).where(ExportPiece.file_id == file_id))]
    assert max(attempts) >= 2, "the kill came too late to test anything"
    assert sum(attempts) <= len(attempts) + 2, "more than the pieces in hand were made again"


def test_cancel_stops_and_retry_takes_up_again(runtime: Runtime, team: str) -> None:
    promo_id = copy_of_demo(runtime, team)
    (file_id,) = begin(runtime, team, promo_id, ("tall",), 1080)
    with runtime.database.unit() as unit:
        exports.cancel(unit.session, unit.session.get_one(ExportFile, file_id))
    with pytest.raises(Refusal, match="already ended"), runtime.database.unit() as unit:
        exports.cancel(unit.session, unit.session.get_one(ExportFile, file_id))
    time.sleep(1.5)
    assert states(runtime, [file_id])[0][0] == "cancelled"
    with pytest.raises(Missing), runtime.database.unit() as unit:
        exports.watched(unit.session, unit.session.get_one(ExportFile, file_id).token)
    with runtime.database.unit() as unit:
        exports.retry(unit, unit.session.get_one(ExportFile, file_id, with_for_update=True))
    assert states(runtime, [file_id])[0][0] in exports.OPEN
    with runtime.database.unit() as unit:
        exports.cancel(unit.session, unit.session.get_one(ExportFile, file_id))


def test_nothing_to_export_is_said(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        promo_id = promos.create(unit.session, by(team), "Empty", ("wide",)).id
    with pytest.raises(Refusal, match="nothing in this promo"):
        begin(runtime, team, promo_id, ("wide",))
    full = copy_of_demo(runtime, team)
    with pytest.raises(Refusal, match="made in 480p"):
        begin(runtime, team, full, ("wide",), 999)
    with pytest.raises(Missing):
        begin(runtime, team, full, ("cinema",))


@pytest.mark.long
def test_one_format_that_is_cancelled_leaves_the_others_that_are_made_with_it(runtime: Runtime, team: str) -> None:
    promo_id = copy_of_demo(runtime, team)
    ids = fresh(runtime, team, promo_id, ("wide", "square", "tall"), 480)
    end = time.monotonic() + 120
    while min(done for _, done, _ in states(runtime, ids)) < 1 and time.monotonic() < end:
        time.sleep(0.05)
    assert all(done >= 1 for _, done, _ in states(runtime, ids)), "they go on together"
    with runtime.database.unit() as unit:
        exports.cancel(unit.session, unit.session.get_one(ExportFile, ids[1]))
    assert [state for state, _, _ in wait(runtime, ids)] == ["done", "cancelled", "done"]


def test_a_title_that_a_channel_does_not_take_is_refused_and_its_files_know_the_limit(
    runtime: Runtime, team: str
) -> None:
    promo_id = copy_of_demo(runtime, team)
    with runtime.database.unit() as unit:
        promos.edit(unit.session, promo_id, by(team), SetChannels(channels=("passerby",)))
        with pytest.raises(Refusal, match="Passerby takes titles of at most 60 letters; this one has 61"):
            exports.start(unit, promo_id, by(team), ("tall",), 480, "x" * 61)
        assert exports.start(unit, promo_id, by(team), ("wide",), 480, "x" * 61), "another format is for any channel"
        with pytest.raises(Refusal, match="Passerby takes captions of at most"):
            exports.start(unit, promo_id, by(team), ("tall",), 480, "Short", "x" * 5000)
        made = exports.start(unit, promo_id, by(team), ("tall",), 480, "Short", " Fly with us \n")
        assert made.caption == "Fly with us"
        unit.forget()
        (file,) = unit.session.scalars(select(ExportFile).where(ExportFile.export_id == made.id))
        assert (file.channel, file.most_megabytes, file.too_large) == ("Passerby", 256, False)
        file.size = 257_000_000
        assert file.too_large
        unit.session.rollback()


@pytest.mark.long
def test_a_file_that_is_to_be_small_is_made_smaller_until_it_is(runtime: Runtime, team: str) -> None:
    promo_id = copy_of_demo(runtime, team)
    asked = [read_making("h264", megabytes="1"), read_making("gif", megabytes="1")]
    made = []
    with runtime.database.unit() as unit:
        for making in asked:
            side = making.film_form.sides[0]
            made.append(exports.start(unit, promo_id, by(team), ("tall",), side, "Small", making=making).files[0].id)
    assert [state for state, _, _ in wait(runtime, made, 300)] == ["done"] * 2
    with runtime.database.unit() as unit:
        for file in (unit.session.get_one(ExportFile, key) for key in made):
            assert 100_000 < file.size <= 1_000_000, (file.form, file.size)
            assert exports.film_blob(file).endswith(file.film_form.suffix)


def test_sound_alone_is_made_once_and_a_still_at_its_moment(runtime: Runtime, team: str) -> None:
    promo_id = copy_of_demo(runtime, team)
    with runtime.database.unit() as unit:
        both = ("wide", "square")
        sound = exports.start(unit, promo_id, by(team), both, 1080, "Heard", making=read_making("mp3"))
        still = exports.start(unit, promo_id, by(team), both, 480, "Seen", making=read_making("still", at=ticks(2)))
        sounds, stills = [file.id for file in sound.files], [file.id for file in still.files]
    assert (len(sounds), len(stills)) == (1, 2)
    assert [state for state, _, _ in wait(runtime, sounds + stills)] == ["done"] * 3
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="no watch page"):
        exports.set_link(unit.session, by(team), sounds[0], on=True)


def test_what_sounds_the_same_is_mixed_once(runtime: Runtime, team: str) -> None:
    promo_id = copy_of_demo(runtime, team)
    wait(runtime, begin(runtime, team, promo_id, ("wide",)))
    before = {key for key, _ in runtime.blobs.listing("sounds")}
    with runtime.database.unit() as unit:
        opened = promos.open_promo(unit.session, promo_id, by(team))
        last = next(i for i in opened.promo.items if i.values.get("text", "").startswith("hollow"))
        promos.edit(unit.session, promo_id, by(team), sets(last.id, text="hollowmere.example/now"))
    ids = begin(runtime, team, promo_id, ("wide", "tall"))
    assert [state for state, _, _ in wait(runtime, ids)] == ["done", "done"]
    assert {key for key, _ in runtime.blobs.listing("sounds")} == before
    with runtime.database.unit() as unit:
        found = [unit.session.get_one(ExportFile, key).loudness for key in ids]
    assert found[0] is not None
    assert found[0] == found[1]


def test_the_time_that_is_left_is_told_from_a_tenth_on(runtime: Runtime, team: str) -> None:
    began = now() - timedelta(seconds=30)
    pieces = [
        ExportPiece(number=n, first=n * 10, count=10, cost=cost, frames_done=done, state=state)
        for n, (cost, done, state) in enumerate([(30.0, 10, "done"), (0.0, 10, "done"), (60.0, 5, "running")])
    ]
    file = ExportFile(state="running", started_at=began, pieces=pieces)
    left = forecast.seconds_left(Export(files=[file]))
    assert left is not None
    assert abs(left - 15.0) < 1, "60 of 90 took 30 seconds"
    pieces[0].frames_done = pieces[2].frames_done = 0
    assert forecast.seconds_left(Export(files=[file])) is None, "nothing is known of it yet"
    file.state = "done"
    assert forecast.seconds_left(Export(files=[file])) is None
