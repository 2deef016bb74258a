"""Uploads: piece by piece for people of a team, and by a link for whoever has it."""

from __future__ import annotations

from flask import Blueprint, Response, render_template, request, url_for
from flask_login import login_required

from glowreel.core.errors import Refusal
from glowreel.services import upload_links, uploads
from glowreel.services.access import Actor
from glowreel.store.models import UploadLink
from glowreel.web.extensions import absolute, actor, limiter, runtime, scan_code, transaction
from glowreel.web.uploads import tus

blueprint = Blueprint("uploads", __name__, template_folder="templates")


@blueprint.route("/shelf/tus", methods=["OPTIONS"], provide_automatic_options=False)
def capabilities() -> Response:
    return tus.capabilities()


@blueprint.post("/shelf/tus")
@login_required
def create() -> Response:
    """Begins an upload; its pieces go to the address that is answered with."""
    tus.check_version()
    name, size = tus.wanted()
    with transaction() as work:
        row = uploads.begin(runtime(), work, actor(), name, size)
    return tus.created(row, url_for("uploads.piece", upload_id=row.id))


@blueprint.route("/shelf/tus/<upload_id>", methods=["HEAD", "PATCH", "DELETE"])
@login_required
def piece(upload_id: str) -> Response:
    """How far an upload is (HEAD), its next piece (PATCH), its end (DELETE)."""
    return _piece(actor(), upload_id, None)


def _piece(who: Actor, upload_id: str, link_id: str | None) -> Response:
    tus.check_version()
    with transaction() as work:
        row = uploads.find(work.session, who, upload_id, link_id)
        if request.method == "DELETE":
            uploads.end(runtime(), work.session, row)
            return tus.ended()
    if request.method == "PATCH":
        uploads.append(runtime(), row, *tus.piece())
        size = tus.length()
        if not row.size and size is not None and link_id is None:
            uploads.ends(runtime(), who, upload_id, size)
    row = uploads.finished(runtime(), who, upload_id, link_id)
    return tus.standing(row, uploads.arrived(runtime(), row), 200 if request.method == "HEAD" else 204)


@blueprint.get("/upload-links")
@login_required
def links() -> str:
    """The sheet with the links by which files may come from a telephone. Where there is none, it makes one at once."""
    return _links(request.args.get("promo", ""), opened=True)


def _links(promo_id: str, fresh: UploadLink | None = None, *, opened: bool = False) -> str:
    with transaction() as work:
        rows = upload_links.standing(work.session, actor(), promo_id or None)
    shown = fresh or (rows[0] if rows else None)
    return render_template(
        "uploads/links.html", links=rows, shown=shown, promo_id=promo_id, hours=upload_links.HOURS,
        files=upload_links.FILES, address=address, at_once=opened and not shown,
    )  # fmt: skip


def address(link: UploadLink) -> str:
    """Where a link leads, in full."""
    return absolute(url_for("uploads.telephone", token=link.token))


@blueprint.post("/upload-links")
@login_required
@limiter.limit("60/hour")
def make_link() -> str:
    promo_id = request.form.get("promo", "")
    try:
        hours, most = int(request.form.get("hours", "24")), int(request.form.get("most", "20"))
    except ValueError as error:
        raise Refusal("no-choice", "Choose how long and for how many files from the list.") from error
    with transaction() as work:
        made = upload_links.make(work.session, actor(), promo_id, hours, most)
    return _links(promo_id, made)


@blueprint.get("/upload-links/<link_id>/code.svg")
@login_required
def code(link_id: str) -> Response:
    """The address of a link as a code to scan."""
    with transaction() as work:
        link = upload_links.find(work.session, actor(), link_id)
    answer = Response(scan_code(address(link)), mimetype="image/svg+xml")
    answer.headers["Cache-Control"] = "private, max-age=3600"
    return answer


@blueprint.post("/upload-links/<link_id>/end")
@login_required
def end_link(link_id: str) -> str:
    with transaction() as work:
        upload_links.end(work.session, actor(), link_id)
    return _links(request.form.get("promo", ""))


@blueprint.get("/send/<token>")
def telephone(token: str) -> str:
    """The page for a telephone: takes photos and footage, without an account."""
    with transaction() as work:
        door = upload_links.opened(work.session, token)
    return render_template("uploads/telephone.html", door=door, token=token)


@blueprint.post("/send/<token>/tus")
@limiter.limit("200/hour")
def create_by_link(token: str) -> Response:
    tus.check_version()
    name, size = tus.wanted()
    if size is None:
        raise Refusal("length", "The upload does not say how large it is.", "Send it again.")
    with transaction() as work:
        row = upload_links.begin(runtime(), work, token, name, size)
    return tus.created(row, url_for("uploads.piece_by_link", token=token, upload_id=row.id))


@blueprint.route("/send/<token>/tus/<upload_id>", methods=["HEAD", "PATCH", "DELETE"])
def piece_by_link(token: str, upload_id: str) -> Response:
    with transaction() as work:
        door = upload_links.opened(work.session, token)
    return _piece(door.actor, upload_id, door.link.id)
