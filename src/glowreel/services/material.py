"""The Shelf in order: files found and sorted, in folders, with tags, marked, renamed, taken off and brought back; and
in which promos each is used."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from sqlalchemy import ColumnElement, Select, func, or_, select
from sqlalchemy.orm import Session

from glowreel.core.commands.everywhere import ReplaceEverywhere, missing
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.engine.likeness import Description, apart, describe
from glowreel.services import library, shelf, teams, transcripts
from glowreel.services.access import Actor, authorise, listed
from glowreel.services.blob_keys import derived
from glowreel.services.promos import document, edit, summary_of
from glowreel.services.retention import REMOVED_FOR
from glowreel.store.blobs import Blobs
from glowreel.store.models import MediaFile, PromoRow, now

MOST_FOLDERS, MOST_TAGS, LONGEST_TAG = 60, 12, 30
PAGE = 60
"""So many files are shown at once; more come when they are asked for."""
MANY = 500
MOST_PAGES = 2000
MOST_COMPARED = 3000
"""So many files, the newest, are looked through for some that look like one."""
Seen = Callable[[str], Description | None]

SORTS: dict[str, tuple[str, Any]] = {
    "newest": ("Newest", MediaFile.created_at.desc()),
    "name": ("By name", func.lower(MediaFile.name)),
    "longest": ("Longest", MediaFile.facts["length"].as_float().desc().nulls_last()),
    "largest": ("Largest", MediaFile.size.desc()),
}
"""The orders in which files are listed."""

WHOSE: dict[str, str] = {
    "all": "All", "mine": "Brought in by me", "marked": "Favourites", "used": "Used in a promo",
    "unused": "Not used", "bin": "Bin",
}  # fmt: skip
"""Which of the team's files are listed."""

KINDS = ("footage", "photo", "sound", "look")


@dataclass(frozen=True)
class Wanted:
    """What is looked for: words in name, tags or speech, a kind, whose (`WHOSE`), a folder, a tag, an order; or `like`,
    a file that others are to look like."""

    words: str = ""
    kind: str = ""
    whose: str = "all"
    folder: str = ""
    tag: str = ""
    sort: str = "newest"
    after: int = 0
    like: str = ""


@dataclass(frozen=True)
class Listed:
    """A part of what was found: its files, how many there are in all, and which of them are favourites."""

    files: list[MediaFile]
    total: int
    marked: frozenset[str]


def find(session: Session, actor: Actor, wanted: Wanted, seen: Seen | None = None) -> Listed:
    """The team's files that fit, in their order: those most like one first, where that is asked; `seen` knows what
    pictures look like."""
    marked = library.favourites_of(session, actor)
    query = select(MediaFile).where(*_fitting(session, actor, wanted, marked))
    if wanted.like and seen is not None:
        return _alike(session, actor, wanted, query, marked, seen)
    total = session.scalar(select(func.count()).select_from(query.subquery())) or 0
    order = SORTS.get(wanted.sort, SORTS["newest"])[1]
    rows = session.scalars(query.order_by(order, MediaFile.id).offset(max(0, wanted.after)).limit(PAGE))
    return Listed(list(rows), total, marked)


def _alike(
    session: Session, actor: Actor, wanted: Wanted, query: Select[Any], marked: frozenset[str], seen: Seen
) -> Listed:
    """Files by how alike they look to one, which comes first; what has no picture is left out."""
    one = seen(authorise(session, MediaFile, wanted.like, actor, "see").hash)
    if one is None:
        raise Refusal("no-picture", "That file has no picture that others could look like.")
    newest = query.order_by(MediaFile.created_at.desc(), MediaFile.id).limit(MOST_COMPARED)
    rows: list[MediaFile] = list(session.scalars(newest))
    known = [(row, look) for row in rows if (look := seen(row.hash)) is not None]
    distances = apart(one, [look for _, look in known])
    order = sorted(range(len(known)), key=lambda n: (known[n][0].id != wanted.like, float(distances[n])))
    listed = [known[n][0] for n in order]
    after = max(0, wanted.after)
    return Listed(listed[after : after + PAGE], len(listed), marked)


def looks_kept(blobs: Blobs) -> Seen:
    """What tells how a file looks, by its hash: described once from its small picture, and kept beside that."""

    def seen(source: str) -> Description | None:
        key, poster = derived(source, "look"), derived(source, "poster.jpg")
        if not blobs.has(key):
            pixels = cv2.imread(str(blobs.local(poster))) if blobs.has(poster) else None
            if pixels is None:
                return None
            look = describe(np.asarray(pixels, np.uint8))
            blobs.write(key, look.tofile)
        return np.frombuffer(blobs.local(key).read_bytes(), np.float32)

    return seen


