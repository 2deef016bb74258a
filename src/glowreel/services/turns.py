"""Two or more films behind one link, each visitor seeing the next: which opening or call to action does better, with
honest numbers. A second version of a promo is a copy of a format with changes of its own, or a copy of the promo."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.core.odds import Share, better, enough, share
from glowreel.services import watch_pages
from glowreel.services.access import Actor, authorise_file, listed
from glowreel.services.setup import Runtime
from glowreel.store.keys import digest, key_of
from glowreel.store.models import ExportFile, PromoRow, Turn, TurnCount, new_key, now

FEWEST, MOST = 2, 4
MOST_TURNS = 200


@dataclass(frozen=True)
class Shown:
    """How one film of a turn does: `plays`, the share of it that is watched on average, and the share of plays in which
    the call to action was pressed."""

    file: ExportFile
    watched: float
    pressed: Share


@dataclass(frozen=True)
class Result:
    """How the films of a turn do, in their order, and which one does better for sure; `told` says it."""

    turn: Turn
    films: tuple[Shown, ...]
    best: int | None
    told: str


def key(runtime: Runtime, row: Turn) -> str:
    """The key in the address of a turn."""
    return key_of(runtime.settings.secret, "turn", row.id)


def begin(runtime: Runtime, session: Session, actor: Actor, file_ids: Sequence[str]) -> Turn:
    """A link behind which these films are shown in turn. Raises `Refusal` for too few or too many, and for
    those that cannot be seen."""
    keys = list(dict.fromkeys(file_ids))
    if not FEWEST <= len(keys) <= MOST:
        raise Refusal("films", f"Choose {FEWEST} to {MOST} films that are to be shown in turn.")
    files = [authorise_file(session, one, actor, "export") for one in keys]
    if any(file.state != "done" for file in files):
        raise Refusal("not-done", "One of these films is not finished.", "Wait for it.")
    if not all(_can_be_seen(session, file) for file in files):
        raise Refusal("closed", "One of these films has a password, or its link has ended.", "Open it first.")
    if actor.user_id is None:
        raise Refusal("no-person", "Only somebody of the team does that.")
    if len(standing(session, actor)) >= MOST_TURNS:
        raise Refusal("many", "There are too many such links already.", "End some of them.")
    made = Turn(
        id=new_key("tu"), team_id=actor.team_id, promo_id=files[0].export.promo_id, user_id=actor.user_id, digest="",
        name=files[0].export.title[:120], files=keys, visits=0,
    )  # fmt: skip
    made.digest = digest(key(runtime, made))
    session.add(made)
    session.flush()
    return made


def find(session: Session, actor: Actor, turn_id: str) -> Turn:
    """A link of the team's. Raises `Missing`."""
    row = session.get(Turn, turn_id)
    if row is None or row.team_id != actor.team_id:
        raise _gone()
    authorise_file(session, row.files[0], actor, "see")
    return row


def _gone() -> Missing:
    return Missing("no-film", "There is no film behind this link.", "Ask whoever sent it for a new one.")


def standing(session: Session, actor: Actor) -> list[Turn]:
    """The links that are open, the newest first."""
    query = select(Turn).join(PromoRow, PromoRow.id == Turn.promo_id)
    mine = (listed(PromoRow, actor), PromoRow.removed_at.is_(None), Turn.ended_at.is_(None))
    return list(session.scalars(query.where(*mine).order_by(Turn.created_at.desc()).limit(MOST_TURNS)))


def end(session: Session, actor: Actor, turn_id: str) -> Turn:
    """Ends a link; what was counted stays."""
    row = find(session, actor, turn_id)
    if not actor.may("export"):
        raise Refusal("no-right", "You may not export this.", "Ask somebody who owns the team.")
    row.ended_at = row.ended_at or now()
    return row


def opened(session: Session, given: str) -> Turn:
    """The open link of that key. Raises `Missing`."""
    row = session.scalar(select(Turn).where(Turn.digest == digest(given[:100])))
    if row is None or row.ended_at is not None:
        raise _gone()
    return row


def next_film(session: Session, row: Turn) -> ExportFile:
    """The film whose turn it is. One whose own link has ended, or that is gone, is left out."""
    visit = session.scalar(update(Turn).where(Turn.id == row.id).values(visits=Turn.visits + 1).returning(Turn.visits))
    files = (session.get(ExportFile, one) for one in row.files)
    there = [file for file in files if file is not None and _can_be_seen(session, file)]
    if not there:
        raise _gone()
    return there[((visit or 1) - 1) % len(there)]


def _can_be_seen(session: Session, file: ExportFile) -> bool:
    """Whether anybody with a link may see a film: one behind a password is not shown in turn."""
    if file.export.removed_at or file.export.promo.removed_at or watch_pages.page_of(session, file).password:
        return False
    return file.state == "done" and file.film_form.plays and file.link_until is not None and file.link_until > now()


def count(session: Session, row: Turn, file_id: str, what: str, times: int = 1) -> None:
    """Counts a play, a press, or so many parts that were seen. Raises `Refusal` for anything else."""
    if what not in ("play", "press", "seen") or file_id not in row.files or not 0 < times <= watch_pages.PARTS:
        raise Refusal("no-count", "That is not counted.")
    made = insert(TurnCount).values(turn_id=row.id, file_id=file_id, what=what, count=times)
    again = {"count": TurnCount.count + times}
    session.execute(made.on_conflict_do_update(index_elements=["turn_id", "file_id", "what"], set_=again))


def result(session: Session, actor: Actor, turn_id: str) -> Result:
    """How the films of a turn do."""
    row = find(session, actor, turn_id)
    counts = {(one.file_id, one.what): one.count for one in session.scalars(
        select(TurnCount).where(TurnCount.turn_id == row.id)
    )}  # fmt: skip
    films = []
    for file_id in row.files:
        file = session.get(ExportFile, file_id)
        if file is None:
            continue
        plays = counts.get((file_id, "play"), 0)
        seen = counts.get((file_id, "seen"), 0) / (watch_pages.PARTS * plays) if plays else 0.0
        films.append(Shown(file, min(1.0, seen), share(counts.get((file_id, "press"), 0), plays)))
    shares = [one.pressed for one in films]
    best = better(shares)
    if best is not None:
        told = f"{letter(best)} is pressed more often, and that is no chance."
    elif enough(shares):
        told = "No difference can be told: what there is may be chance."
    else:
        told = "Not enough yet: nothing can be said before each was played 30 times."
    return Result(row, tuple(films), best, told)


def letter(at: int) -> str:
    """What a film of a turn is called: A, B, …"""
    return "ABCD"[at]
