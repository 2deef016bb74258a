"""Exports and the public watch page."""

from __future__ import annotations

from flask import Blueprint, Response, redirect, render_template, request, send_file, url_for
from flask_login import login_required
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.captions.shown import find_lane
from glowreel.core.captions.timed import timed
from glowreel.core.errors import Missing, Refusal
from glowreel.interchange.captions import written
from glowreel.services import delivering, exports
from glowreel.services.access import authorise_file
from glowreel.store.database import Unit
from glowreel.store.models import Export, ExportFile
from glowreel.web.extensions import actor, flash, pressed_once, runtime, transaction

blueprint = Blueprint("exports", __name__, template_folder="templates")


@blueprint.get("/exports")
@login_required
def listing() -> str:
    with transaction() as work:
        rows = exports.list_exports(work.session, actor())
    return render_template("exports/exports.html", exports=rows, working=_working(rows))


@blueprint.get("/exports/list")
@login_required
def fragment() -> str:
    """The list by itself, asked for again while something is being made."""
    promo_id = request.args.get("promo") or None
    with transaction() as work:
        rows = exports.list_exports(work.session, actor(), promo_id)
    rows = rows[:6] if promo_id else rows
    return render_template("exports/list.html", exports=rows, working=_working(rows), promo_id=promo_id)


def _working(rows: list[Export]) -> bool:
    return any(file.state in exports.OPEN for export in rows for file in export.files)


@blueprint.post("/promos/<promo_id>/exports")
@login_required
def start(promo_id: str) -> str:
    try:
        short_side = int(request.form.get("resolution", "1080"))
    except ValueError as error:
        raise Refusal("size", "Choose one of the resolutions in the list.") from error
    with transaction() as work:
        chosen = tuple(request.form.getlist("formats")[:50])
        title, caption = request.form.get("title", ""), request.form.get("caption", "")
        burn_in = request.form.get("burn_in", "1") == "1"
        pressed_once(
            work, lambda: exports.start(work, promo_id, actor(), chosen, short_side, title, caption, burn_in).id
        )
    with transaction() as work:
        rows = exports.list_exports(work.session, actor(), promo_id)[:6]
    return render_template("exports/list.html", exports=rows, working=True, promo_id=promo_id)


def _one(file_id: str) -> str:
    with transaction() as work:
        file = authorise_file(work.session, file_id, actor(), "see")
        return render_template("exports/file.html", file=file, export=file.export)


@blueprint.post("/exports/<file_id>/cancel")
@login_required
def cancel(file_id: str) -> str:
    with transaction() as work:
        exports.cancel(work.session, authorise_file(work.session, file_id, actor(), "export"))
    return _one(file_id)


@blueprint.post("/exports/<file_id>/retry")
@login_required
def retry(file_id: str) -> str:
    with transaction() as work:
        exports.retry(work, authorise_file(work.session, file_id, actor(), "export"))
    return _one(file_id)


@blueprint.post("/exports/<file_id>/link")
@login_required
def link(file_id: str) -> str:
    """Ends the link of a watch page, or makes a new one; the old one opens nothing any more."""
    with transaction() as work:
        exports.set_link(work.session, actor(), file_id, on=request.form.get("on") == "1")
    return _one(file_id)


@blueprint.post("/exports/<file_id>/deliver")
@login_required
def deliver(file_id: str) -> AnyResponse:
    """Puts a film into a folder of somebody's drive; the tray tells how far it is."""
    form = request.form
    with transaction() as work:
        delivering.begin(work, actor(), file_id, form.get("folder", ""), form.get("name", ""), form.get("about", ""))
    flash("The film is on its way to your drive.")
    return redirect(url_for("watch_pages.page", file_id=file_id))


@blueprint.post("/exports/<export_id>/remove")
@login_required
def remove(export_id: str) -> str:
    """Takes an export off the list; its links end with it."""
    with transaction() as work:
        exports.remove(work.session, export_id, actor())
        rows = exports.list_exports(work.session, actor())
    return render_template("exports/list.html", exports=rows, working=_working(rows))


@blueprint.get("/exports/<file_id>/download")
@login_required
def download(file_id: str) -> Response:
    with transaction() as work:
        file = authorise_file(work.session, file_id, actor(), "see")
        if file.state != "done":
            raise Refusal("not-done", "That export is not finished.", "Wait for it, or try it again.")
        return film_of(file, attached=True)


def film_of(file: ExportFile, *, attached: bool) -> Response:
    path = runtime().blobs.local(exports.file_blob(file.id))
    plain = "".join(ch if ch.isalnum() else "-" for ch in file.export.title).strip("-")[:60] or "promo"
    name = f"{plain}-{file.format_id}-{file.short_side}.mp4"
    return send_file(path, mimetype="video/mp4", conditional=True, as_attachment=attached, download_name=name)


@blueprint.get("/exports/<file_id>/captions/<lane_id>.<form>")
@login_required
def captions(file_id: str, lane_id: str, form: str) -> Response:
    """Captions of an exported film as a file beside it."""
    with transaction() as work:
        file = authorise_file(work.session, file_id, actor(), "see")
        return captions_of(work, file, lane_id, form)


def captions_of(work: Unit, file: ExportFile, lane_id: str, form: str) -> Response:
    if form not in ("srt", "vtt"):
        raise Missing("no-file", "There is nothing at this address.")
    promo, format, _ = exports.exported(work.session, file)
    lane = find_lane(promo, lane_id)
    text = written(timed(promo, lane, format), form)
    plain = "".join(ch if ch.isalnum() else "-" for ch in file.export.title).strip("-")[:60] or "promo"
    answer = Response(text, mimetype="text/vtt" if form == "vtt" else "application/x-subrip")
    name = f"{plain}-{file.format_id}.{lane.language}.{form}"
    answer.headers.set("Content-Disposition", "attachment" if form == "srt" else "inline", filename=name)
    return answer
