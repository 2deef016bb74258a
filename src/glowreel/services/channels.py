"""Accounts on channels: a team's, connected by somebody who may publish, and let in by tokens that are renewed."""

from __future__ import annotations

import secrets
from contextlib import suppress
from datetime import timedelta

from itsdangerous import BadSignature, URLSafeTimedSerializer
from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.channels import CHANNELS
from glowreel.core.errors import Missing, Refusal
from glowreel.outside.network.port import Granted, Network, ask_at
from glowreel.services import audit
from glowreel.services.access import Actor, allow
from glowreel.services.live import announce_work
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.keys import key_of
from glowreel.store.models import ChannelAccount, new_key, now

COMES_BACK_WITHIN = 600
RENEWED_BEFORE = timedelta(seconds=90)
"""A token is renewed so long before it runs out."""


def networks(runtime: Runtime) -> dict[str, str]:
    """The channels on which films can be posted from here, with their addresses."""
    pairs = (one.partition("=") for one in runtime.settings.networks.split(",") if one)
    return {key: address for key, _, address in pairs if key in CHANNELS}


def _address(runtime: Runtime, channel: str) -> str:
    address = networks(runtime).get(channel)
    if address is None:
        raise Missing("no-channel", "Nothing can be posted there from here.")
    return address


def _signer(runtime: Runtime) -> URLSafeTimedSerializer:
    return URLSafeTimedSerializer(runtime.settings.secret or "unset", salt="channel")


def _verifier(runtime: Runtime, nonce: str) -> str:
    """Our secret of one way there and back, worked out again when somebody comes back."""
    return key_of(runtime.settings.secret, "channel", nonce)


def asked_at(runtime: Runtime, actor: Actor, channel: str, back: str, then: str) -> str:
    """Where somebody is sent to allow the program to post there; `then` is where they go on once they are back."""
    allow(actor, "publish")
    nonce = secrets.token_urlsafe(12)
    state = _signer(runtime).dumps([actor.user_id, actor.team_id, channel, nonce, then])
    return ask_at(_address(runtime, channel), back, str(state), _verifier(runtime, nonce))


def came_back(runtime: Runtime, unit: Unit, actor: Actor, state: str, code: str) -> tuple[ChannelAccount, str]:
    """Keeps what somebody allowed who came back with a code; answers with the account and where they go on. Raises
    `Refusal` for a state that was not given to them, or long ago, and where they did not allow it."""
    try:
        user_id, team_id, channel, nonce, then = _signer(runtime).loads(state, max_age=COMES_BACK_WITHIN)
    except (BadSignature, ValueError) as error:
        raise Refusal("stale", "Nothing was connected: that took too long.", "Connect it again.") from error
    name = CHANNELS[channel].name
    if (user_id, team_id) != (actor.user_id, actor.team_id):
        raise Refusal("stale", f"{name} was not connected: somebody else asked for that.", "Connect it again.")
    if not code:
        raise Refusal("denied", f"{name} was not connected: it was not allowed there.")
    granted = Network(_address(runtime, channel), name).granted(code, _verifier(runtime, nonce))
    same = (ChannelAccount.channel == channel, ChannelAccount.account == granted.account)
    row = unit.session.scalar(select(ChannelAccount).where(ChannelAccount.team_id == team_id, *same))
    if row is None:
        row = ChannelAccount(id=new_key("ca"), team_id=team_id, channel=channel, account=granted.account)
        unit.session.add(row)
    row.user_id, row.left_at = user_id, None
    _keep(row, granted)
    audit.note(unit.session, actor, "connected", f"{name}, as {granted.account}")
    unit.session.flush()
    announce_work(unit.session, actor)
    return row, str(then)


def _keep(row: ChannelAccount, granted: Granted) -> None:
    row.token, row.refresh = granted.token, granted.refresh
    row.until = now() + timedelta(seconds=min(granted.lasts, 10_000_000))


def accounts(session: Session, actor: Actor) -> list[ChannelAccount]:
    """The accounts that are connected, in the order of channels."""
    query = select(ChannelAccount).where(ChannelAccount.team_id == actor.team_id, ChannelAccount.left_at.is_(None))
    order = list(CHANNELS)
    return sorted(session.scalars(query), key=lambda row: (order.index(row.channel), row.created_at))


def find(session: Session, actor: Actor, account_id: str) -> ChannelAccount:
    """An account of the team. Raises `Missing`."""
    row = session.get(ChannelAccount, account_id)
    if row is None or row.team_id != actor.team_id or row.left_at is not None:
        raise Missing("no-account", "That channel is not connected any more.", "Connect it again.")
    allow(actor, "publish", row)
    return row


def leave(runtime: Runtime, session: Session, actor: Actor, account_id: str) -> ChannelAccount:
    """Ends a connection here and there; that the channel is away does not keep it. What was posted stays there."""
    row = find(session, actor, account_id)
    row.left_at = now()
    with suppress(Refusal):
        Network(_address(runtime, row.channel), CHANNELS[row.channel].name, row.token).leave()
    row.token = row.refresh = ""
    audit.note(session, actor, "disconnected", CHANNELS[row.channel].name)
    announce_work(session, actor)
    return row


def let_in(runtime: Runtime, account_id: str) -> Network:
    """The channel as an account, with a token that is still good: renewed where it runs out, by one worker at a time.
    Raises `Refusal`, of the code `not-connected` where somebody has to connect it again."""
    with runtime.database.unit() as unit:
        row = unit.session.get_one(ChannelAccount, account_id, with_for_update=True)
        name, address = CHANNELS[row.channel].name, _address(runtime, row.channel)
        if row.left_at is not None:
            raise Refusal("not-connected", f"{name} is not connected any more.", "Connect it again.")
        if row.until < now() + RENEWED_BEFORE:
            try:
                _keep(row, Network(address, name).renewed(row.refresh))
            except Refusal as refusal:
                if refusal.code == "gone":
                    said = f"{name} does not let the program in any more."
                    raise Refusal("not-connected", said, "Connect it again.") from refusal
                raise
        return Network(address, name, row.token)
