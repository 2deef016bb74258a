"""What was done in a team is written down once, in words, for its owners."""

from __future__ import annotations

import re
from datetime import timedelta
from pathlib import Path

import pytest

import glowreel
from glowreel.core.errors import Refusal
from glowreel.services import audit, promos, sharing, teams, tokens
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime
from glowreel.store.models import Done, now
from tests.services.test_teams import in_team, somebody


def test_what_is_done_is_told_to_owners_and_forgotten_after_its_time(runtime: Runtime) -> None:
    owner = somebody(runtime)
    editor = in_team(runtime, owner, "editor", "Ivo Test")
    with runtime.database.unit() as unit:
        session = unit.session
        row = promos.create(session, editor, "Lantern nights", ("wide",))
        sharing.share(session, editor, "promo", row.id, private=True)
        sharing.share(session, editor, "promo", row.id, private=False)
        _, given = tokens.begin(session, owner, "Shop", ["look", "make"], 0)
        program = tokens.find(session, given)
        assert program is not None
        promos.remove(session, row.id, program)
        promos.remove(session, promos.create(session, Actor.program(owner.team_id), "x", ("wide",)).id,
                      Actor.program(owner.team_id))  # fmt: skip
        teams.set_role(session, owner, editor.user_id or "", "reviewer")
        teams.remove(session, owner, editor.user_id or "")
    with runtime.database.unit() as unit:
        told = [one.said for one in audit.entries(unit.session, owner)]
        assert told == [
            "Ada Test took Ivo Test out of the team", "Ada Test made Ivo Test reviewer",
            "Ada Test, by a program, took “Lantern nights” off the Desk", "Ada Test made the token “Shop”",
            "Ivo Test shared “Lantern nights” with the team", "Ivo Test made “Lantern nights” private",
        ]  # fmt: skip
        by_ivo = [one.said for one in audit.entries(unit.session, owner, user_id=editor.user_id or "")]
        assert by_ivo == told[-2:]
        assert audit.entries(unit.session, somebody(runtime)) == []
        with pytest.raises(Refusal, match="may not say who"):
            audit.entries(unit.session, Actor.person(editor.user_id or "", owner.team_id, "editor"))
        first = audit.entries(unit.session, owner)[-1]
        assert audit.entries(unit.session, owner, first.id) == []
        first.at = now() - audit.KEPT - timedelta(days=1)
        unit.session.flush()
        audit.forget_old(unit.session)
        assert unit.session.get(Done, first.id, populate_existing=True) is None


def test_every_event_is_written_somewhere() -> None:
    services = Path(glowreel.__file__).parent / "services"
    text = "".join(path.read_text() for path in services.glob("*.py") if path.name != "audit.py")
    for event in audit.EVENTS:
        assert re.search(rf'audit\.note\([^\n]*"{event}"', text), event
