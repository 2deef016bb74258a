"""Ready-made material, and how far it is what was taken from a service outside."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, render_template, request
from flask_login import login_required
from pydantic import ValidationError

from glowreel.core.errors import Missing, Refusal
from glowreel.outside.drive import port as drive
from glowreel.outside.fetching import Fetched
from glowreel.outside.stock.entries import COLOURS, KINDS, LENGTHS, LICENCES, PAGE, SHAPES, Found, Query
from glowreel.outside.stock.port import SMALL
from glowreel.services import material, promos, stock, uploads
from glowreel.store.models import MediaFile
from glowreel.web.extensions import actor, limiter, runtime, transaction

blueprint = Blueprint("sources", __name__, template_folder="templates")

DAY = 86400


def in_bench() -> bool:
    """Whether a fragment is wanted for the bench of an editor."""
    return request.args.get("in") == "bench"


def shown(page: str, source: str, **context: Any) -> str:
    """A source as a page of its own, or as what the bench shows of it."""
    context |= {"source": source, "promo_id": request.values.get("promo", ""), "bench": in_bench(), "drive": drive.NAME}
    return render_template(f"sources/{page}" if in_bench() else "sources/page.html", part=f"sources/{page}", **context)


def small_picture(came: Fetched) -> Response:
    """A small file of a service, as the program passes it on."""
    answer = Response(came.data, mimetype=came.kind)
    answer.headers["Content-Security-Policy"] = "default-src 'none'; sandbox"
    answer.headers["Cache-Control"] = f"private, max-age={DAY}"
    return answer


def _query() -> Query:
    asked = {name: request.args.get(name, "") for name in Query.model_fields if name != "after"}
    after = request.args.get("after", "0")
    try:
        return Query(**asked, after=int(after) if after.isdigit() and len(after) < 6 else 0)
    except ValidationError as error:
        raise Refusal("too-long", "That is too long to look for.", "Use fewer words.") from error


@blueprint.get("/stock")
@login_required
@limiter.limit("240/minute")
def stock_page() -> str:
    """Ready-made material; only what was found where the page itself asks for that."""
    query = _query()
    trouble = ""
    try:
        found = stock.search(runtime(), actor(), query)
    except Refusal as refusal:
        found, trouble = Found(), str(refusal)
    with transaction() as work:
        there = stock.on_shelf(work.session, actor())
    context: dict[str, Any] = {
        "query": query, "found": found, "next": query.after + PAGE, "there": there, "trouble": trouble,
        "offered": stock.offered,
    }  # fmt: skip
    if request.args.get("only") == "found":
        return render_template("sources/stock_more.html" if query.after else "sources/stock_found.html",
                               promo_id=request.args.get("promo", ""), **context)  # fmt: skip
    filters = {
        "kind": ("Kind", KINDS), "shape": ("Shape", SHAPES),
        "length": ("Length", {key: row[0] for key, row in LENGTHS.items()}),
        "colour": ("Colour", {key: key.capitalize() for key in COLOURS}),
        "mood": ("Mood", {mood: mood.capitalize() for mood in found.moods}), "licence": ("Licence", LICENCES),
    }  # fmt: skip
    return shown("stock.html", "stock", filters=filters, **context)


@blueprint.get("/stock/<key>/<name>")
@login_required
def stock_small(key: str, name: str) -> Response:
    """A small file of an entry."""
    if name not in SMALL:
        raise Missing("no-file", "There is nothing at this address.")
    return small_picture(stock.small(runtime(), key, name))


@blueprint.post("/stock/<key>/take")
@login_required
def stock_take(key: str) -> dict[str, str]:
    """Has an entry brought on to the Shelf; answers with its file, or with what is on its way."""
    agreed, promo = request.form.get("agreed") == "1", request.form.get("promo") or None
    with transaction() as work:
        taken = stock.take(runtime(), work, actor(), key, agreed=agreed, promo_id=promo)
    return {"media": taken.media, "upload": taken.upload}


@blueprint.get("/sources/<upload_id>")
@login_required
def coming(upload_id: str) -> dict[str, str]:
    """What became of something that was taken: its file once it can be used, what went wrong, or nothing yet."""
    with transaction() as work:
        row = uploads.find(work.session, actor(), upload_id)
        media = work.session.get(MediaFile, row.media_id) if row.media_id else None
        if media is None:
            return {"media": "", "error": row.error}
        return {"media": media.id if media.usable else "", "error": media.error if media.state == "failed" else ""}


@blueprint.get("/promos/<promo_id>/missing")
@login_required
def missing(promo_id: str) -> str:
    """Whether files that are missing in a promo lie on the Shelf now."""
    with transaction() as work:
        promo = promos.open_promo(work.session, promo_id, actor()).promo
        found = material.found_again(work.session, actor(), promo)
    return render_template("sources/missing.html", found=found, promo_id=promo_id)


@blueprint.get("/promos/<promo_id>/credits")
@login_required
def credits(promo_id: str) -> str:
    """The licences of what a promo is made of, with the credits to copy."""
    with transaction() as work:
        promo = promos.open_promo(work.session, promo_id, actor()).promo
        rows = stock.credited(work.session, actor(), sorted(promo.media))
    return render_template("sources/credits.html", rows=rows, text=stock.credit_text(rows))
