"""Texts spoken by the real voices: each line once, with its words; scripts as promos."""

from __future__ import annotations

import time
import uuid

import pytest

from glowreel.core import commands as c
from glowreel.core.errors import Refusal
from glowreel.core.script.lines import read
from glowreel.core.script.plan import families
from glowreel.core.timeline import timeline
from glowreel.designs import shipped
from glowreel.services import promos, scripting, speaking
from glowreel.services.scripting import Made
from glowreel.store.models import MediaFile, Spoken, Team
from tests.conftest import by


@pytest.fixture
def team(runtime) -> str:
    key = f"t-{uuid.uuid4().hex[:12]}"
    with runtime.database.unit() as unit:
        unit.session.add(Team(id=key, name="Speakers"))
    return key


def spoken(runtime, team: str, lines: list[str], voice: str = "bright") -> list[Spoken]:
    """The rows of lines, once they are ready."""
    with runtime.database.unit() as unit:
        keys = [row.id for row in speaking.want(unit, by(team), lines, voice, 1.0, {"Hollowmere": "hollow meer"})]
    end = time.monotonic() + 90
    while time.monotonic() < end:
        with runtime.database.unit() as unit:
            rows = speaking.find(unit.session, by(team), keys)
            assert not any(row.state == "failed" for row in rows), rows
            if all(row.state == "ready" for row in rows):
                unit.session.expunge_all()
                return rows
        time.sleep(0.2)
    raise AssertionError("not spoken in time")


def test_a_line_is_spoken_once_and_only_what_changed_is_spoken_again(runtime, team: str) -> None:
    first = spoken(runtime, team, ["Fly at first light.", "Breakfast waits at Hollowmere."])
    again = spoken(runtime, team, ["Fly at first light.", "Breakfast waits for you."])
    assert first[0].media_id == again[0].media_id
    assert first[1].media_id != again[1].media_id
    with runtime.database.unit() as unit:
        file = unit.session.get_one(MediaFile, first[1].media_id)
        assert file.facts["machine"] is True
        assert file.facts["heard"] == "voice"
        row = promos.create(unit.session, by(team), "Spoken", ("wide",))
        opened, _ = promos.edit(
            unit.session, row.id, by(team), c.LayVoice(media=(first[0].media_id, first[1].media_id))
        )  # fmt: skip
        words = [word.text for one in opened.promo.transcripts for word in one.words]
        assert words == ["Fly", "at", "first", "light.", "Breakfast", "waits", "at", "Hollowmere."]
        assert all(one.made == "voice" for one in opened.promo.transcripts)
        assert not speaking.find(unit.session, by(f"{team}-other"), [first[0].id])


def test_what_cannot_be_spoken_is_said(runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        for lines, voice, sentence in (([" "], "bright", "nothing"), (["x" * 700], "bright", "At most"),
                                       (["Fly."], "nobody", "no such voice")):  # fmt: skip
            with pytest.raises(Refusal, match=sentence):
                speaking.want(unit, by(team), lines, voice, 1.0, {})


def test_a_script_is_a_promo_with_voice_and_captions(runtime, team: str) -> None:
    lines = read("Fly at first light. Breakfast waits when you land. Book yours today.")
    voice = spoken(runtime, team, [line.text for line in lines])
    with runtime.database.unit() as unit:
        shown = scripting.pictures(unit.session, by(team), lines, None)
        assert all(len(choice) == 3 for choice in shown), "one and two others, from everybody's"
        asked = read(
            "A quiet morning in the fog of the valley. We eat outside on a blanket. In the evening, lights glow."
        )
        meant = scripting.pictures(unit.session, by(team), asked, None, scripting.meaning(runtime))
        assert [choice[0].name for choice in meant] == ["mist-valley.mp4", "picnic.jpg", "lantern-night.mp4"]
        assert len({choice[0].media for choice in shown}) == len(lines), "none is shown twice"
        made = Made(
            tuple(lines), tuple(choice[0].media for choice in shown), families(shipped())[0],
            voice=tuple(row.media_id or "" for row in voice), captions=True,
        )  # fmt: skip
        row = scripting.make(unit, by(team), made, None, "")
        promo = promos.open_promo(unit.session, row.id, by(team)).promo
    assert len(promo.scenes) == 3
    assert promo.captions
    index = timeline(promo)
    for scene, item in zip(promo.scenes, promo.sounds[0].items, strict=True):
        said, shown_for = index.item_span(item), index.scene_span[scene.id]
        assert shown_for.start <= said.start
        assert said.end <= shown_for.end + promo.rate.frame
    assert len(scripting.music(lines)) == 3
