"""The last step of an export: its sound mixed, or found, and its pieces put together."""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from sqlalchemy import delete, update

from glowreel.core.captions.timed import timed
from glowreel.core.derived import Known
from glowreel.core.document import Promo
from glowreel.core.errors import GlowReelError, NoRoom
from glowreel.core.film_forms import MEGABYTES
from glowreel.core.naming import naming
from glowreel.engine.filming import sound_of
from glowreel.engine.filmsound import render_sound, sound_key
from glowreel.engine.finishing import Parts, finish
from glowreel.engine.soundcodes import SoundCode
from glowreel.engine.sources import Sources
from glowreel.engine.texttrack import TextTrack
from glowreel.services import needed
from glowreel.services.exports import (
    claim_row,
    end,
    exported,
    fail,
    file_blob,
    made_as,
    piece_blob,
    tell,
)
from glowreel.services.leases import MOST_LOST, Lease, Stopped, beating
from glowreel.services.setup import Runtime
from glowreel.store.models import ExportFile, ExportPiece, now

BEAT = 0.5
TIGHTEST = 0.3
"""A file that comes out larger than asked is made again with less, down to this share of what was asked."""

Figures = dict[str, float | None]


def sound_blob(key: str) -> str:
    return f"sounds/{key[:2]}/{key}"


def film_sound(
    runtime: Runtime, promo: Promo, code: SoundCode, known: Known, check: Callable[[], None]
) -> tuple[Path, Figures]:
    """The sound of a film as a file, and how loud it was found to be. What sounds the same may have been mixed before:
    for another format, or before the pictures were changed."""
    key = sound_key(promo, code, known)
    blob, figures = sound_blob(key), sound_blob(key) + ".json"
    if not (runtime.blobs.has(blob) and runtime.blobs.has(figures)):
        found: Figures = {}

        def make(out: Path) -> None:
            with naming(promo), closing(Sources(runtime.library)) as sources:
                whole = render_sound(promo, sources, out, lambda done, total: check(), known, code)
            found.update(loudness=whole.loudness, peak=whole.peak)

        runtime.blobs.write(blob, make)

        def note(out: Path) -> None:
            out.write_text(json.dumps(found))

        runtime.blobs.write(figures, note)
    return runtime.blobs.local(blob), json.loads(runtime.blobs.local(figures).read_text())


def join_file(runtime: Runtime, file_id: str) -> None:
    """Puts a file together whose pieces are all there."""
    with runtime.database.unit() as unit:
        file = claim_row(unit.session, ExportFile, file_id, "joining")
        if file is None:
            return
        promo, format, _ = exported(unit.session, file)
        text = [TextTrack(lane.language, timed(promo, lane, format)) for lane in promo.captions]
        known = needed.look(unit.session, promo).known
        title, attempt, making, blob = file.export.title, file.attempts, made_as(file), file_blob(file.id, file.form)
        pieces = [(piece.key, piece.count) for piece in file.pieces]
    if attempt > MOST_LOST:
        fail(runtime, file_id, "The parts of the film could not be joined.")
        return
    lease, figures, code = Lease(runtime, ExportFile, file_id, attempt, ("joining",)), {}, sound_of(making)

    def make(out: Path) -> None:
        sound = None
        if code is not None:
            sound, heard = film_sound(runtime, promo, code, known, lease.check)
            figures.update(heard)
        parts = [(runtime.blobs.local(piece_blob(key)), count) for key, count in pieces]
        finish(making, Parts(parts, sound, promo.rate.fraction, title, text), out, _telling(lease))

    try:
        with naming(promo), beating(lease):
            runtime.blobs.write(blob, make)
    except Stopped:
        return
    except NoRoom as error:
        # Nothing is lost: the sweeper has it joined when there is room.
        lease.finish(error=str(error), attempts=attempt - 1)
        return
    except GlowReelError as error:
        fail(runtime, file_id, str(error))
        return
    size = runtime.blobs.size(blob)
    if _made_tighter(runtime, lease, file_id, size):
        return
    with runtime.database.unit() as unit:
        values = {"state": "done", "finished_at": now(), "lease_until": None, "size": size, "error": "", **figures}
        if end(unit.session, file_id, values):
            tell(unit, file_id)


def _telling(lease: Lease) -> Callable[[float], None]:
    """Tells twice a second how far the putting together is, where a try takes long; stops it where it is not wanted."""
    last = [time.monotonic()]

    def told(share: float) -> None:
        lease.check()
        if time.monotonic() - last[0] > BEAT:
            last[0] = time.monotonic()
            lease.renew(planned=share)

    return told


def _made_tighter(runtime: Runtime, lease: Lease, file_id: str, size: int) -> bool:
    """Sends a film back that came out larger than asked, to be made with less; says whether it did."""
    with runtime.database.unit() as unit:
        file = unit.session.get_one(ExportFile, file_id)
        wanted = made_as(file).megabytes
        asked = wanted / file.tighter * 1e6 if wanted is not None else None
        if asked is None or size <= asked or file.film_form.most_seconds:
            return False
        tighter = file.tighter * asked / size * 0.98
        if tighter < TIGHTEST or asked * tighter < MEGABYTES[0] * 1e6:
            return False
        again = update(ExportFile).where(
            ExportFile.id == file_id, ExportFile.state == "joining", ExportFile.attempts == file.attempts
        )
        values = {"state": "planning", "tighter": tighter, "attempts": 0, "lease_until": None, "planned": 0.0}
        if unit.session.execute(again.values(**values).returning(ExportFile.id)).first() is None:
            return True
        unit.session.execute(delete(ExportPiece).where(ExportPiece.file_id == file_id))
        unit.later("glowreel.export_plan", file_id)
    lease.give_up()
    return True