def replace_everywhere(session: Session, actor: Actor, old: str, media_id: str) -> list[str]:
    """Puts a file in the place of another one in every promo that uses that, each as a step that can be undone there;
    answers with the names of the promos. Those that refuse it stay as they are."""
    authorise(session, MediaFile, old, actor, "see", removed=True)
    authorise(session, MediaFile, media_id, actor, "see")
    if old == media_id:
        raise Refusal("same", "That is the same file.", "Choose another one.")
    done, refused = [], ""
    for key, name in uses(session, actor).get(old, []):
        try:
            edit(session, key, actor, ReplaceEverywhere(old=old, media=media_id))
        except Refusal as refusal:
            refused = str(refusal)
        else:
            done.append(name)
    if not done:
        raise Refusal("not-used", refused or "No promo uses that file.")
    return done


def others(session: Session, actor: Actor, row: MediaFile) -> list[tuple[str, str]]:
    """Files that could stand in the place of one, newest first: their keys and names."""
    kind = (row.facts or {}).get("kind")
    kinds = ("footage", "photo") if kind in ("footage", "photo") else (str(kind),)
    query = select(MediaFile.id, MediaFile.name).where(
        listed(MediaFile, actor), MediaFile.removed_at.is_(None), MediaFile.usable, MediaFile.id != row.id,
        MediaFile.facts["kind"].astext.in_(kinds),
    )  # fmt: skip
    return [
        (str(key), str(name)) for key, name in session.execute(query.order_by(MediaFile.created_at.desc()).limit(200))
    ]


def found_again(session: Session, actor: Actor, promo: Promo) -> dict[str, str]:
    """Files of the team with the names of those that are missing in a promo, by the fillers in their places."""
    wanted = missing(promo)
    query = select(MediaFile.name, MediaFile.id).where(
        listed(MediaFile, actor), MediaFile.removed_at.is_(None), MediaFile.usable,
        MediaFile.name.in_(set(wanted.values())), MediaFile.facts["kind"].astext.in_(("footage", "photo")),
    )  # fmt: skip
    there = dict(iter(session.execute(query.order_by(MediaFile.created_at))))
    return {filler: there[name] for filler, name in wanted.items() if name in there}


def _fitting(session: Session, actor: Actor, wanted: Wanted, marked: frozenset[str]) -> list[ColumnElement[bool]]:
    in_bin = wanted.whose == "bin"
    fits: list[ColumnElement[bool]] = [
        listed(MediaFile, actor),
        MediaFile.removed_at.is_not(None) if in_bin else MediaFile.removed_at.is_(None),
        func.coalesce(MediaFile.facts["kind"].astext, "") != "font",
    ]
    if in_bin:
        fits.append(MediaFile.removed_at > now() - REMOVED_FOR)
    for word in wanted.words.split()[:10]:
        named = MediaFile.name.icontains(word, autoescape=True)
        tagged = func.lower(func.cast(MediaFile.tags, MediaFile.name.type)).contains(word.lower(), autoescape=True)
        fits.append(or_(named, tagged, transcripts.said_like(wanted.words, actor)))
    if wanted.kind in KINDS:
        fits.append(MediaFile.facts["kind"].astext == wanted.kind)
    if wanted.folder:
        fits.append(MediaFile.folder == wanted.folder)
    if wanted.tag:
        fits.append(MediaFile.tags.contains([wanted.tag]))
    if wanted.whose == "mine":
        fits.append(MediaFile.user_id == actor.user_id)
    elif wanted.whose == "marked":
        fits.append(MediaFile.id.in_(marked))
    elif wanted.whose in ("used", "unused"):
        used = set(uses(session, actor))
        fits.append(MediaFile.id.in_(used) if wanted.whose == "used" else MediaFile.id.not_in(used))
    return fits


def uses(session: Session, actor: Actor) -> dict[str, list[tuple[str, str]]]:
    """In which of the team's promos each file is used: their keys and names, last changed first."""
    query = select(PromoRow).where(listed(PromoRow, actor), PromoRow.removed_at.is_(None))
    found: dict[str, list[tuple[str, str]]] = {}
    for row in session.scalars(query.order_by(PromoRow.updated_at.desc())):
        if "media" not in row.summary:  # Kept before summaries told of it: looked at once, then known.
            row.summary = summary_of(document(session, row))
        keys: Any = row.summary["media"]
        for key in keys:
            found.setdefault(key, []).append((row.id, row.name))
    return found


def folders(session: Session, actor: Actor) -> dict[str, int]:
    """The folders of the Shelf, with how many files lie in each, by name."""
    mine = (listed(MediaFile, actor), MediaFile.removed_at.is_(None), MediaFile.folder != "")
    query = select(MediaFile.folder, func.count()).where(*mine).group_by(MediaFile.folder)
    return {str(name): int(count) for name, count in session.execute(query.order_by(func.lower(MediaFile.folder)))}


