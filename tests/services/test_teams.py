"""Teams: coming and going, roles, what is private, and letters that are sent once."""

from __future__ import annotations

import re
import time
import uuid
from collections.abc import Callable
from email import message_from_bytes
from email.policy import SMTP
from pathlib import Path

import pytest

from glowreel.core.commands import InsertFiller
from glowreel.core.errors import Missing, Refusal
from glowreel.services import (
    accounts,
    activity,
    brands,
    exports,
    invitations,
    letters,
    promos,
    sharing,
    shelf,
    storage,
    teams,
)
from glowreel.services.access import ROLES, Actor
from glowreel.services.setup import Runtime
from glowreel.services.wishes import set_wishes
from glowreel.store.models import Letter, MediaFile, Member, Team, User, now

PASSWORD = "eleven lanterns over water"


def somebody(runtime: Runtime, name: str = "Ada Test") -> Actor:
    """A new person with a team of their own."""
    with runtime.database.unit() as unit:
        user = accounts.sign_up(unit.session, name, f"{uuid.uuid4().hex}@x.example", PASSWORD, "")
        return Actor.person(user.id, user.team_id)


def in_team(runtime: Runtime, owner: Actor, role: str, name: str = "Ben Test") -> Actor:
    """Another person, in that team too."""
    other = somebody(runtime, name)
    assert other.user_id is not None
    with runtime.database.unit() as unit:
        teams.join(
            unit.session, unit.session.get_one(User, other.user_id), unit.session.get_one(Team, owner.team_id), role
        )
    return Actor.person(other.user_id, owner.team_id, role)


def letters_to(runtime: Runtime, address: str) -> list[str]:
    """What was written to an address, once its letters have been carried out."""
    found: list[str] = []
    for path in Path(runtime.settings.letters).glob("*.eml"):
        letter = message_from_bytes(path.read_bytes(), policy=SMTP)
        if letter["To"] == address:
            found.append(letter.get_content().replace("\r\n", "\n"))
    return found


def awaited(what: Callable[[], object], seconds: float = 60.0) -> object:
    end = time.monotonic() + seconds
    while not (found := what()) and time.monotonic() < end:
        time.sleep(0.1)
    return found


def test_an_invitation_by_letter_lets_one_person_in_and_by_link_several(runtime: Runtime) -> None:
    owner = somebody(runtime)
    address = f"{uuid.uuid4().hex}@x.example"
    with runtime.database.unit() as unit:
        invitations.by_letter(runtime, unit, owner, f" {address.upper()}, ", "reviewer", lambda key: f"/join/{key}")
    (text,) = awaited(lambda: letters_to(runtime, address))
    assert "looks and says what they think" in text
    key = re.search(r"/join/(\S+)", text)[1]
    first, second = (somebody(runtime).user_id for _ in range(2))
    with runtime.database.unit() as unit:
        one, two = (unit.session.get_one(User, key) for key in (first, second))
        assert invitations.accept(unit.session, key, one).role == "reviewer"
        assert one.team_id == owner.team_id, "they work there at once"
        with pytest.raises(Missing, match="has ended"):
            invitations.accept(unit.session, key, two)
        row = invitations.by_link(runtime, unit, owner, "editor")
        by_link = invitations.key(runtime, row)
        assert len(by_link) == 32, "192 bits"
        assert by_link not in (row.digest, row.id)
        assert invitations.accept(unit.session, by_link, two).role == "editor"
        assert invitations.accept(unit.session, by_link, one).role == "editor", "the larger of both roles"
        assert row.taken == 1, "who is in the team already uses nothing up"
        assert [one.id for one in invitations.standing(unit.session, owner)] == [row.id]
        invitations.end(unit.session, owner, row.id)
        with pytest.raises(Missing, match="has ended"):
            invitations.find(unit.session, by_link)


def test_what_cannot_be_an_invitation_is_refused_in_a_sentence(runtime: Runtime) -> None:
    owner = somebody(runtime)
    editor = in_team(runtime, owner, "editor")
    with runtime.database.unit() as unit:
        known = unit.session.get_one(User, editor.user_id).email
        for addresses, said in (("", "Type the address"), ("a@b.example nonsense", "nonsense”"), (known, "already")):
            with pytest.raises(Refusal, match=said):
                invitations.by_letter(runtime, unit, owner, addresses, "editor", str)
        with pytest.raises(Refusal, match="no such role"):
            invitations.by_link(runtime, unit, owner, "emperor")
        with pytest.raises(Refusal, match="say who is in the team"):
            invitations.by_link(runtime, unit, editor, "editor")
        stranger = somebody(runtime)
        row = invitations.by_link(runtime, unit, owner, "editor")
        with pytest.raises(Missing):
            invitations.end(unit.session, stranger, row.id)
        row.until = now()
        with pytest.raises(Missing, match="has ended"):
            invitations.find(unit.session, invitations.key(runtime, row))


def test_a_team_always_has_an_owner(runtime: Runtime) -> None:
    owner = somebody(runtime)
    editor = in_team(runtime, owner, "editor")
    with runtime.database.unit() as unit:
        for attempt in (
            lambda: teams.remove(unit.session, owner, owner.user_id),
            lambda: teams.set_role(unit.session, owner, owner.user_id, "editor"),
        ):
            with pytest.raises(Refusal, match="needs an owner"):
                attempt()
        teams.hand_over(unit.session, owner, editor.user_id)
        roles = {one.user_id: one.role for one in teams.members(unit.session, owner)}
        assert roles == {owner.user_id: "editor", editor.user_id: "owner"}
    with runtime.database.unit() as unit:
        former = Actor.person(owner.user_id, owner.team_id, "editor")
        with pytest.raises(Refusal, match="say who is in the team"):
            teams.remove(unit.session, former, editor.user_id)
        teams.remove(unit.session, former, owner.user_id)
        user = unit.session.get_one(User, owner.user_id)
        place = teams.place_of(unit.session, user)
        assert place.team_id != owner.team_id, "whoever has left works in a team of their own"
        assert place.role == "owner"


