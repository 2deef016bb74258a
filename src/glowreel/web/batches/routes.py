"""A table of rows and one template: brought in, matched, looked at, made, exported, and brought up to date."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, redirect, render_template, request, url_for
from flask_login import login_required
from sqlalchemy import select
from werkzeug.wrappers import Response

from glowreel.core.batch import Table
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import RESOLUTIONS
from glowreel.core.slots import SLOT_KINDS
from glowreel.services import batches, exports, templates
from glowreel.store.models import Export, PromoRow
from glowreel.web.extensions import actor, flash, limiter, pressed_once, runtime, transaction

blueprint = Blueprint("batches", __name__, template_folder="templates")

SHOWN = 50
"""So many rows are on one page."""


def _list(problem: str = "") -> str:
    with transaction() as work:
        cards = templates.cards(work.session, actor())
        rows = batches.list_batches(work.session, actor())
        names = {card.key: card.name for card in cards}
        counts = {row.id: len(row.rows) for row in rows}
    chosen = request.values.get("template", "")
    return render_template(
        "batches/batches.html", cards=cards, rows=rows, names=names, counts=counts, chosen=chosen, problem=problem,
        typed=request.form if problem else None,
    )  # fmt: skip


@blueprint.get("/tables")
@login_required
def listing() -> str:
    return _list()


def _sent() -> Table:
    """The table that was sent or pasted."""
    sent = request.files.get("file")
    if sent is not None and sent.filename:
        return batches.read_sent(runtime(), actor(), sent.filename, sent.stream)
    return batches.pasted(request.form.get("cells", ""))


@blueprint.post("/tables")
@login_required
@limiter.limit("60/hour")
def begin() -> str | tuple[str, int] | Response:
    try:
        table = _sent()
        with transaction() as work:
            template = request.form.get("template", "")
            key = pressed_once(
                work, lambda: batches.begin(work, actor(), template, table, request.form.get("name", "")).id
            )
    except Missing:
        raise
    except Refusal as refusal:
        return _list(str(refusal)), 422
    return redirect(url_for("batches.page", batch_id=key))


def _context(batch_id: str) -> dict[str, Any]:
    with transaction() as work:
        row = batches.find(work.session, actor(), batch_id, "see")
        card, promo = batches.template_of(work.session, actor(), row)
        looked = batches.looked(work.session, actor(), row)
        made = {one.row.export_id for one in looked if one.row.export_id}
        films = {
            export.id: [file.state for file in export.files]
            for export in (work.session.get(Export, key) for key in made) if export is not None
        }  # fmt: skip
        heads = select(PromoRow.id, PromoRow.head_id).where(PromoRow.id.in_([one.row.promo_id for one in looked]))
        number = request.args.get("page", "1")
        page = max(1, min(int(number) if number.isdigit() and len(number) < 4 else 1, 1 + (len(looked) - 1) // SHOWN))
        states = [one.row.state for one in looked]
        return {
            "batch": row, "card": card, "slots": promo.slots, "kinds": SLOT_KINDS, "formats": promo.formats,
            "looked": looked[(page - 1) * SHOWN : page * SHOWN], "page": page, "pages": 1 + (len(looked) - 1) // SHOWN,
            "wrong": sum(bool(one.problems) and one.row.state == "open" for one in looked), "total": len(looked),
            "made": states.count("made"), "failed": states.count("failed"), "skipped": states.count("skipped"),
            "films": films, "heads": dict(iter(work.session.execute(heads))),
            "done_films": sum(state == "done" for one in films.values() for state in one),
            "all_films": sum(map(len, films.values())), "resolutions": RESOLUTIONS, "first": batches.FIRST,
            "going": row.state == "running" or any(state in exports.OPEN for one in films.values() for state in one),
        }  # fmt: skip


@blueprint.get("/tables/<batch_id>")
@login_required
def page(batch_id: str) -> str:
    whole = "batches/rows.html" if request.headers.get("HX-Request") else "batches/batch.html"
    return render_template(whole, **_context(batch_id))


@blueprint.post("/tables/<batch_id>/matching")
@login_required
def matching(batch_id: str) -> Response:
    form = request.form
    chosen = {
        name.removeprefix("slot-"): int(value)
        for name, value in form.items() if name.startswith("slot-") and value.isdigit() and len(value) < 3
    }  # fmt: skip
    side = form.get("resolution", "")
    with transaction() as work:
        batches.set_matching(
            work.session, actor(), batch_id, chosen, form.get("pattern", ""), form.getlist("formats")[:50],
            int(side) if side.isdigit() and len(side) < 5 else 0,
        )  # fmt: skip
    return redirect(url_for("batches.page", batch_id=batch_id))


@blueprint.post("/tables/<batch_id>/make")
@login_required
def make(batch_id: str) -> Response:
    what = request.form.get("what", "")
    with transaction() as work:
        count = batches.FIRST if what == "first" else None
        batches.make(work, actor(), batch_id, count, exports=what == "export")
    return redirect(url_for("batches.page", batch_id=batch_id))


@blueprint.post("/tables/<batch_id>/rows/<int:number>/skip")
@login_required
def skip(batch_id: str, number: int) -> str:
    with transaction() as work:
        batches.skip(work.session, actor(), batch_id, number, skipped=request.form.get("on") == "1")
    return render_template("batches/rows.html", **_context(batch_id))


@blueprint.post("/tables/<batch_id>/again")
@login_required
@limiter.limit("60/hour")
def again(batch_id: str) -> Response:
    """Takes the table as it is now."""
    with transaction() as work:
        batches.find(work.session, actor(), batch_id)
    table = _sent()
    with transaction() as work:
        _, changed = batches.again(work, actor(), batch_id, table)
    flash(f"{changed} of {len(table.rows)} rows are new or changed." if changed else "Nothing in it has changed.")
    return redirect(url_for("batches.page", batch_id=batch_id))


@blueprint.post("/tables/<batch_id>/remove")
@login_required
def remove(batch_id: str) -> Response:
    with transaction() as work:
        batches.remove(work.session, actor(), batch_id)
    flash("The table is off the list. The promos that were made of it stay.")
    return redirect(url_for("batches.listing"))
