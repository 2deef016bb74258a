"""The watch page of a finished film: what it says and allows, how it is watched in plain numbers, and what is asked.

Nothing is kept of who watches: counts by day, of plays, of parts of the film that were seen, of presses.
"""

from __future__ import annotations

import re
import shutil
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from urllib.parse import urlsplit

from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session
from werkzeug.datastructures import FileStorage

from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline
from glowreel.services import audit, exports, letters
from glowreel.services.access import Actor, authorise_file
from glowreel.services.accounts import clean_address
from glowreel.services.invitations import ADDRESS
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import ExportFile, Letter, WatchCount, WatchPage, WatchQuestion, new_key, now

PARTS = 50
"""A film is divided into so many parts to see how far it is watched."""
DAYS = 30
"""So many days are told one by one."""
KEPT = timedelta(days=400)
MOST_QUESTIONS = 300
LONGEST, LONGEST_TEXT = 500, 5000
MOST_LINKS, PICTURE_SIDE = 12, 1280
MOST_LETTERS, MOST_SENT = 100, 500
_hasher = PasswordHasher()


@dataclass(frozen=True)
class Wanted:
    """How a page is to be; see `WatchPage`. `action_at` is seconds, or nothing for the end; `poster` is a second of the
    film, or nothing for what is usual; `password` is as typed, `unlock` takes the one there is away."""

    title: str = ""
    about: str = ""
    action: str = ""
    leads_to: str = ""
    action_at: float | None = None
    poster: float | None = None
    downloads: bool = True
    asks: bool = False
    password: str = ""
    unlock: bool = False
    links: str = ""
    """A line for each: its words, then its address."""


@dataclass(frozen=True)
class Chapter:
    """A scene of the film: what it is called, and the second it begins at."""

    name: str
    at: float


@dataclass(frozen=True)
class Numbers:
    """How a film is watched: `plays` and `presses` in all and by day, oldest first; `seen` is the share of plays in
    which each part was watched."""

    plays: int
    presses: int
    days: tuple[tuple[date, int, int], ...]
    seen: tuple[float, ...]


def page_of(session: Session, file: ExportFile) -> WatchPage:
    """What the page of a film says; what is usual where nobody said otherwise."""
    row = session.get(WatchPage, file.id)
    if row is not None:
        return row
    return WatchPage(
        file_id=file.id, title="", about=file.export.caption, action="", leads_to="", downloads=True, asks=False,
        password="", links=[], picture="",
    )  # fmt: skip


def set_page(session: Session, actor: Actor, file_id: str, wanted: Wanted) -> WatchPage:
    """Has the page of a film be like that. Raises `Refusal` for an address that is none, or numbers beyond the film."""
    file = authorise_file(session, file_id, actor, "export")
    leads_to, action = wanted.leads_to.strip(), " ".join(wanted.action.split())[:60]
    if leads_to and "://" not in leads_to:
        leads_to = f"https://{leads_to}"
    if bool(action) != bool(leads_to):
        raise Refusal("action", "A call to action needs its words and an address.", "Fill in both, or neither.")
    if leads_to and not _is_address(leads_to):
        raise Refusal("address", "That is no address of a page.", "It begins with https://.")
    length = seconds(session, file)
    for second in (wanted.action_at, wanted.poster):
        if second is not None and not 0 <= second <= length:
            raise Refusal("second", f"The film is {length:.1f} s long.", "Name a second of it.")
    if wanted.password and not 4 <= len(wanted.password) <= 200:
        raise Refusal("password", "A password for a film has 4 to 200 characters.")
    row = session.get(WatchPage, file.id) or WatchPage(file_id=file.id, password="")
    row.title, row.about = " ".join(wanted.title.split())[:120], wanted.about.strip()[:LONGEST_TEXT]
    row.action, row.leads_to, row.action_at = action, leads_to, wanted.action_at
    row.poster = None if wanted.poster is None else round(wanted.poster * file.frames / max(length, 0.001))
    row.downloads, row.asks = wanted.downloads, wanted.asks
    row.links = read_links(wanted.links)
    if wanted.password or wanted.unlock:
        row.password = _hasher.hash(wanted.password) if wanted.password else ""
    session.add(row)
    session.flush()
    return row