def test_what_somebody_made_stays_and_what_was_private_goes_to_an_owner(runtime: Runtime) -> None:
    owner = somebody(runtime)
    editor = in_team(runtime, owner, "editor", "Ivo Test")
    with runtime.database.unit() as unit:
        set_wishes(unit.session, owner, {"private_first": True})
        row = promos.create(unit.session, editor, "Mine alone", ("wide",))
        assert row.private
        with pytest.raises(Missing):
            promos.open_promo(unit.session, row.id, owner)
        assert promos.list_promos(unit.session, owner) == []
        teams.remove(unit.session, owner, editor.user_id)
        assert promos.open_promo(unit.session, row.id, owner).row.private
        assert [one.id for one in promos.list_promos(unit.session, owner)] == [row.id]


def test_what_is_private_is_told_to_nobody_by_what_is_going_on_either(runtime: Runtime) -> None:
    owner = somebody(runtime)
    editor = in_team(runtime, owner, "editor", "Ivo Test")
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, editor, "A secret", ("wide",))
        promos.edit(unit.session, row.id, editor, InsertFiller())
        made = exports.start(unit, row.id, editor, ("wide",), 480, "A secret film")
        shelf.add(unit, editor, "secret.png", uuid.uuid4().hex * 2, 10)
        unit.forget()
        file = unit.session.query(MediaFile).filter_by(team_id=owner.team_id).one()

        def told(actor: Actor) -> list[str]:
            return [doing.what for doing in activity.going_on(runtime, unit.session, actor)]

        before = told(owner)
        assert told(editor) == before
        assert len(before) == 2
        sharing.share(unit.session, editor, "promo", row.id, private=True)
        sharing.share(unit.session, editor, "file", file.id, private=True)
        assert told(owner) == []
        assert told(editor) == before
        assert exports.list_exports(unit.session, owner) == []
        assert storage.largest_media(unit.session, owner) == []
        with pytest.raises(Missing):
            exports.remove(unit.session, made.id, owner)


def test_one_press_shares_and_another_takes_back(runtime: Runtime) -> None:
    owner = somebody(runtime, "Ada Test")
    editor = in_team(runtime, owner, "editor", "Ivo Test")
    with runtime.database.unit() as unit:
        promo = promos.create(unit.session, editor, "A draft", ("wide",))
        brand = brands.add(unit.session, editor, "Mine")
        file = shelf.add(unit, editor, "a.png", uuid.uuid4().hex * 2, 10)
        for kind, row, seen in (
            ("promo", promo, lambda: promos.list_promos(unit.session, owner)),
            ("brand", brand, lambda: brands.list_brands(unit.session, owner)),
            ("file", file, lambda: shelf.list_media(unit.session, owner)),
        ):
            assert row.id in [one.id for one in seen()]
            assert sharing.marks(unit.session, owner, [row]) == {}
            sharing.share(unit.session, editor, kind, row.id, private=True)
            assert row.id not in [one.id for one in seen()]
            assert sharing.marks(unit.session, editor, [row]) == {row.id: "only you"}
            sharing.share(unit.session, editor, kind, row.id, private=False)
            assert row.id in [one.id for one in seen()]
            assert sharing.marks(unit.session, owner, [row]) == {row.id: "shared by Ivo Test"}
        with pytest.raises(Refusal, match="Ivo Test made this"):
            sharing.share(unit.session, owner, "promo", promo.id, private=True)
        sharing.share(unit.session, editor, "file", file.id, private=True)
        shelf.add(unit, owner, "b.png", file.hash, 10)
        assert not file.private, "somebody else has the same file: it is no secret"


def test_every_role_is_kept_by_the_row_of_a_member(runtime: Runtime) -> None:
    owner = somebody(runtime)
    with runtime.database.unit() as unit:
        for role in ROLES:
            actor = in_team(runtime, owner, role)
            assert unit.session.get_one(Member, (actor.user_id, owner.team_id)).role == role
            assert teams.mine(unit.session, actor.user_id)[0].team_id in (owner.team_id, actor.team_id)
        stranger = somebody(runtime)
        with pytest.raises(Missing, match="not in that team"):
            teams.switch(unit.session, stranger.user_id, owner.team_id)


def test_a_letter_is_sent_once_and_one_that_is_not_taken_says_so(runtime: Runtime) -> None:
    address, refused = (f"{name}{uuid.uuid4().hex}@x.example" for name in ("a", "nobody"))
    with runtime.database.unit() as unit:
        first = letters.write(unit, address, "Once", "Only once.", key=f"test:{address}")
        assert letters.write(unit, address, "Once", "Only once.", key=f"test:{address}") == ""
        second = letters.write(unit, refused, "Lost", "Nobody reads this.")

    def states() -> list[str]:
        with runtime.database.unit() as unit:
            return [unit.session.get_one(Letter, key).state for key in (first, second)]

    awaited(lambda: states() == ["sent", "failed"])
    letters.carry(runtime, first)
    assert letters_to(runtime, address) == ["Only once.\n"]
    with runtime.database.unit() as unit:
        assert "does not take letters" in unit.session.get_one(Letter, second).error
