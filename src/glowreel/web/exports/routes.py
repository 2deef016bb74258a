"""Exports and the public watch page."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, Response, redirect, render_template, request, send_file, url_for
from flask_login import login_required
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.captions.shown import find_lane
from glowreel.core.captions.timed import timed
from glowreel.core.errors import Missing, Refusal
from glowreel.core.film_forms import (
    FILM_FORMS,
    LOOKS,
    USUAL_FORM,
    USUAL_MAKING,
    Making,
    read_making,
    refuse_unmakeable,
)
from glowreel.core.time import Rate
from glowreel.interchange.captions import written
from glowreel.services import delivering, exports, forecast
from glowreel.services.access import authorise, authorise_file
from glowreel.services.interchange import plain_name
from glowreel.services.promos import document
from glowreel.store.database import Unit
from glowreel.store.models import Export, ExportFile, PromoRow
from glowreel.web.extensions import actor, flash, pressed_once, runtime, transaction

USUAL_SIDE = 1080
blueprint = Blueprint("exports", __name__, template_folder="templates")


@blueprint.get("/exports")
@login_required
def listing() -> str:
    with transaction() as work:
        rows = exports.list_exports(work.session, actor())
    return render_template("exports/exports.html", **_listed(rows))


@blueprint.get("/exports/list")
@login_required
def fragment() -> str:
    """The list by itself, asked for again while something is being made."""
    promo_id = request.args.get("promo") or None
    with transaction() as work:
        rows = exports.list_exports(work.session, actor(), promo_id)
    rows = rows[:6] if promo_id else rows
    return render_template("exports/list.html", **_listed(rows), promo_id=promo_id)


def _listed(rows: list[Export]) -> dict[str, Any]:
    """Exports as the list shows them: whether something is being made, and how long it still takes."""
    working = any(file.state in exports.OPEN for export in rows for file in export.files)
    return {"exports": rows, "working": working, "left": {export.id: forecast.seconds_left(export) for export in rows}}


@dataclass(frozen=True)
class Chosen:
    """What is chosen in the sheet of an export."""

    formats: tuple[str, ...]
    short_side: int
    making: Making


def _chosen(sent: MultiDict[str, str], rate: Rate) -> Chosen:
    try:
        short_side = int(sent.get("resolution", str(USUAL_SIDE)))
    except ValueError as error:
        raise Refusal("size", "Choose one of the resolutions in the list.") from error
    limit = sent.get("limit", "look")
    making = read_making(
        sent.get("form", USUAL_FORM), sent.get("look", ""), sent.get("megabytes", "") if limit == "megabytes" else "",
        sent.get("kilobits", "") if limit == "kilobits" else "", sent.get("rate", ""), sent.get("clear") == "1",
        rate.frame_start(sent.get("frame", 0, type=int)),
    )  # fmt: skip
    return Chosen(tuple(sent.getlist("formats")[:50]), short_side, making)


@blueprint.get("/promos/<promo_id>/exports/choices")
@login_required
def choices(promo_id: str) -> str:
    """What can be chosen of a form of file; at first of the one that the promo was exported as last."""
    with transaction() as work:
        promo = document(work.session, authorise(work.session, PromoRow, promo_id, actor(), "see"))
        latest = next(iter(exports.list_exports(work.session, actor(), promo_id)), None)
        before = exports.making_of(latest) if latest is not None else USUAL_MAKING
    asked = request.args.get("form")
    form = FILM_FORMS.get(asked or before.form, FILM_FORMS[USUAL_FORM])
    making = before if form.key == before.form else read_making(form.key)
    side = latest.files[0].short_side if latest is not None and latest.files else USUAL_SIDE
    return render_template(
        "exports/choices.html", form=form, making=making, promo=promo, looks=LOOKS, usual=side,
        film_forms=FILM_FORMS,
    )  # fmt: skip


@blueprint.get("/promos/<promo_id>/exports/expected")
@login_required
def expected(promo_id: str) -> str:
    """About how large the files will be that are chosen; or why they cannot be made."""
    with transaction() as work:
        promo = document(work.session, authorise(work.session, PromoRow, promo_id, actor(), "see"))
        try:
            chosen = _chosen(request.args, promo.rate)
            refuse_unmakeable(chosen.making, promo, chosen.short_side)
        except Refusal as refusal:
            return render_template("exports/expected.html", refusal=refusal)
        known = tuple(format.id for format in promo.formats if format.id in chosen.formats)
        sizes = forecast.sizes(work.session, promo_id, promo, chosen.making, known, chosen.short_side)
    names = {format.id: format.name for format in promo.formats}
    return render_template("exports/expected.html", refusal=None, sizes=sizes, names=names, making=chosen.making)


@blueprint.post("/promos/<promo_id>/exports")
@login_required
def start(promo_id: str) -> str:
    with transaction() as work:
        promo = document(work.session, authorise(work.session, PromoRow, promo_id, actor(), "see"))
        chosen = _chosen(request.form, promo.rate)
        title, caption = request.form.get("title", ""), request.form.get("caption", "")
        burn_in = request.form.get("burn_in", "1") == "1"

        def begin() -> str:
            return exports.start(
                work, promo_id, actor(), chosen.formats, chosen.short_side, title, caption, burn_in, chosen.making
            ).id

        pressed_once(work, begin)
    with transaction() as work:
        rows = exports.list_exports(work.session, actor(), promo_id)[:6]
    return render_template("exports/list.html", **{**_listed(rows), "working": True}, promo_id=promo_id)


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
    return render_template("exports/list.html", **_listed(rows))


@blueprint.get("/exports/<file_id>/download")
@login_required
def download(file_id: str) -> Response:
    with transaction() as work:
        file = authorise_file(work.session, file_id, actor(), "see")
        if file.state != "done":
            raise Refusal("not-done", "That export is not finished.", "Wait for it, or try it again.")
        return film_of(file, attached=True)


def film_of(file: ExportFile, *, attached: bool) -> Response:
    path = runtime().blobs.local(exports.film_blob(file))
    form = file.film_form
    shape = f"-{file.format_id}-{file.short_side}" if form.picture else ""
    name = f"{plain_name(file.export.title)}{shape}{form.suffix}"
    return send_file(path, mimetype=form.mimetype, conditional=True, as_attachment=attached, download_name=name)


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
    answer = Response(text, mimetype="text/vtt" if form == "vtt" else "application/x-subrip")
    name = f"{plain_name(file.export.title)}-{file.format_id}.{lane.language}.{form}"
    answer.headers.set("Content-Disposition", "attachment" if form == "srt" else "inline", filename=name)
    return answer