def decks(session: Session, actor: Actor) -> dict[str, list[tuple[str, str]]]:
    """The folders that hold pages: their pictures, by key and name, in the order in which they lie there."""
    mine = (listed(MediaFile, actor), MediaFile.removed_at.is_(None), MediaFile.folder != "")
    query = select(MediaFile.folder, MediaFile.id, MediaFile.name).where(
        *mine, MediaFile.usable, MediaFile.facts["kind"].astext == "photo"
    )
    found: dict[str, list[tuple[str, str]]] = {}
    for folder, key, name in session.execute(
        query.order_by(MediaFile.created_at.desc(), MediaFile.id).limit(MOST_PAGES)
    ):
        found.setdefault(folder, []).append((key, name))
    return found


def tags(session: Session, actor: Actor) -> dict[str, int]:
    """The tags of the Shelf, with how many files have each, the most used first."""
    query = select(MediaFile.tags).where(
        listed(MediaFile, actor), MediaFile.removed_at.is_(None), func.jsonb_array_length(MediaFile.tags) > 0
    )
    counts = Counter(tag for some in session.scalars(query) for tag in some)
    return dict(sorted(counts.items(), key=lambda item: (-item[1], item[0])))


def _rows(session: Session, actor: Actor, ids: Iterable[str], verb: Any, *, removed: bool = False) -> list[MediaFile]:
    keys = list(dict.fromkeys(ids))[:MANY]
    if not keys:
        raise Refusal("none", "No file is marked.", "Mark some first.")
    return [authorise(session, MediaFile, key, actor, verb, lock=True, removed=removed) for key in keys]


def put(session: Session, actor: Actor, ids: Iterable[str], folder: str) -> int:
    """Puts files into a folder, out of any for nothing."""
    name = " ".join(folder.split())[:80]
    there = folders(session, actor)
    if name and name not in there and len(there) >= MOST_FOLDERS:
        raise Refusal("too-many", f"A Shelf has at most {MOST_FOLDERS} folders.", "Empty one first.")
    rows = _rows(session, actor, ids, "edit")
    for row in rows:
        row.folder = name
    return len(rows)


def tag(session: Session, actor: Actor, ids: Iterable[str], words: str, *, off: bool = False) -> int:
    """Gives files tags, several by commas, or takes them off."""
    named = [" ".join(one.split()).lower()[:LONGEST_TAG] for one in words.split(",")]
    wanted = [one for one in dict.fromkeys(named) if one]
    if not wanted:
        raise Refusal("no-tag", "No tag is named.", "Type one, or several with commas between.")
    rows = _rows(session, actor, ids, "edit")
    for row in rows:
        kept = [one for one in row.tags if one not in wanted]
        row.tags = kept if off else [*kept, *wanted]
        if len(row.tags) > MOST_TAGS:
            raise Refusal("too-many", f"A file has at most {MOST_TAGS} tags.", "Take one off first.")
    return len(rows)


def mark(session: Session, actor: Actor, ids: Sequence[str]) -> bool:
    """Makes files favourites of whoever asks; where all are, takes the marks away. Says which."""
    rows = _rows(session, actor, ids, "see")
    there = library.favourites_of(session, actor)
    on = any(row.id not in there for row in rows)
    for row in rows:
        if (row.id in there) != on:
            library.set_mark(session, actor, row.id)
    return on


def rename(session: Session, actor: Actor, media_id: str, name: str) -> MediaFile:
    """Calls a file otherwise; its suffix stays. Promos that use it go on calling it as they do."""
    row = authorise(session, MediaFile, media_id, actor, "edit", lock=True)
    clean, suffix = shelf.clean_name(name.strip())
    if not name.strip():
        raise Refusal("no-name", "A file needs a name.")
    row.name = clean if suffix == row.suffix else f"{clean[:190]}{row.suffix}"
    if row.facts is not None:
        row.facts = {**row.facts, "name": row.name}
    return row


def remove(session: Session, actor: Actor, ids: Iterable[str]) -> list[str]:
    """Takes files off the Shelf; answers with those that were there."""
    rows = _rows(session, actor, ids, "remove")
    return [shelf.remove(session, row.id, actor).id for row in rows]


def bring_back(session: Session, actor: Actor, ids: Iterable[str]) -> int:
    """Puts files back on the Shelf that were taken off. What came in again meanwhile is there already."""
    rows = _rows(session, actor, ids, "remove", removed=True)
    back = 0
    for row in rows:
        same = select(MediaFile.id).where(
            MediaFile.team_id == actor.team_id, MediaFile.hash == row.hash, MediaFile.removed_at.is_(None)
        )
        if row.removed_at is not None and session.scalar(same) is None:
            row.removed_at = None
            if row.state == "stopped":
                row.state, row.sent_at = "queued", None
            back += 1
    session.flush()
    return back


def brought_by(session: Session, actor: Actor, rows: Sequence[MediaFile]) -> dict[str, str]:
    """Who brought files in, by their keys; nothing for those of whom that is not known."""
    keys = {row.user_id for row in rows if row.user_id}
    names = teams.names(session, actor, keys)
    return {row.id: names[row.user_id] for row in rows if row.user_id in names}
