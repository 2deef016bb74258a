"""Pages of somebody in a team, as the server writes them for each role."""

from __future__ import annotations

import uuid
from collections.abc import Callable

import pytest

from glowreel.core.commands import InsertFiller
from glowreel.core.template import Facts
from glowreel.services import accounts, brands, promos, teams, templates
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime
from glowreel.store.models import Team
from glowreel.web.app import create_app
from glowreel.web.extensions import limiter
from tests.web.test_pages import Visitor

PASSWORD = "eleven lanterns over water"


@pytest.fixture
def joined(runtime: Runtime) -> Callable[[str], tuple[Visitor, Actor]]:
    """Somebody in one and the same team in a role, signed in."""
    app = create_app(runtime)
    limiter.enabled = False
    with runtime.database.unit() as unit:
        owner = accounts.sign_up(unit.session, "Ada Test", f"{uuid.uuid4().hex}@x.example", PASSWORD, "")
        team = owner.team_id

    def join(role: str) -> tuple[Visitor, Actor]:
        email = f"{uuid.uuid4().hex}@x.example"
        with runtime.database.unit() as unit:
            user = accounts.sign_up(unit.session, "Ivo Test", email, PASSWORD, "")
            teams.join(unit.session, user, unit.session.get_one(Team, team), role)
            actor = Actor.person(user.id, team, role)
        visitor = Visitor(app.test_client())
        visitor.post("/sign-in", {"email": email, "password": PASSWORD}, Accept="text/html")
        return visitor, actor

    return join


@pytest.mark.parametrize(
    ("role", "starts", "fills", "leads"),
    [("owner", True, True, True), ("editor", True, True, False), ("contributor", False, True, False),
     ("reviewer", False, False, False)],
)  # fmt: skip
def test_a_role_is_offered_what_it_may_do(joined, role: str, starts: bool, fills: bool, leads: bool) -> None:
    visitor, _ = joined(role)
    desk, team = visitor.page("/"), visitor.page("/team")
    assert ('id="start-blank"' in desk) == starts
    assert ('id="start-template"' in desk) == fills
    assert ('id="invite-by-letter"' in team) == leads
    assert visitor.post("/promos", {"name": "Mine"}).status_code == (302 if starts else 422)
    assert visitor.post("/team/invitations", {"role": "editor", "by": "link"}).status_code == 200
    said = visitor.post("/team/invitations", {"by": "link", "role": "editor"}).get_data(as_text=True)
    assert ("may not say who is in the team" in said) != leads


def test_brands_templates_and_promos_are_shared_by_one_press_where_there_is_somebody_to_share_with(
    joined, runtime: Runtime
) -> None:
    visitor, actor = joined("editor")
    other, _ = joined("editor")
    with runtime.database.unit() as unit:
        brand = brands.add(unit.session, actor, "Saltwick")
        promo = promos.create(unit.session, actor, "Ours", ("wide",))
        promos.edit(unit.session, promo.id, actor, InsertFiller())
        template = templates.save(unit.session, actor, promo.id, "Our way", Facts())
    for kind, thing, path in (
        ("brand", brand.id, f"/brands/{brand.id}"), ("promo", template.id, f"/templates/{template.id}"),
        ("promo", promo.id, "/"),
    ):  # fmt: skip
        assert f"/share/{kind}/{thing}" in visitor.page(path)
        assert f"/share/{kind}/{thing}" in other.page(path)
        answer = visitor.post(f"/share/{kind}/{thing}", {"private": "1"})
        assert "only you" in answer.get_data(as_text=True)
        shown = other.client.get(path)
        assert f"/share/promo/{thing}" not in shown.get_data(as_text=True)
        taken = other.post(f"/share/{kind}/{thing}", {"private": "0"})
        assert taken.status_code == {"promo": 404, "brand": 422}[kind], "it is not theirs"
        assert "shared by you" in visitor.post(f"/share/{kind}/{thing}", {"private": "0"}).get_data(as_text=True)
    assert other.post("/share/nonsense/x", {"private": "1"}).status_code == 404


def test_somebody_is_called_otherwise_and_works_in_another_team(joined) -> None:
    visitor, _ = joined("editor")
    visitor.post("/account/name", {"name": "Ines  Farrow"})
    assert "Ines Farrow" in visitor.page("/account")
    visitor.post("/team/new", {"name": "Second team"})
    page = visitor.page("/team")
    assert "Second team" in page
    assert "You are an owner" in page
    assert "Work in Ada Test’s team" in visitor.page("/")
