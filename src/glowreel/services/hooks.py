"""Hooks: addresses that are told when something happened, signed, and told again where they did not answer.

A call is written in the commit of what it tells of. Its body is signed with a secret that is the hook's own
(HMAC-SHA256 over the time and the body, in `Glowreel-Signature: t=…,v1=…`), so that whoever gets it knows where it is
from.
"""

from __future__ import annotations

import hashlib
import hmac
import json
import time
from collections.abc import Collection, Mapping
from datetime import timedelta
from urllib.parse import urlsplit

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from glowreel.core.errors import Missing, Refusal
from glowreel.outside.fetching import Fetcher
from glowreel.services import audit
from glowreel.services.access import Actor, Owned, allow
from glowreel.services.brand_pages import stand_ins
from glowreel.services.leases import LENGTH, Lease, unheld
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.keys import key_of
from glowreel.store.models import Hook, HookCall, new_key, now

HAPPENINGS: dict[str, str] = {
    "film": "a film is finished, or could not be made",
    "post": "a post is live, or did not get there",
    "note": "somebody left a note, or decided",
    "table": "the rows of a table are made",
}
"""What hooks can be told of."""
MOST, MOST_CALLS = 20, 50
MOST_TRIES = 8
WAITS = timedelta(seconds=10)
"""Until it is told again the first time; twice as long each time after: about forty minutes in all."""
SECONDS = 15.0
KEPT = timedelta(days=30)


def secret(runtime: Runtime, hook: Hook) -> str:
    """What a hook's calls are signed with."""
    return key_of(runtime.settings.secret, "hook", hook.id)


def begin(session: Session, actor: Actor, address: str, happenings: Collection[str]) -> Hook:
    """An address that is told of these happenings from now on. Raises `Refusal`."""
    allow(actor, "lead")
    address = address.strip()
    try:
        parts = urlsplit(address)
    except ValueError as error:
        raise Refusal("address", "That is no address.", "It begins with https://.") from error
    if parts.scheme not in ("http", "https") or not parts.hostname or len(address) > 500 or not address.isprintable():
        raise Refusal("address", "That is no address.", "It begins with https://.")
    chosen = [one for one in HAPPENINGS if one in happenings]
    if not chosen or actor.user_id is None:
        raise Refusal("happening", "Choose what it is to be told of.")
    if len(standing(session, actor)) >= MOST:
        raise Refusal("many", f"A team has at most {MOST} hooks.", "End one of them first.")
    row = Hook(id=new_key("hk"), team_id=actor.team_id, user_id=actor.user_id, address=address, happenings=chosen)
    session.add(row)
    audit.note(session, actor, "hook", parts.hostname)
    session.flush()
    return row


def standing(session: Session, actor: Actor) -> list[Hook]:
    """The team's hooks, the newest first."""
    allow(actor, "lead")
    query = select(Hook).where(Hook.team_id == actor.team_id, Hook.ended_at.is_(None))
    return list(session.scalars(query.order_by(Hook.created_at.desc())))


def calls(session: Session, actor: Actor, hook_id: str) -> list[HookCall]:
    """The last calls of a hook."""
    row = find(session, actor, hook_id)
    query = select(HookCall).where(HookCall.hook_id == row.id).order_by(HookCall.created_at.desc())
    return list(session.scalars(query.limit(MOST_CALLS)))


def find(session: Session, actor: Actor, hook_id: str) -> Hook:
    """A hook of the team's. Raises `Missing`."""
    row = session.get(Hook, hook_id)
    if row is None or row.team_id != actor.team_id or row.ended_at is not None:
        raise Missing("no-hook", "There is no such hook.")
    allow(actor, "lead")
    return row


def end(session: Session, actor: Actor, hook_id: str) -> None:
    """Tells an address nothing more."""
    row = find(session, actor, hook_id)
    row.ended_at = now()
    audit.note(session, actor, "hook-ended", urlsplit(row.address).hostname or "")


def tell(unit: Unit, thing: Owned, happening: str, about: Mapping[str, object]) -> None:
    """Has everybody of a thing's team told who wants to know of that: `about` is what, as JSON brings it."""
    wanted = select(Hook).where(Hook.team_id == thing.team_id, Hook.ended_at.is_(None))
    for hook in unit.session.scalars(wanted):
        if happening not in hook.happenings:
            continue
        body = {"happening": happening, "at": now().isoformat(), **about}
        row = HookCall(id=new_key("hc"), hook_id=hook.id, body=body, due_at=now(), attempts=0, tries=0, state="queued")
        unit.session.add(row)
        unit.session.flush()
        unit.later("glowreel.hook", row.id)


def signature(key: str, body: bytes, at: int) -> str:
    """The line by which a call is known to be from here: the time in seconds, and a code over it and the body."""
    code = hmac.new(key.encode(), f"{at}.".encode() + body, hashlib.sha256).hexdigest()
    return f"t={at},v1={code}"


def carry(runtime: Runtime, call_id: str) -> None:
    """Makes one call, unless it was made or somebody else is at it. Private addresses are not called."""
    with runtime.database.unit() as unit:
        free = unheld(HookCall)
        due = (HookCall.id == call_id, HookCall.state == "queued", HookCall.due_at <= now(), free)
        row = unit.session.scalar(select(HookCall).where(*due).with_for_update(skip_locked=True))
        if row is None:
            return
        hook = unit.session.get_one(Hook, row.hook_id)
        row.lease_until, row.attempts = now() + LENGTH, row.attempts + 1
        address, key, over = hook.address, secret(runtime, hook), hook.ended_at is not None
        unit.session.flush()
        unit.session.expunge(row)
    lease = Lease(runtime, HookCall, row.id, row.attempts, ("queued",))
    if over:
        lease.finish(state="failed", error="The hook was ended.")
        return
    body = json.dumps({"id": row.id, **row.body}, ensure_ascii=False).encode()
    headers = {"Content-Type": "application/json", "Glowreel-Signature": signature(key, body, int(time.time()))}
    try:
        Fetcher(stand_ins(runtime), seconds=SECONDS).post(address, body, headers)
    except Refusal as refusal:
        tries = row.tries + 1
        spent = tries >= MOST_TRIES or refusal.code in ("private", "no-address")
        again = now() + WAITS * 2 ** (tries - 1)
        lease.finish(state="failed" if spent else "queued", tries=tries, due_at=again, error=refusal.sentence[:400])
        return
    lease.finish(state="told", error="", told_at=now())


def sweep(unit: Unit) -> None:
    """Goes on with calls that are due."""
    free = unheld(HookCall)
    due = select(HookCall.id).where(HookCall.state == "queued", HookCall.due_at <= now(), free)
    for key in unit.session.scalars(due.order_by(HookCall.due_at).limit(40)):
        unit.later("glowreel.hook", key)


def forget_old(session: Session) -> None:
    """Removes calls of long ago."""
    session.execute(delete(HookCall).where(HookCall.created_at < now() - KEPT, HookCall.state != "queued"))
