"""How a team likes to work: a row for each wish, with what is usual."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy.orm import Session

from glowreel.core.errors import Refusal
from glowreel.services.access import Actor
from glowreel.store.models import Team


@dataclass(frozen=True)
class Wish:
    """One thing that a team may want: what it is called, what it does, and what is usual."""

    label: str
    meaning: str
    usual: bool = False


WISHES: dict[str, Wish] = {
    "photos_move": Wish(
        "New photos move gently", "A photo that comes on to the main track comes slowly nearer, or goes away."
    ),
    "footage_quiet": Wish(
        "Footage under a voice comes in quiet",
        "Footage with sound of its own that comes under a voice is at −18 dB; a notice says so.",
        usual=True,
    ),
    "write_down": Wish(
        "What is said is written down by itself",
        "Of every new file in which somebody speaks; it takes about a fifth of its length.",
    ),
    "private_first": Wish(
        "What somebody begins is theirs until they share it",
        "New promos and files are seen by whoever made them; one press makes them the team’s.",
    ),
}


def wishes(session: Session, actor: Actor) -> dict[str, bool]:
    """Every wish of the person's team."""
    team = session.get_one(Team, actor.team_id)
    return {name: bool(team.wishes.get(name, wish.usual)) for name, wish in WISHES.items()}


def set_wishes(session: Session, actor: Actor, given: Mapping[str, bool]) -> None:
    """Sets wishes of the person's team; those that are not named stay."""
    strange = set(given) - set(WISHES)
    if strange:
        raise Refusal("no-wish", f"There is nothing called “{min(strange)}” to choose.")
    team = session.get_one(Team, actor.team_id)
    team.wishes = {**team.wishes, **given}
