"""Who may do what: roles, links and tokens, and that every service asks."""

from __future__ import annotations

import inspect
import pkgutil
from types import SimpleNamespace

import pytest

from glowreel import services
from glowreel.core.commands import AddWords
from glowreel.core.errors import Missing, Refusal
from glowreel.services import promos
from glowreel.services.access import ROLES, VERBS, Actor, allow
from glowreel.services.setup import Runtime
from tests.conftest import by
from tests.services.test_promos import new_team

THING = SimpleNamespace(id="p-1", team_id="t-1")
MAY = {
    "owner": "see make fill add edit remove export publish comment lead",
    "editor": "see make fill add edit remove export publish comment",
    "contributor": "see fill add export comment", "reviewer": "see comment",
}  # fmt: skip


@pytest.mark.parametrize("role", ROLES)
@pytest.mark.parametrize("verb", VERBS)
def test_a_role_may_do_what_it_is_for_and_nothing_else(role: str, verb: str) -> None:
    actor = Actor.person("u-1", "t-1", role)
    if verb in MAY[role].split():
        allow(actor, verb, THING)
    else:
        with pytest.raises(Refusal, match="You may not") as refused:
            allow(actor, verb, THING)
        assert not isinstance(refused.value, Missing), "it is theirs to see, so they are told what is wrong"


@pytest.mark.parametrize("verb", VERBS)
def test_what_is_another_teams_is_not_there(verb: str) -> None:
    for actor in (Actor.person("u-1", "t-2"), Actor.token("t-2", verb), Actor.program("t-2")):
        with pytest.raises(Missing):
            allow(actor, verb, THING)


def test_a_link_is_for_one_thing_and_a_token_for_some_verbs() -> None:
    link = Actor.link("p-1", "t-1", "see", "comment")
    allow(link, "comment", THING)
    with pytest.raises(Refusal, match="change this"):
        allow(link, "edit", THING)
    with pytest.raises(Missing):
        allow(link, "see", SimpleNamespace(id="p-2", team_id="t-1"))
    token = Actor.token("t-1", "see", "export")
    allow(token, "export", THING)
    with pytest.raises(Refusal, match="remove this"):
        allow(token, "remove", THING)


def test_a_reviewer_opens_a_promo_but_leaves_it_as_it_is(runtime: Runtime) -> None:
    team = new_team(runtime)
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, by(team), "Ours", ("wide",))
        reviewer = Actor.person("u", team, "reviewer")
        assert promos.open_promo(unit.session, row.id, reviewer).promo.name == "Ours"
        for attempt in (
            lambda: promos.edit(unit.session, row.id, reviewer, AddWords()),
            lambda: promos.remove(unit.session, row.id, reviewer),
            lambda: promos.duplicate(unit.session, row.id, reviewer),
            lambda: promos.create(unit.session, reviewer, "Mine", ("wide",)),
        ):
            with pytest.raises(Refusal, match="You may not"):
                attempt()


def test_no_service_takes_a_bare_team() -> None:
    for found in pkgutil.iter_modules(services.__path__):
        module = __import__(f"glowreel.services.{found.name}", fromlist=["x"])
        for name, function in inspect.getmembers(module, inspect.isfunction):
            if function.__module__ == module.__name__ and not name.startswith("_"):
                assert "team_id" not in inspect.signature(function).parameters, f"{module.__name__}.{name}"
