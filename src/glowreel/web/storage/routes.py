"""What takes room: how much of its quota a team uses, and what could go."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, url_for
from flask_login import login_required
from werkzeug.wrappers import Response

from glowreel.services import exports, shelf, storage
from glowreel.web.extensions import actor, flash, runtime, transaction

blueprint = Blueprint("storage", __name__, template_folder="templates")


@blueprint.get("/storage")
@login_required
def page() -> str:
    with transaction() as work:
        return render_template(
            "storage/storage.html",
            usage=storage.usage(runtime(), work.session, actor()),
            media=storage.largest_media(work.session, actor()),
            films=storage.largest_exports(work.session, actor()),
        )


@blueprint.post("/storage/media/<media_id>/remove")
@login_required
def remove_media(media_id: str) -> Response:
    with transaction() as work:
        row = shelf.remove(work.session, media_id, actor())
    flash(f"“{row.name}” is off the Shelf. Promos that use it keep it.")
    return redirect(url_for("storage.page"))


@blueprint.post("/storage/exports/<export_id>/remove")
@login_required
def remove_export(export_id: str) -> Response:
    with transaction() as work:
        exports.remove(work.session, export_id, actor())
    flash("The export is removed, and its links have ended.")
    return redirect(url_for("storage.page"))