def read_links(text: str) -> list[list[str]]:
    """Other pages, a line for each: its words, then its address. Raises `Refusal` for a line without either."""
    found = []
    for line in (line.strip() for line in text.splitlines()):
        if not line:
            continue
        words, _, address = line.rpartition(" ")
        address = address if "://" in address else f"https://{address}"
        if not words.strip() or not _is_address(address):
            raise Refusal("link", f"“{line[:60]}” is no link.", "Each line has words, then an address.")
        found.append([" ".join(words.split())[:60], address])
    if len(found) > MOST_LINKS:
        raise Refusal("links", f"A page has at most {MOST_LINKS} links.")
    return found


def set_picture(runtime: Runtime, actor: Actor, file_id: str, sent: FileStorage | None) -> None:
    """Has a picture that was sent be shown before the film plays; without one, a frame of the film again. Raises
    `BadMedia`."""
    with runtime.database.unit() as unit:
        authorise_file(unit.session, file_id, actor, "export")
    blob = ""
    if sent is not None:
        with runtime.workspace() as folder:
            path = folder / "sent"
            with path.open("wb") as out:
                shutil.copyfileobj(sent, out, 1024**2)
            arguments = {"path": str(path.resolve()), "side": PICTURE_SIDE}
            runtime.limited.run("still", arguments, folder, "That picture")
            blob = f"posters/{file_id}-{new_key('p')}.jpg"
            runtime.blobs.take(blob, folder / "still.jpg")
    with runtime.database.unit() as unit:
        file = authorise_file(unit.session, file_id, actor, "export")
        row = page_of(unit.session, file)
        before, row.picture = row.picture, blob
        unit.session.add(row)
        if before:
            unit.after(lambda: runtime.blobs.remove(before))


def send(unit: Unit, actor: Actor, file_id: str, addresses: str, words: str, link: str) -> int:
    """Sends the link of a film to a list of addresses, each once; answers with how many were written. Raises
    `Refusal`."""
    file = authorise_file(unit.session, file_id, actor, "export")
    people = list(dict.fromkeys(clean_address(one) for one in re.split(r"[\s,;]+", addresses) if one))
    wrong = next((one for one in people if not ADDRESS.match(one)), None)
    if wrong is not None:
        raise Refusal("address", f"“{wrong[:60]}” is no address.")
    if not 0 < len(people) <= MOST_LETTERS:
        raise Refusal("people", f"Name 1 to {MOST_LETTERS} addresses.")
    if len(sent_to(unit.session, actor, file_id)) + len(people) > MOST_SENT:
        raise Refusal("many", f"A film is sent to at most {MOST_SENT} people in a month.")
    exports.watched(unit.session, file.token)
    title = page_of(unit.session, file).title or file.export.title
    text = f"{words.strip()[:LONGEST_TEXT]}\n\n{title}\n{link}\n".lstrip()
    made = [letters.write(unit, one, title, text, file.export, f"watch:{file.id}:{one}"[:120]) for one in people]
    count = sum(bool(one) for one in made)
    if count:
        audit.note(unit.session, actor, "mailed", f"“{title}” to {count} people")
    return count


def sent_to(session: Session, actor: Actor, file_id: str) -> list[Letter]:
    """The letters that went out with a film, the newest first."""
    authorise_file(session, file_id, actor, "see")
    query = select(Letter).where(Letter.team_id == actor.team_id, Letter.key.like(f"watch:{file_id}:%"))
    return list(session.scalars(query.order_by(Letter.created_at.desc()).limit(MOST_SENT)))


def _is_address(text: str) -> bool:
    try:
        parts = urlsplit(text)
    except ValueError:
        return False
    plain = text.isprintable() and " " not in text and len(text) <= LONGEST
    return plain and parts.scheme in ("http", "https") and "." in (parts.hostname or "")


def fits(page: WatchPage, password: str) -> None:
    """Nothing where that is the page's password. Raises `Refusal`."""
    try:
        _hasher.verify(page.password, password[:200])
    except VerificationError as error:
        raise Refusal("password", "That is not the password.", "Ask whoever sent the link.") from error


def seconds(session: Session, file: ExportFile) -> float:
    """How long the film is."""
    promo, _, _ = exports.exported(session, file)
    return timeline(promo).length / TICKS_PER_SECOND


