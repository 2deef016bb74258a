"""Promos out of the Desk as OpenTimelineIO bundles. The way in is `openings`."""

from __future__ import annotations

import secrets
from pathlib import Path

from sqlalchemy.orm import Session

from glowreel.interchange.bundles import write_bundle
from glowreel.interchange.edit_lists import EDIT_LISTS, written
from glowreel.services import promos
from glowreel.services.access import Actor, authorise
from glowreel.services.blob_keys import original
from glowreel.services.setup import Runtime
from glowreel.store.models import PromoRow


def save_bundle(runtime: Runtime, session: Session, promo_id: str, actor: Actor) -> tuple[Path, str]:
    """Writes the promo as a bundle; answers with the file, which the caller removes, and its name."""
    row = authorise(session, PromoRow, promo_id, actor, "export")
    promo = promos.document(session, row)
    folder = Path(runtime.settings.cache) / "bundles"
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{secrets.token_hex(8)}.otioz"
    write_bundle(promo, lambda source: runtime.blobs.local(original(source)), path)
    return path, f"{plain_name(promo.name)}.otioz"


def plain_name(name: str) -> str:
    """A name that any file may have."""
    return "".join(ch if ch.isalnum() else "-" for ch in name).strip("-")[:60] or "promo"


def save_list(session: Session, promo_id: str, actor: Actor, key: str) -> tuple[str, str]:
    """The promo as an edit list of a form; answers with its text and the name of its file."""
    row = authorise(session, PromoRow, promo_id, actor, "export")
    promo = promos.document(session, row)
    return written(promo, key), f"{plain_name(promo.name)}{EDIT_LISTS[key].suffix}"
