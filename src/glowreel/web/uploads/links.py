"""Files by their address: what stands there is shown to be picked from, and fetched."""

from __future__ import annotations

from flask import Blueprint, Response, current_app, render_template, request
from flask_login import login_required
from itsdangerous import BadSignature, URLSafeSerializer

from glowreel.core.errors import Missing, Refusal
from glowreel.services import by_link
from glowreel.web.extensions import actor, limiter, runtime, transaction

blueprint = Blueprint("by_link", __name__, template_folder="templates")


def _signer() -> URLSafeSerializer:
    """Signs what a page showed: nothing else is fetched for a thumbnail."""
    return URLSafeSerializer(str(current_app.secret_key), salt="shown on a page")


@blueprint.post("/shelf/by-link")
@login_required
@limiter.limit("30/minute")
def look() -> str:
    """Fetches what stands at an address where it is a file, and shows what there is to pick from where it is a page."""
    promo_id = request.form.get("promo", "")
    offer = by_link.look(runtime(), actor(), request.form.get("address", ""))
    if offer.file:
        with transaction() as work:
            row = by_link.begin(work, actor(), offer.url, promo_id=promo_id)
        return render_template("uploads/by_link_begun.html", names=[row.name])
    signer = _signer()
    shown = [(one, signer.dumps([one.url, one.name])) for one in offer.shown]
    return render_template("uploads/by_link_shown.html", shown=shown, url=offer.url, promo_id=promo_id)


@blueprint.get("/shelf/by-link/picture")
@login_required
@limiter.limit("300/minute")
def picture() -> Response:
    """A picture of a page, to be picked from."""
    url, _ = _read(request.args.get("of", ""))
    came = by_link.thumbnail(runtime(), url)
    answer = Response(came.data, mimetype=came.kind)
    answer.headers["Content-Security-Policy"] = "default-src 'none'; sandbox"
    answer.headers["Cache-Control"] = "private, max-age=600"
    return answer


@blueprint.post("/shelf/by-link/take")
@login_required
def take() -> str:
    """Has what was picked fetched, in the order of the page."""
    picked = request.form.getlist("of")
    if not picked:
        raise Refusal("none", "Nothing is picked.", "Press what you want to have.")
    if len(picked) > by_link.MOST:
        raise Refusal("many", f"At most {by_link.MOST} are fetched at once.", "Pick fewer.")
    with transaction() as work:
        rows = [
            by_link.begin(work, actor(), url, name, request.form.get("promo", ""))
            for url, name in (_read(one) for one in picked)
        ]
    return render_template("uploads/by_link_begun.html", names=[row.name for row in rows])


def _read(signed: str) -> tuple[str, str]:
    try:
        url, name = _signer().loads(signed)
    except (BadSignature, ValueError) as error:
        raise Missing("not-shown", "That is from a page that was looked at long ago.", "Look at it again.") from error
    return str(url), str(name)
