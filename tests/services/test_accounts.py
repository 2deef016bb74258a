"""Accounts, sign-ins and passwords on a real database."""

import re
import uuid
from datetime import timedelta
from pathlib import Path

import pytest

from glowreel.core.errors import Missing, Refusal
from glowreel.services import accounts, presses, resets, sign_ins
from glowreel.services.setup import Runtime
from glowreel.store.models import Press, SignIn, User, now
from tests.services.test_teams import awaited, letters_to

PASSWORD = "seven quiet lanterns"


def address() -> str:
    return f"{uuid.uuid4().hex}@people.example"


def new_user(runtime: Runtime, email: str, password: str = PASSWORD) -> User:
    with runtime.database.unit() as unit:
        return accounts.sign_up(unit.session, "Ada Brook", email, password, "Brook")


@pytest.mark.parametrize(
    "password",
    ["short", "password123", "qwertyuiop", "aaaaaaaaaaaa", "1234567890123", "adabrookadabrook", "iloveyou2024"],
)
def test_passwords_that_are_easily_guessed_are_refused(runtime: Runtime, password: str) -> None:
    with pytest.raises(Refusal) as refused:
        new_user(runtime, "ada.brook@people.example", password)
    assert refused.value.code == "password"


def test_signing_up_tells_nobody_whether_an_address_is_known(runtime: Runtime) -> None:
    email = address()
    first = new_user(runtime, email)
    other = new_user(runtime, email, "another set of words")
    assert other.id != first.id
    assert other.team_id != first.team_id, "somebody came into a team by knowing an address"
    # With the password of an account, signing up once more leads into that one.
    assert new_user(runtime, email.upper()).id == first.id
    with runtime.database.unit() as unit:
        assert accounts.sign_in(unit.session, email, PASSWORD).id == first.id
        assert accounts.sign_in(unit.session, email, "another set of words").id == other.id
        with pytest.raises(Refusal, match="do not belong together"):
            accounts.sign_in(unit.session, email, "yet another phrase")


def test_the_demo_belongs_to_the_demo(runtime: Runtime) -> None:
    taken = new_user(runtime, accounts.DEMO_EMAIL)
    with runtime.database.unit() as unit:
        assert accounts.demo_user(unit.session).id != taken.id


def test_a_sign_in_ends_when_it_is_ended_and_when_it_is_old(runtime: Runtime) -> None:
    user = new_user(runtime, address())
    with runtime.database.unit() as unit:
        keys = [sign_ins.begin(unit.session, user, "127.0.0.1", f"({name})") for name in ("Linux", "iPhone", "x")]
        assert [row.device for row in sign_ins.list_active(unit.session, user.id)] == [
            "Another device",
            "iPhone",
            "Linux",
        ]
        assert not any(row.digest in keys for row in sign_ins.list_active(unit.session, user.id)), "keys are stored"
        first, second, third = (sign_ins.find(unit.session, key)[0] for key in keys)
        sign_ins.end(unit.session, first.id, user.id)
        with pytest.raises(Missing):
            sign_ins.end(unit.session, first.id, user.id)
        with pytest.raises(Missing):
            sign_ins.end(unit.session, second.id, "somebody-else")
    with runtime.database.unit() as unit:
        assert [bool(sign_ins.find(unit.session, key)) for key in keys] == [False, True, True]
        unit.session.get_one(SignIn, second.id).until = now() - timedelta(seconds=1)
        assert sign_ins.find(unit.session, keys[1]) is None
        sign_ins.end_all(unit.session, user.id, but=third.id)
        assert [row.id for row in sign_ins.list_active(unit.session, user.id)] == [third.id]
        assert sign_ins.forget_old(unit.session, timedelta(0)) >= 2


def test_a_new_password_by_letter_works_once_and_signs_out_everywhere(runtime: Runtime, tmp_path: Path) -> None:
    email = address()
    user = new_user(runtime, email)
    nobody = address()
    with runtime.database.unit() as unit:
        key = sign_ins.begin(unit.session, user, "", "")
        resets.ask(unit, nobody, lambda key: key)
        resets.ask(unit, email, lambda key: f"https://reel.example/reset/{key}")
    (letter,) = awaited(lambda: letters_to(runtime, email))
    assert letters_to(runtime, nobody) == [], "a letter went to somebody who has no account"
    link = re.search(r"/reset/(\S+)", letter).group(1)
    with runtime.database.unit() as unit, pytest.raises(Refusal, match="guessed"):
        resets.carry_out(unit.session, link, "password123")
    with runtime.database.unit() as unit:
        assert resets.carry_out(unit.session, link, "nine other lanterns").id == user.id
    with runtime.database.unit() as unit:
        assert sign_ins.find(unit.session, key) is None
        assert accounts.sign_in(unit.session, email, "nine other lanterns").id == user.id
        with pytest.raises(Missing, match="used already"):
            resets.carry_out(unit.session, link, "eleven more lanterns")


def test_what_is_pressed_twice_is_done_once(runtime: Runtime) -> None:
    user = new_user(runtime, address())
    made: list[str] = []

    def make() -> str:
        made.append(f"x-{len(made)}")
        return made[-1]

    for press in ("press-one", "press-one", "press-two", "", "bad press!", "press-one"):
        with runtime.database.unit() as unit:
            presses.once(unit.session, user.id, press, make)
    assert made == ["x-0", "x-1", "x-2", "x-3"]
    with pytest.raises(ZeroDivisionError), runtime.database.unit() as unit:
        presses.once(unit.session, user.id, "press-three", lambda: str(1 // 0))
    with runtime.database.unit() as unit:
        # What failed was not done: the same press may try again.
        assert presses.once(unit.session, user.id, "press-three", make) == "x-4"
        unit.session.get_one(Press, {"user_id": user.id, "press": "press-one"}).created_at = now() - timedelta(days=3)
        presses.forget_old(unit.session)
        assert unit.session.get(Press, {"user_id": user.id, "press": "press-one"}) is None
