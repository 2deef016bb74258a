"""The notes of a promo as the team has them in the editor."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, render_template, request
from flask_login import current_user, login_required
from sqlalchemy.orm import Session

from glowreel.core.time import TICKS_PER_SECOND
from glowreel.services import promos
from glowreel.services import screening_notes as notes
from glowreel.services.screening_notes import Shown, Written
from glowreel.store.models import PromoRow
from glowreel.web.extensions import actor, transaction, user_id

blueprint = Blueprint("review", __name__, template_folder="templates")


def _me() -> Written:
    return Written(current_user.name, user_id())


def marks_of(shown: list[Shown]) -> list[dict[str, Any]]:
    """Notes as the pages' scripts have them, to mark where they are and to show what was drawn."""
    return [
        {
            "id": one.row.id, "at": round(one.seconds, 4), "lasts": round(one.row.lasts / TICKS_PER_SECOND, 4),
            "text": one.row.text, "who": one.row.who, "done": one.row.done_at is not None, "there": one.found.there,
            "format": one.row.format_id, "strokes": one.row.strokes,
        }
        for one in shown
    ]  # fmt: skip


def _panel(session: Session, promo: PromoRow) -> str:
    shown = notes.of_promo(session, promo)
    return render_template(
        "screenings/notes.html", promo_id=promo.id, notes=shown, marks=marks_of(shown),
        told=notes.told(shown, promo.name), standing=notes.standing(session, promo),
    )  # fmt: skip


@blueprint.get("/promos/<promo_id>/notes")
@login_required
def panel(promo_id: str) -> str:
    with transaction() as work:
        return _panel(work.session, promos.open_promo(work.session, promo_id, actor()).row)


@blueprint.post("/promos/<promo_id>/notes")
@login_required
def write(promo_id: str) -> str:
    with transaction() as work:
        promo = notes.own_promo(work.session, actor(), promo_id)
        notes.write(
            work.session, promo, _me(), request.form.get("text", ""), revision=promo.head_id,
            format_id=request.form.get("format", ""), at=_ticks("at"),
        )  # fmt: skip
        return _panel(work.session, promo)


def _ticks(name: str) -> int:
    text = request.form.get(name, "")
    return int(text) if text.isdigit() and len(text) < 16 else 0


@blueprint.post("/promos/<promo_id>/notes/<note_id>/answer")
@login_required
def answer(promo_id: str, note_id: str) -> str:
    with transaction() as work:
        promo = notes.own_promo(work.session, actor(), promo_id)
        notes.answer(work.session, promo, _me(), note_id, request.form.get("text", ""))
        return _panel(work.session, promo)


@blueprint.post("/promos/<promo_id>/notes/<note_id>/done")
@login_required
def done(promo_id: str, note_id: str) -> str:
    with transaction() as work:
        promo = notes.own_promo(work.session, actor(), promo_id)
        notes.set_done(work.session, promo, _me(), note_id, done=request.form.get("done") == "1")
        return _panel(work.session, promo)


@blueprint.post("/promos/<promo_id>/notes/<note_id>/remove")
@login_required
def remove(promo_id: str, note_id: str) -> str:
    with transaction() as work:
        promo = notes.own_promo(work.session, actor(), promo_id)
        notes.remove(work.session, promo, _me(), note_id, any_of_them=actor().may("edit"))
        return _panel(work.session, promo)


@blueprint.get("/promos/<promo_id>/notes.txt")
@login_required
def text(promo_id: str) -> Response:
    """All open notes as a text."""
    with transaction() as work:
        row = promos.open_promo(work.session, promo_id, actor()).row
        return Response(notes.told(notes.of_promo(work.session, row), row.name), mimetype="text/plain")


@blueprint.post("/promos/<promo_id>/verdict")
@login_required
def decide(promo_id: str) -> str:
    with transaction() as work:
        promo = notes.own_promo(work.session, actor(), promo_id)
        approved = request.form.get("approved") == "1"
        notes.decide(work.session, promo, _me(), promo.head_id, approved=approved)
        return _panel(work.session, promo)
