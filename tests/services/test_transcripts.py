"""Transcripts on the real program: written down by a worker, corrected, remembered for the team, found by words."""

from __future__ import annotations

import time
import uuid
from pathlib import Path

import numpy as np
import pytest

from glowreel.core import commands as c
from glowreel.core.errors import Refusal
from glowreel.services import promos, shelf, transcripts
from glowreel.services.wishes import set_wishes
from glowreel.store.models import Derived, MediaFile, Team
from tests.conftest import Files, by
from tests.voice import talk


@pytest.fixture
def team(runtime) -> str:
    key = f"t-{uuid.uuid4().hex[:12]}"
    with runtime.database.unit() as unit:
        unit.session.add(Team(id=key, name="Speakers"))
    return key


def on_shelf(runtime, team: str, path: Path) -> str:
    with path.open("rb") as stream:
        source, size = shelf.receive(runtime.blobs, path.parent / "in", stream)
    with runtime.database.unit() as unit:
        return shelf.add(unit, by(team), path.name, source, size).id


def voice(runtime, team: str, files: Files, seed: int = 0) -> str:
    line, _ = talk()
    rest = np.random.default_rng(seed).standard_normal(len(line)) * 0.0004
    key = on_shelf(runtime, team, files.sound("talk.wav", (line + rest)[:, None]))
    assert shelf.looked_at(runtime, key, 60)
    return key


def until(runtime, ready, seconds: float = 90) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        with runtime.database.unit() as unit:
            if ready(unit.session):
                return
        time.sleep(0.2)
    raise AssertionError("waited in vain")


def test_what_is_said_is_written_down_corrected_and_remembered(runtime, team: str, files: Files) -> None:
    media = voice(runtime, team, files)
    actor = by(team)

    def promo_with_voice(unit) -> str:
        row = promos.create(unit.session, actor, "Talk", ("wide",))
        promos.edit(unit.session, row.id, actor, c.AddSound(media=media))
        return row.id

    with runtime.database.unit() as unit:
        key = promo_with_voice(unit)
        (one,) = transcripts.voices(unit.session, runtime, promos.open_promo(unit.session, key, actor).promo, actor)
        assert one.state == "none"
        with pytest.raises(Refusal, match="still being written down"):
            promos.edit(unit.session, key, actor, c.WriteDown(media=media))
        transcripts.ask(unit, media, actor, "en", "speech-english")

    def state(session) -> str:
        promo = promos.open_promo(session, key, actor).promo
        return transcripts.voices(session, runtime, promo, actor)[0].state

    until(runtime, lambda session: state(session) == "ready")
    with runtime.database.unit() as unit:
        opened, _ = promos.edit(unit.session, key, actor, c.WriteDown(media=media))
        said = opened.promo.transcripts[0]
        text = " ".join(word.text for word in said.words)
        assert "valley" in text
        assert "friend" in text
        first = next(n for n, word in enumerate(said.words) if "valley" in word.text)
        correct = c.CorrectWords(media=media, language=said.language, first=first, text="Hollowmere")
        promos.edit(unit.session, key, actor, correct)
    with runtime.database.unit() as unit:
        other = promo_with_voice(unit)
        opened, _ = promos.edit(unit.session, other, actor, c.WriteDown(media=media))
        assert "Hollowmere" in " ".join(word.text for word in opened.promo.transcripts[0].words), "remembered"
        found = {row.id for row in shelf.list_media(unit.session, actor, "hollowmere")}
        assert media in found
        assert media in {row.id for row in shelf.list_media(unit.session, actor, "two seats")}
        assert shelf.list_media(unit.session, by(f"{team}-other"), "hollowmere") == []


def test_a_team_may_have_every_new_voice_written_down(runtime, team: str, files: Files) -> None:
    with runtime.database.unit() as unit:
        set_wishes(unit.session, by(team), {"write_down": True})
    media = voice(runtime, team, files, seed=7)
    with runtime.database.unit() as unit:
        source = unit.session.get_one(MediaFile, media).hash

    def asked(session) -> bool:
        return session.query(Derived).filter_by(hash=source, maker="transcript").count() == 1

    until(runtime, asked, 20)


def test_an_unknown_model_is_said_in_a_sentence(runtime, team: str, files: Files) -> None:
    media = voice(runtime, team, files, seed=9)
    with runtime.database.unit() as unit:
        row = transcripts.ask(unit, media, by(team), model="no-such")
        key = row.id
    until(runtime, lambda session: session.get_one(Derived, key).state == "failed")
    with runtime.database.unit() as unit:
        assert "no model called" in unit.session.get_one(Derived, key).error
