"""A cloud drive: connected, seen, taken from."""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask_login import login_required
from werkzeug.wrappers import Response as Answer

from glowreel.core.errors import Refusal
from glowreel.outside.drive.port import NAME, Listing
from glowreel.services import driving
from glowreel.web.extensions import absolute, actor, flash, limiter, runtime, transaction
from glowreel.web.sources.routes import shown, small_picture

blueprint = Blueprint("driving", __name__, template_folder="templates")


@blueprint.get("/drive")
@login_required
@limiter.limit("240/minute")
def page() -> str:
    """The drive's folders and files, or how it is connected; only what was found where the page itself asks."""
    folder, words = request.args.get("folder", ""), request.args.get("find", "").strip()
    listed, trouble, account = Listing(), "", ""
    with transaction() as work:
        row = driving.connection(work.session, actor())
        if row is not None:
            account = row.account
            try:
                listed = driving.listing(runtime(), work.session, actor(), folder, words)
            except Refusal as refusal:
                trouble = str(refusal)
                account = "" if refusal.code == "not-connected" else account
    context = {"listed": listed, "folder": folder, "words": words, "trouble": trouble, "account": account}
    if request.args.get("only") == "found":
        return render_template("sources/drive_found.html", promo_id=request.args.get("promo", ""), **context)
    return shown("drive.html", "drive", there=bool(runtime().settings.drive), **context)


@blueprint.get("/drive/connect")
@login_required
def connect() -> Answer:
    """Sends somebody to the drive, to allow the program in there. A link and no form: pages may not post elsewhere."""
    then = urlsplit(request.args.get("then", "")).path or url_for("driving.page")
    back = absolute(url_for("driving.back"))
    return redirect(
        driving.asked_at(runtime(), actor(), back, then if then.startswith("/") else url_for("driving.page"))
    )


@blueprint.get("/drive/back")
@login_required
def back() -> Answer:
    """Where somebody comes back from the drive."""
    try:
        with transaction() as work:
            then = driving.came_back(
                runtime(), work, actor(), request.args.get("state", ""), request.args.get("code", "")
            )
    except Refusal as refusal:
        flash(str(refusal))
        return redirect(url_for("driving.page"))
    flash(f"{NAME} is connected.")
    return redirect(then)


@blueprint.post("/drive/leave")
@login_required
def leave() -> Answer:
    with transaction() as work:
        driving.leave(runtime(), work.session, actor())
    flash(f"{NAME} is not connected any more. What was taken from it stays.")
    return redirect(url_for("driving.page"))


@blueprint.get("/drive/<key>/small.jpg")
@login_required
def small(key: str) -> Response:
    with transaction() as work:
        came = driving.small(runtime(), work.session, actor(), key)
    return small_picture(came)


@blueprint.post("/drive/take")
@login_required
def take() -> dict[str, object]:
    """Has what was picked brought on to the Shelf, in that order."""
    with transaction() as work:
        keys, promo = request.form.getlist("of"), request.form.get("promo") or None
        rows = driving.take(runtime(), work, actor(), keys, promo)
        return {"uploads": [row.id for row in rows]}
