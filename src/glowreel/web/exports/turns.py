"""Films shown in turn behind one link: begun, ended, and how each does."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask_login import login_required
from werkzeug.wrappers import Response

from glowreel.core.errors import Refusal
from glowreel.services import exports, turns
from glowreel.web.extensions import absolute, actor, flash, runtime, transaction

blueprint = Blueprint("turns", __name__, template_folder="templates")

MOST_OFFERED = 60


def _page(problem: str = "") -> str:
    with transaction() as work:
        who = actor()
        films = [
            file
            for export in exports.list_exports(work.session, who)
            for file in export.files
            if file.state == "done" and file.film_form.plays
        ]
        standing = turns.standing(work.session, who)
        chosen = request.args.get("export", "")
        return render_template(
            "exports/turns.html", films=films[:MOST_OFFERED], problem=problem, letter=turns.letter,
            results=[turns.result(work.session, who, row.id) for row in standing[:30]],
            links={row.id: absolute(url_for("watch.turn", key=turns.key(runtime(), row))) for row in standing},
            chosen=set(request.form.getlist("films")) or {file.id for file in films if file.export_id == chosen},
        )  # fmt: skip


@blueprint.get("/exports/turns")
@login_required
def page() -> str:
    return _page()


@blueprint.post("/exports/turns")
@login_required
def begin() -> str | tuple[str, int] | Response:
    try:
        with transaction() as work:
            turns.begin(runtime(), work.session, actor(), request.form.getlist("films")[:20])
    except Refusal as refusal:
        return _page(str(refusal)), 422
    flash("Whoever opens the link sees the next of them.")
    return redirect(url_for("turns.page"))


@blueprint.post("/exports/turns/<turn_id>/end")
@login_required
def end(turn_id: str) -> Response:
    with transaction() as work:
        turns.end(work.session, actor(), turn_id)
    flash("That link opens nothing any more.")
    return redirect(url_for("turns.page"))
