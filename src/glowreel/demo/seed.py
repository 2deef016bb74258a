"""Puts the demo team, its Shelf and its promos into the database, once."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from sqlalchemy import select

from glowreel.core.errors import Fault
from glowreel.core.media import Media
from glowreel.demo.scenario import FERNHILL, FILES, HOLLOWMERE, LOGOS, MEDIA, finished, started
from glowreel.services import accounts, brands, promos, shelf, teams
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile, PromoRow, new_key

COLLEAGUES = {"Ines Farrow": "editor", "Tomas Reed": "contributor", "Oda Lindt": "reviewer"}
"""Who else is in the demo's team, and as what."""


def seed(runtime: Runtime, say: Callable[[str], None] = lambda text: None) -> None:
    """Makes what is missing of the demo; quick when nothing is."""
    with runtime.database.unit() as unit:
        user = accounts.demo_user(unit.session)
        if user is None:
            user = accounts.sign_up(
                unit.session, "Hanne Brook", accounts.DEMO_EMAIL, new_key("password"), "Hollowmere Balloons"
            )
            for name, role in COLLEAGUES.items():
                address = f"{name.split()[0].lower()}@hollowmere.example"
                other = accounts.sign_up(unit.session, name, address, new_key("password"), "")
                teams.join(unit.session, other, user.team, role)
        team_id, user_id = user.team_id, user.id
        if unit.session.scalar(select(PromoRow.id).where(PromoRow.team_id == team_id).limit(1)):
            return
    say("Setting up the demo …")
    ids = [_received(runtime, team_id, MEDIA / name) for name in FILES]
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(lambda media_id: shelf.take_in(runtime, media_id), ids))
    with runtime.database.unit() as unit:
        rows = unit.session.scalars(select(MediaFile).where(MediaFile.team_id == team_id)).all()
        broken = [row.name for row in rows if row.state != "ready"]
        if broken:
            raise Fault(f"the demo's own files could not be read: {', '.join(broken)}")
        media = {row.name: Media.model_validate(row.facts) for row in rows}
        actor = Actor.program(team_id, user_id)
        logos = {role: media[name].id for role, name in LOGOS.items()}
        own = brands.add(unit.session, actor, "Hollowmere", HOLLOWMERE | {"logos": logos})
        brands.add(unit.session, actor, "Fernhill Bakery", FERNHILL)
        for build in (started, finished):
            made = build(media, new_key).changed(brand=brands.snapshot(own))
            promos.adopt(unit.session, actor, made, "Opened the demo")
            unit.session.flush()


def _received(runtime: Runtime, team_id: str, path: Path) -> str:
    """One shipped file on the team's Shelf. Its work is done here and now, not sent to a worker."""
    with path.open("rb") as file:
        source, size = shelf.receive(runtime.blobs, Path(runtime.settings.cache) / "uploads", file)
    with runtime.database.unit() as unit:
        row = shelf.add(unit, Actor.program(team_id), path.name, source, size)
        unit.forget()
        return row.id
