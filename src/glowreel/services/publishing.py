"""Publishing: films go out to channels when they are due, each exactly once.

```
planned ── sending ── processing ── live          a worker with a lease takes each step
   │           └───────────┴─────── failed         for a reason; it can be sent again
   └── (ended: the row is gone)          gone      taken down
```
A channel is asked under a key made of the post and its version. Whoever asks again, after a worker has died, is told
what there is already: nothing goes out twice. What goes wrong on the way is tried again, later each time.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo, available_timezones

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from glowreel.core.channels import CHANNELS, Channel
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.film_forms import USUAL_FORM
from glowreel.core.formats import SHIPPED, shape_of
from glowreel.core.recipe.picture import find_format
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline
from glowreel.services import audit, channels, exports, hooks, letters
from glowreel.services.access import Actor, authorise, listed
from glowreel.services.leases import LENGTH, Lease, unheld
from glowreel.services.live import announce_work
from glowreel.services.promos import document
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import Export, ExportFile, Post, PromoRow, User, new_key, now

SHORT_SIDE = 1080
LATEST = timedelta(days=365)
MOST_TAGS, LONGEST_TAG = 12, 40
MOST_AT_ONCE = 12
GOING = ("planned", "sending", "processing")
BATCH = 40


@dataclass(frozen=True)
class Wanted:
    """What one account is to post: the promo in a format, with what stands beside it. `tags` are words with blanks or
    commas between; `still` is the second of the film that is shown before it plays."""

    account: str
    format_id: str
    title: str
    text: str = ""
    tags: str = ""
    still: float = 0.0


def zone_of(name: str) -> ZoneInfo:
    """The time zone of that name. Raises `Refusal`."""
    if name not in available_timezones():
        raise Refusal("zone", f"There is no time zone called “{name[:40]}”.")
    return ZoneInfo(name)


def moment(local: str, zone: str) -> datetime:
    """The moment at which clocks of a zone show a date and time, `2026-12-03T09:00`. Raises `Refusal` for what is no
    such time, or has passed, or is more than a year away."""
    try:
        read = datetime.fromisoformat(local[:30]).replace(tzinfo=zone_of(zone))
        when = read.astimezone(UTC)
    except (ValueError, OverflowError) as error:
        raise Refusal("time", "That is no date and time.", "Choose both.") from error
    if when < now() - timedelta(minutes=2):
        raise Refusal("past", "That time has passed already.", "Choose a later one.")
    if when > now() + LATEST:
        raise Refusal("far", "That is more than a year away.", "Choose an earlier time.")
    return when


def tags_of(text: str) -> list[str]:
    """The tags of a typed line, each once, without marks before them."""
    words = [word.strip("#") for word in re.split(r"[\s,;]+", text)]
    tags = list(dict.fromkeys(word for word in words if word))
    if len(tags) > MOST_TAGS or any(len(tag) > LONGEST_TAG for tag in tags):
        raise Refusal("tags", f"A post takes up to {MOST_TAGS} tags of at most {LONGEST_TAG} letters.")
    return tags


def suits(channel: Channel, promo: Promo, format_id: str) -> str:
    """What keeps a channel from taking a promo in a format, in a sentence; nothing where it takes it."""
    format = find_format(promo, format_id)
    lasts = timeline(promo).length / TICKS_PER_SECOND
    if not channel.shortest <= lasts <= channel.longest:
        return (
            f"{channel.name} takes films of {channel.shortest:g} to {channel.longest:g} s; this one has {lasts:.1f} s."
        )
    shapes = {shape_of(SHIPPED[one].wide, SHIPPED[one].high) for one in channel.shapes}
    if shape_of(format.wide, format.high) not in shapes:
        return f"{channel.name} shows films that are {' or '.join(channel.shapes)}; {format.name} is neither."
    return ""


def _refuse(channel: Channel, wanted: Wanted, promo: Promo) -> None:
    if sentence := suits(channel, promo, wanted.format_id):
        raise Refusal("unlike", sentence, "Choose another format or channel.")
    if not wanted.title.strip():
        raise Refusal("title", f"{channel.name} needs a title.")
    exports.refuse_longer(channel, wanted.title.strip(), wanted.text.strip())
    if not 0 <= wanted.still <= timeline(promo).length / TICKS_PER_SECOND:
        raise Refusal("still", "That moment is not in the film.")


def publish(
    unit: Unit, actor: Actor, promo_id: str, wanted: Sequence[Wanted], at: datetime | None = None, zone: str = "UTC",
    home: str = "",
) -> list[Post]:  # fmt: skip
    """Has a promo, as it is now, posted by these accounts at a moment, or as soon as its films are made. Films that are
    made already, or are being made, are taken. `home` is where the program is, for the letter about it."""
    row = authorise(unit.session, PromoRow, promo_id, actor, "publish")
    if not 0 < len(wanted) <= MOST_AT_ONCE:
        raise Refusal("none", "Choose at least one channel.")
    if len({one.account for one in wanted}) < len(wanted):
        raise Refusal("twice", "One account posts a promo once.")
    promo, zone_of_set = document(unit.session, row), zone_of(zone).key
    found = [channels.find(unit.session, actor, one.account) for one in wanted]
    for one, account in zip(wanted, found, strict=True):
        _refuse(CHANNELS[account.channel], one, promo)
    films = films_of(unit, actor, row, promo, [one.format_id for one in wanted])
    set_id, made = new_key("ps"), []
    for one, account in zip(wanted, found, strict=True):
        post = Post(
            id=new_key("po"), team_id=row.team_id, promo_id=row.id, user_id=actor.user_id or row.user_id,
            set_id=set_id, account_id=account.id, file_id=films[one.format_id].id, title=one.title.strip(),
            text=one.text.strip(), tags=tags_of(one.tags), still=one.still, home=home[:200], zone=zone_of_set,
            at=at or now(), due_at=at or now(), version=1, attempts=0, tries=0, state="planned",
        )  # fmt: skip
        unit.session.add(post)
        unit.session.flush()
        unit.later("glowreel.publish", post.id)
        made.append(post)
        audit.note(unit.session, actor, "published", f"“{post.title}” to {CHANNELS[account.channel].name}")
    announce_work(unit.session, actor)
    return made


def films_of(unit: Unit, actor: Actor, row: PromoRow, promo: Promo, formats: Sequence[str]) -> dict[str, ExportFile]:
    """The films of a promo as it is now, by format: those that there are or are being made, else new ones."""
    good = (*exports.OPEN, "done")
    query = (
        select(ExportFile).join(ExportFile.export)
        .where(Export.promo_id == row.id, Export.revision_id == row.head_id,
               Export.removed_at.is_(None), ExportFile.state.in_(good), ExportFile.form == USUAL_FORM,
               ExportFile.short_side >= 720)
        .order_by(ExportFile.short_side, ExportFile.created_at)
    )  # fmt: skip
    films = {file.format_id: file for file in unit.session.scalars(query)}
    missing = tuple(one for one in dict.fromkeys(formats) if one not in films)
    if missing:
        shortest = min(channel.title for channel in CHANNELS.values())
        made = exports.start(unit, row.id, actor, missing, SHORT_SIDE, promo.name[:shortest])
        films |= {file.format_id: file for file in made.files}
    return films


def change(session: Session, actor: Actor, post_id: str, wanted: Wanted, at: datetime | None, zone: str) -> Post:
    """Has a planned post say something else, or go out at another time."""
    post = authorise(session, Post, post_id, actor, "publish", lock=True)
    if post.state != "planned":
        raise Refusal("gone-out", "That has gone out already.", "Replace it, or take it down.")
    promo = document(session, post.promo)
    _refuse(CHANNELS[post.account.channel], wanted, promo)
    post.title, post.text, post.tags, post.still = (
        wanted.title.strip(),
        wanted.text.strip(),
        tags_of(wanted.tags),
        wanted.still,
    )
    if at is not None:
        post.at = post.due_at = at
        post.zone = zone_of(zone).key
    announce_work(session, actor)
    return post


def move(session: Session, actor: Actor, post_id: str, day: str) -> Post:
    """Has a planned post go out on another day, at the same time of that day where it goes out."""
    post = authorise(session, Post, post_id, actor, "publish", lock=True)
    if post.state != "planned":
        raise Refusal("gone-out", "That has gone out already.")
    time = post.at.astimezone(zone_of(post.zone)).strftime("%H:%M")
    post.at = post.due_at = moment(f"{day[:10]}T{time}", post.zone)
    announce_work(session, actor)
    return post


def end(runtime: Runtime, unit: Unit, actor: Actor, post_id: str) -> Post | None:
    """Ends what is planned or did not get there; takes down what did, which needs the channel. Answers with the post
    where it stays, as taken down."""
    post = authorise(unit.session, Post, post_id, actor, "publish", lock=True)
    if post.state in ("sending", "processing"):
        raise Refusal("going", "It is on its way just now.", "Take it down once it is there.")
    if post.remote_id and post.state != "gone":
        channels.let_in(runtime, post.account_id).take_down(post.remote_id)
        post.state, post.address, post.error = "gone", "", ""
        audit.note(unit.session, actor, "taken-down", f"“{post.title}” on {CHANNELS[post.account.channel].name}")
    else:
        unit.session.delete(post)
    unit.session.flush()
    announce_work(unit.session, actor)
    return post if post.state == "gone" else None


def again(unit: Unit, actor: Actor, post_id: str) -> Post:
    """Sends again what failed, or was taken down, under the key that it had: what did get there stays the one post."""
    post = authorise(unit.session, Post, post_id, actor, "publish", lock=True)
    if post.state not in ("failed", "gone"):
        raise Refusal("going", "That needs no second try.")
    if post.state == "gone" or post.remote_id:
        post.version, post.remote_id = post.version + 1, "" if post.state == "gone" else post.remote_id
    _anew(unit, actor, post, document(unit.session, post.promo))
    return post


def replace(unit: Unit, actor: Actor, post_id: str) -> Post:
    """Puts the promo as it is now in the place of what was posted; the address there stays."""
    post = authorise(unit.session, Post, post_id, actor, "publish", lock=True)
    if post.state != "live":
        raise Refusal("not-there", "Only what is there can be replaced.")
    if post.file is not None and post.file.export.revision_id == post.promo.head_id:
        raise Refusal("same", "The promo has not changed since it went out.")
    post.version += 1
    audit.note(unit.session, actor, "replaced", f"“{post.title}” on {CHANNELS[post.account.channel].name}")
    _anew(unit, actor, post, document(unit.session, post.promo))
    return post


def _anew(unit: Unit, actor: Actor, post: Post, promo: Promo) -> None:
    """Has a post go out now, with the film of the promo as it is now."""
    format_id = post.file.format_id if post.file is not None else promo.formats[0].id
    _refuse(CHANNELS[post.account.channel], Wanted("", format_id, post.title, post.text, "", 0.0), promo)
    post.file_id = films_of(unit, actor, post.promo, promo, [format_id])[format_id].id
    post.state, post.error, post.tries, post.share, post.lease_until = "planned", "", 0, 0.0, None
    post.at = post.due_at = now()
    unit.session.flush()
    unit.session.refresh(post)
    unit.later("glowreel.publish", post.id)
    announce_work(unit.session, actor)


def of_promo(session: Session, actor: Actor, promo_id: str) -> list[Post]:
    """The posts of a promo, the newest first."""
    row = authorise(session, PromoRow, promo_id, actor, "see")
    return list(session.scalars(select(Post).where(Post.promo_id == row.id).order_by(Post.at.desc()).limit(60)))


def between(session: Session, actor: Actor, first: datetime, last: datetime) -> list[Post]:
    """What of a team goes out between two moments, in that order."""
    query = (
        select(Post).join(Post.promo)
        .where(listed(PromoRow, actor), PromoRow.removed_at.is_(None), Post.at >= first, Post.at < last,
               Post.state != "gone")
        .order_by(Post.at, Post.id).limit(500)
    )  # fmt: skip
    return list(session.scalars(query))


def sweep(unit: Unit) -> None:
    """Sends on what is due and what a worker left."""
    free = unheld(Post)
    due = select(Post).where(Post.state.in_(GOING), Post.due_at <= now(), free).order_by(Post.due_at).limit(BATCH)
    for post in unit.session.scalars(due):
        unit.later("glowreel.publish", post.id)


def claim(session: Session, post_id: str) -> Post | None:
    """Takes a post that is due for this worker, unless another one has it."""
    free = unheld(Post)
    mine = (Post.id == post_id, Post.state.in_(GOING), Post.due_at <= now(), free)
    values = {"lease_until": now() + LENGTH, "attempts": Post.attempts + 1}
    taken = session.execute(update(Post).where(*mine).values(**values).returning(Post.id)).first()
    return session.get(Post, post_id, populate_existing=True) if taken else None


def ended(runtime: Runtime, lease: Lease, post: Post, **values: object) -> None:
    """Writes how a step of a post went, and says so to its team, with a letter once all of a set have ended."""
    if not lease.finish(**values):
        return
    with runtime.database.unit() as unit:
        announce_work(unit.session, post)
        if values.get("state") in ("live", "failed"):
            told = {"post": post.id, "promo": post.promo_id, "title": post.title, "state": values["state"]}
            hooks.tell(unit, post, "post", {**told, "address": values.get("address", "")})
            _tell(unit, post.set_id)


def _tell(unit: Unit, set_id: str) -> None:
    """Tells whoever pressed Publish how it went, once every post of the set has ended."""
    posts = list(unit.session.scalars(select(Post).where(Post.set_id == set_id).order_by(Post.created_at)))
    if not posts or any(post.state in GOING for post in posts):
        return
    user = unit.session.get_one(User, posts[0].user_id)
    lines = []
    for post in posts:
        how = f"is there: {post.address}" if post.state == "live" else f"did not get there: {post.error}"
        if post.state in ("live", "failed"):
            lines.append(f"{CHANNELS[post.account.channel].name}: “{post.title}” {how}")
    well = all(post.state == "live" for post in posts)
    subject = f"“{posts[0].promo.name}” {'is published' if well else 'is not published everywhere'}"
    where = f"\n\n{posts[0].home}/going-out" if posts[0].home else ""
    key = "posts:" + set_id + ":" + ".".join(str(post.version) for post in posts)
    key += ":" + "".join(post.state[0] for post in posts)
    letters.write(unit, user.email, subject, "\n".join(lines) + where, posts[0], key)
