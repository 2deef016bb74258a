"""Texts spoken by voices: each line once, a file on the Shelf with its words; what is the same is not spoken again."""

from __future__ import annotations

import hashlib
import logging
from collections.abc import Mapping, Sequence
from datetime import timedelta
from pathlib import Path
from typing import Any

import orjson
from sqlalchemy import or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from glowreel.core.errors import Fault, NoRoom, Refusal
from glowreel.core.speech.voices import MOST_LETTERS, MOST_LINES, SPEEDS, VOICES
from glowreel.limited.client import Died, Interrupted
from glowreel.services import shelf, transcripts
from glowreel.services.access import Actor, allow
from glowreel.services.leases import LENGTH, Lease, Stopped, beating, long_since, over
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, Spoken, now

VERSION = 1
"""Of how texts are spoken; what another version spoke is spoken anew."""
AGAIN = timedelta(seconds=20)
MAX_DEATHS = 2
BATCH = 100
log = logging.getLogger(__name__)


def want(
    unit: Unit, actor: Actor, lines: Sequence[str], voice: str, speed: float, says: Mapping[str, str]
) -> list[Spoken]:
    """The rows of these lines, in order; what has not been spoken is begun. Raises `Refusal` for what cannot be."""
    allow(actor, "add")
    texts = [" ".join(line.split()) for line in lines if line.strip()]
    if not texts:
        raise Refusal("no-text", "There is nothing to be spoken.", "Type what is to be said.")
    if len(texts) > MOST_LINES or any(len(text) > MOST_LETTERS for text in texts):
        raise Refusal("too-long", f"At most {MOST_LINES} lines of {MOST_LETTERS} letters are spoken at once.")
    if voice not in VOICES or not SPEEDS[0] <= speed <= SPEEDS[1]:
        raise Refusal("no-voice", "There is no such voice.", "Choose one of those in the list.")
    rows = []
    for text in texts:
        heard = {word: said for word, said in says.items() if word.casefold() in text.casefold()}
        said: dict[str, Any] = {"text": text, "voice": voice, "speed": round(speed, 2), "says": heard}
        key = hashlib.blake2b(orjson.dumps([VERSION, said], option=orjson.OPT_SORT_KEYS), digest_size=16).hexdigest()
        values = {"team_id": actor.team_id, "key": key, "said": said, "state": "queued", "error": "", "attempts": 0,
                  "sent_at": now(), "created_at": now()}  # fmt: skip
        unit.session.execute(insert(Spoken).values(**values).on_conflict_do_nothing(constraint="ux_spoken_once"))
        row = unit.session.scalars(select(Spoken).where(Spoken.team_id == actor.team_id, Spoken.key == key)).one()
        file = unit.session.get(MediaFile, row.media_id) if row.media_id else None
        if row.state == "failed" or (row.state == "ready" and (file is None or file.removed_at is not None)):
            row.state, row.error, row.attempts, row.media_id, row.sent_at = "queued", "", 0, None, now()
        if row.state == "queued":
            unit.later("glowreel.speak", row.id)
        rows.append(row)
    unit.session.flush()
    return rows


def find(session: Session, actor: Actor, keys: Sequence[int]) -> list[Spoken]:
    """Rows of a team's, in the order asked for."""
    query = select(Spoken).where(Spoken.team_id == actor.team_id, Spoken.id.in_(keys))
    rows = {row.id: row for row in session.scalars(query)}
    return [rows[key] for key in keys if key in rows]


def texts_of(session: Session, actor: Actor, media: Sequence[str]) -> dict[str, dict[str, Any]]:
    """What was said with which voice, by the files that it became."""
    query = select(Spoken).where(Spoken.team_id == actor.team_id, Spoken.media_id.in_(media))
    return {row.media_id: row.said for row in session.scalars(query) if row.media_id}


def make(runtime: Runtime, key: int) -> None:
    """Speaks one line, unless it is there or another worker is at it."""
    row = _claimed(runtime, key)
    if row is None:
        return
    lease = Lease(runtime, Spoken, row.id, row.attempts, ("running",))
    values: dict[str, Any]
    try:
        with beating(lease):
            values = {"state": "ready", "error": "", "media_id": _made(runtime, lease, row)}
    except Stopped:
        return
    except (Died, Interrupted, NoRoom) as error:
        spent = isinstance(error, Died) and row.attempts >= MAX_DEATHS
        values = {"state": "failed" if spent else "queued", "error": str(error)[:400] if spent else ""}
    except Refusal as refusal:
        values = {"state": "failed", "error": str(refusal)[:400]}
    except Fault:
        log.exception("speaking %s failed", row.id)
        values = {"state": "failed", "error": "Something broke on our side."}
    lease.finish(**values)


def _claimed(runtime: Runtime, key: int) -> Spoken | None:
    with runtime.database.unit() as unit:
        free = or_(Spoken.state == "queued", (Spoken.state == "running") & over(Spoken))
        row = unit.session.scalar(select(Spoken).where(Spoken.id == key, free).with_for_update(skip_locked=True))
        if row is None:
            return None
        name = VOICES[row.said["voice"]].model
        if name and not runtime.models.ready(name):
            standing = runtime.models.standing(name)
            if standing.error:
                row.state, row.error = "failed", standing.error[:400]
            elif standing.share is None:
                unit.later("glowreel.fetch_model", name)
            return None
        row.state, row.lease_until, row.attempts = "running", now() + LENGTH, row.attempts + 1
        unit.session.flush()
        unit.session.expunge(row)
        return row


def _made(runtime: Runtime, lease: Lease, row: Spoken) -> str:
    """Speaks it, puts it on the Shelf with what is said in it, and answers with its identifier there."""
    model = VOICES[row.said["voice"]].model
    arguments = {**row.said, "model": str(runtime.models.path(model).resolve()) if model else None}
    actor = Actor.program(row.team_id)
    with runtime.workspace() as folder:
        told = runtime.limited.run("speak", arguments, folder, "the line", check=lease.check)
        with (folder / "line.wav").open("rb") as stream:
            source, size = shelf.receive(runtime.blobs, Path(runtime.settings.cache) / "uploads", stream)
    words = row.said["text"].split()
    name = f"Voice · {' '.join(words[:7])}{'…' if len(words) > 7 else ''}"[:120] + ".wav"
    with runtime.database.unit() as unit:
        media = shelf.add(unit, actor, name, source, size).id
        transcripts.keep_spoken(unit.session, actor, source, VOICES[row.said["voice"]].language, told["words"])
    if not shelf.looked_at(runtime, media, 60):
        raise Refusal("not-kept", "The spoken line could not be put on the Shelf.", "Try it again.")
    with runtime.database.unit() as unit:
        file = unit.session.get_one(MediaFile, media)
        file.facts = {**(file.facts or {}), "machine": True, "heard": "voice"}
    return media


def sweep(unit: Unit) -> None:
    """Sends again what was forgotten."""
    long_ago = long_since(Spoken.sent_at, AGAIN)
    dead = (Spoken.state == "running") & over(Spoken)
    for row in unit.session.scalars(select(Spoken).where(((Spoken.state == "queued") & long_ago) | dead).limit(BATCH)):
        row.sent_at = now()
        unit.later("glowreel.speak", row.id)
