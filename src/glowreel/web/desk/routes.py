"""The Desk: promos in progress and ways to start."""

from __future__ import annotations

from flask import Blueprint, Response, make_response, redirect, render_template, request, send_file, url_for
from flask_login import login_required
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.services import exports, interchange, promos, shelf
from glowreel.web.extensions import parts, say, team_id, unit, user_id
from glowreel.web.preview.routes import picture_response

blueprint = Blueprint("desk", __name__, template_folder="templates")


@blueprint.get("/")
@login_required
def desk() -> str:
    with unit() as work:
        rows = promos.list_promos(work.session, team_id())
        media = shelf.list_media(work.session, team_id())
        running = [
            (export, file)
            for export in exports.list_exports(work.session, team_id())
            for file in export.files
            if file.state in exports.OPEN
        ]
        lately = [
            (export, file)
            for export in exports.list_exports(work.session, team_id())
            for file in export.files
            if file.state == "done"
        ][:4]
    return render_template(
        "desk/desk.html",
        promos=rows,
        media=media,
        running=running,
        lately=lately,
        formats=SHIPPED.values(),
        first_choice=FIRST_CHOICE,
    )


@blueprint.post("/promos")
@login_required
def create() -> AnyResponse:
    with unit() as work:
        chosen = tuple(request.form.getlist("formats")) or FIRST_CHOICE
        row = promos.create(work.session, team_id(), user_id(), request.form.get("name", ""), chosen)
    return redirect(url_for("editor.editor", promo_id=row.id))


@blueprint.post("/promos/<promo_id>/remove")
@login_required
def remove(promo_id: str) -> AnyResponse:
    with unit() as work:
        row = promos.remove(work.session, promo_id, team_id())
    say(f"“{row.name}” is off the Desk.|{url_for('desk.restore', promo_id=promo_id)}")
    return redirect(url_for("desk.desk"))


@blueprint.post("/promos/<promo_id>/restore")
@login_required
def restore(promo_id: str) -> AnyResponse:
    with unit() as work:
        row = promos.restore(work.session, promo_id, team_id())
    say(f"“{row.name}” is back.")
    return redirect(url_for("desk.desk"))


@blueprint.get("/promos/<promo_id>/poster.jpg")
@login_required
def poster(promo_id: str) -> Response:
    """A frame of the promo for its card, a third of the way in."""
    return picture_response(promo_id, share=0.3, short=240)


@blueprint.get("/promos/<promo_id>/bundle.otioz")
@login_required
def bundle(promo_id: str) -> Response:
    """The promo with all its media as an open bundle."""
    with unit() as work:
        path, name = interchange.save_bundle(parts(), work.session, promo_id, team_id())
    try:
        return send_file(path, mimetype="application/zip", as_attachment=True, download_name=name)
    finally:
        path.unlink()


@blueprint.post("/promos/open")
@login_required
def open_file() -> Response:
    """Opens an .otioz bundle or a plain .otio file as a new promo."""
    sent = request.files.get("file")
    with unit() as work:
        row, notice = interchange.open_timeline(parts(), work, team_id(), user_id(), sent)
    if notice:
        say(notice)
    return make_response(redirect(url_for("editor.editor", promo_id=row.id)))