def chapters(session: Session, file: ExportFile) -> list[Chapter]:
    """The scenes of a film, where it has several."""
    promo, _, _ = exports.exported(session, file)
    index = timeline(promo)
    found = [Chapter(one.name, index.scene_span[one.id].start / TICKS_PER_SECOND) for one in promo.scenes]
    return found if len(found) > 1 else []


def count(session: Session, file: ExportFile, what: str, places: Sequence[int] = (0,)) -> None:
    """Counts a play, a press, or parts that were seen. Raises `Refusal` for anything else."""
    if what not in ("play", "press", "seen") or not all(0 <= place < PARTS for place in places):
        raise Refusal("no-count", "That is not counted.")
    for place in sorted(set(places)):
        row = {"file_id": file.id, "day": now().date(), "what": what, "place": place, "count": 1}
        more = insert(WatchCount).values(**row)
        again = {"count": WatchCount.count + 1}
        session.execute(more.on_conflict_do_update(index_elements=["file_id", "day", "what", "place"], set_=again))


def numbers(session: Session, actor: Actor, file_id: str) -> Numbers:
    """How a film is watched."""
    file = authorise_file(session, file_id, actor, "see")
    rows = session.execute(
        select(WatchCount.what, WatchCount.day, WatchCount.place, func.sum(WatchCount.count))
        .where(WatchCount.file_id == file.id).group_by(WatchCount.what, WatchCount.day, WatchCount.place)
    ).all()  # fmt: skip
    by_day: dict[tuple[str, date], int] = {}
    seen = [0] * PARTS
    for what, day, place, number in rows:
        if what == "seen":
            seen[place] += number
        else:
            by_day[what, day] = by_day.get((what, day), 0) + number
    plays = sum(number for (what, _), number in by_day.items() if what == "play")
    today = now().date()
    days = [today - timedelta(days=back) for back in range(DAYS - 1, -1, -1)]
    return Numbers(
        plays, sum(number for (what, _), number in by_day.items() if what == "press"),
        tuple((day, by_day.get(("play", day), 0), by_day.get(("press", day), 0)) for day in days),
        tuple(min(1.0, number / plays) if plays else 0.0 for number in seen),
    )  # fmt: skip


def ask(session: Session, file: ExportFile, who: str, at: float, text: str) -> WatchQuestion:
    """A question of somebody who watches. Raises `Refusal` for what cannot be kept."""
    said, name = text.strip(), " ".join(who.split())[:80]
    if not page_of(session, file).asks:
        raise Refusal("no-questions", "Questions are not taken here.")
    if not said or not name:
        raise Refusal("empty", "Say who you are, and what you would like to know.")
    if len(said) > LONGEST:
        raise Refusal("too-long", f"A question has at most {LONGEST} letters.")
    if len(questions(session, file)) >= MOST_QUESTIONS:
        raise Refusal("many", "Nothing more can be asked here for now.")
    row = WatchQuestion(id=new_key("q"), file_id=file.id, who=name, at=max(0.0, min(at, 36_000.0)), text=said)
    row.answer = row.answered_by = ""
    session.add(row)
    session.flush()
    announce_work(session, file.export)
    return row


def questions(session: Session, file: ExportFile, *, answered: bool = False) -> list[WatchQuestion]:
    """What was asked, in the order of the film; only what was answered, for viewers."""
    query = select(WatchQuestion).where(WatchQuestion.file_id == file.id).order_by(WatchQuestion.at)
    if answered:
        query = query.where(WatchQuestion.answer != "")
    return list(session.scalars(query.limit(MOST_QUESTIONS)))


def answer(session: Session, actor: Actor, question_id: str, text: str, who: str) -> WatchQuestion:
    """Answers a question, so that everybody sees both; nothing takes the answer back."""
    row = _question(session, actor, question_id)
    row.answer, row.answered_by = text.strip()[:LONGEST_TEXT], who[:80] if text.strip() else ""
    return row


def forget(session: Session, actor: Actor, question_id: str) -> ExportFile:
    """Removes a question."""
    row = _question(session, actor, question_id)
    file = session.get_one(ExportFile, row.file_id)
    session.delete(row)
    session.flush()
    return file


def _question(session: Session, actor: Actor, question_id: str) -> WatchQuestion:
    row = session.get(WatchQuestion, question_id)
    if row is None:
        raise Missing("no-question", "There is no such question.")
    authorise_file(session, row.file_id, actor, "export")
    return row
