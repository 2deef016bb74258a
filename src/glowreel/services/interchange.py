"""Promos out of the Desk as OpenTimelineIO bundles. The way in is `openings`."""

from __future__ import annotations

import secrets
from pathlib import Path

from sqlalchemy.orm import Session

from glowreel.interchange.bundles import write_bundle
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
    plain = "".join(ch if ch.isalnum() else "-" for ch in promo.name).strip("-")[:60] or "promo"
    return path, f"{plain}.otioz"
