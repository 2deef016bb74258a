"""What a worker does for a post that is due: sends its film in parts, posts it, and waits until it is live."""

from __future__ import annotations

import time
from datetime import timedelta

from sqlalchemy import update

from glowreel.core.errors import Refusal
from glowreel.outside.network.port import PART_BYTES, Network, Standing
from glowreel.outside.service import Later
from glowreel.services import channels
from glowreel.services.exports import OPEN, film_blob
from glowreel.services.leases import Lease, Stopped, beating
from glowreel.services.publishing import GOING, claim, ended
from glowreel.services.setup import Runtime
from glowreel.store.models import Post, now

MOST_TRIES = 8
WAITS = 5.0
"""Seconds until it is tried again the first time; twice as many each time after."""
LONGEST_WAIT = 600.0
ASKS_EVERY, ASKS_FOR = 0.5, 6.0
AGAIN = timedelta(seconds=4)
GIVEN_UP_AFTER = timedelta(hours=6)
"""What a channel has not shown by then is taken as failed."""
TRIED_AGAIN = ("no-service", "slow", "cut-off", "odd-answer", "later", "gone")
"""What may be otherwise in a while; all else is the person's business at once."""


def carry(runtime: Runtime, post_id: str) -> None:
    """Takes a post as far as it goes just now."""
    with runtime.database.unit() as unit:
        post = claim(unit.session, post_id)
        if post is None:
            return
        film, gone = post.file, post.promo.removed_at is not None
        unit.session.flush()
        unit.session.expunge_all()
    lease = Lease(runtime, Post, post.id, post.attempts, GOING)
    if gone:
        ended(runtime, lease, post, state="failed", error="The promo was taken off the Desk.")
        return
    if film is None or film.state in ("failed", "cancelled"):
        ended(runtime, lease, post, state="failed", error="Its film could not be made. Export it, then send it again.")
        return
    if film.state in OPEN:
        lease.finish(due_at=now() + AGAIN)
        return
    if film.too_large:
        sentence = f"The film has {film.size / 1e6:.0f} MB, and the channel takes {film.most_megabytes}."
        ended(runtime, lease, post, state="failed", error=sentence)
        return
    try:
        with beating(lease):
            network = channels.let_in(runtime, post.account_id)
            if post.state != "processing":
                post.remote_id = _posted(runtime, network, lease, post, film_blob(film), film.size).id
            standing = _settled(network, post.remote_id, lease)
    except Stopped:
        return
    except Refusal as refusal:
        _wrong(runtime, lease, post, refusal)
        return
    if standing.state == "live":
        ended(runtime, lease, post, state="live", address=standing.address, live_at=now(), error="", tries=0, share=1.0)
    elif standing.state == "failed":
        ended(runtime, lease, post, state="failed", error=standing.reason or "The channel did not take it.")
    elif now() - post.at > GIVEN_UP_AFTER:
        ended(runtime, lease, post, state="failed", error="The channel has not shown it for hours.")
    else:
        lease.finish(due_at=now() + AGAIN)


def _posted(runtime: Runtime, network: Network, lease: Lease, post: Post, blob: str, size: int) -> Standing:
    """Sends what the channel does not have yet of a film, and posts it."""
    key = f"{post.id}.{post.version}"
    lease.renew(state="sending", error="", share=0.0)
    arrived = network.begin(key, size)
    with runtime.blobs.local(blob).open("rb") as film:
        while arrived.received < size:
            lease.check()
            film.seek(arrived.received)
            before = arrived.received
            arrived = network.send(arrived.id, before, film.read(PART_BYTES))
            if arrived.received <= before:
                raise Refusal("cut-off", "The channel does not take the film.", "It is tried again by itself.")
            lease.renew(share=arrived.received / size)
    standing = network.post(key, arrived.id, post.title, post.text, post.tags, post.still, post.remote_id)
    lease.renew(state="processing", remote_id=standing.id, share=1.0)
    return standing


def _settled(network: Network, remote: str, lease: Lease) -> Standing:
    """How a post stands, waited for a little."""
    end = time.monotonic() + ASKS_FOR
    while True:
        lease.check()
        standing = network.standing(remote)
        if standing.state != "processing" or time.monotonic() > end:
            return standing
        time.sleep(ASKS_EVERY)


def _wrong(runtime: Runtime, lease: Lease, post: Post, refusal: Refusal) -> None:
    """Has it tried again where that may help; else it failed, for that reason."""
    tries = post.tries + (not isinstance(refusal, Later))
    if refusal.code not in TRIED_AGAIN or tries > MOST_TRIES:
        ended(runtime, lease, post, state="failed", error=str(refusal)[:400], tries=tries)
        return
    wait = refusal.seconds if isinstance(refusal, Later) else min(LONGEST_WAIT, WAITS * 2.0 ** (tries - 1))
    said = f"{refusal.sentence} It is tried again by itself."[:400]
    ended(runtime, lease, post, error=said, tries=tries, due_at=now() + timedelta(seconds=wait))


def film_made(runtime: Runtime, file_id: str) -> None:
    """Sends on what waits for a film, whose making has ended."""
    with runtime.database.unit() as unit:
        waiting = update(Post).where(Post.file_id == file_id, Post.state == "planned", Post.at <= now())
        for key in unit.session.scalars(waiting.values(due_at=now()).returning(Post.id)):
            unit.later("glowreel.publish", key)
