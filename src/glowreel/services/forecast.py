"""What an export is going to be: how large before it is made, and how long it will take once it has begun."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.document import Promo
from glowreel.core.film_forms import Making, bits_per_pixel, expected_bytes
from glowreel.core.recipe.picture import find_format
from glowreel.services.exports import OPEN, making_of
from glowreel.store.models import Export, ExportFile, now

LOOKED_AT = 30
TOLD_FROM = 0.1
"""From this share of the work on, what is left is told."""


def sizes(
    session: Session, promo_id: str, promo: Promo, making: Making, formats: Sequence[str], short_side: int
) -> dict[str, int]:
    """About how many bytes the file of each format will have: by what files of this promo that were made in the same
    manner took, else by what is usual."""
    measured = _measured(session, promo_id, promo, making)
    wanted = formats if making.film_form.picture else formats[:1]
    return {
        key: expected_bytes(making, promo, find_format(promo, key).size(short_side), measured)
        for key in dict.fromkeys(wanted)
    }


def _measured(session: Session, promo_id: str, promo: Promo, making: Making) -> float | None:
    """How many bits a pixel took in the newest file of a promo that was made in this manner, if there is one."""
    query = (
        select(ExportFile).join(ExportFile.export)
        .where(Export.promo_id == promo_id, ExportFile.state == "done", ExportFile.form == making.form)
        .order_by(ExportFile.finished_at.desc()).limit(LOOKED_AT)
    )  # fmt: skip
    for file in session.scalars(query):
        made = making_of(file.export)
        same = (made.look, made.clear, made.megabytes, made.kilobits) == (making.look, making.clear, None, None)
        if same and file.size and made.rate == making.rate:
            lasted = file.frames / float((made.rate or promo.rate).fraction)
            return bits_per_pixel(made, (file.width, file.height), file.frames, lasted, file.size)
    return None


def seconds_left(export: Export) -> float | None:
    """About how many seconds an export still takes, by what its pieces cost and how fast they went so far; None before
    a tenth is done, while files are put together, and where nothing is being made."""
    going = [file for file in export.files if file.state in OPEN]
    begun = [file.started_at for file in export.files if file.started_at is not None]
    pieces = [piece for file in export.files if file.state not in ("failed", "cancelled") for piece in file.pieces]
    whole = sum(piece.cost for piece in pieces)
    if not going or not begun or not whole or any(file.state == "planning" for file in going):
        return None
    done = sum(piece.cost * piece.frames_done / piece.count for piece in pieces)
    if not TOLD_FROM <= done / whole < 1:
        return None
    return max(0.0, (now() - min(begun)).total_seconds() * (whole - done) / done)
