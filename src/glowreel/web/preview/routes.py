"""Frames and sound for the stage, the wall and the player."""

from __future__ import annotations

import struct
from collections.abc import Iterator

from flask import Blueprint, Response, make_response, request
from flask_login import login_required

from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.timeline import timeline
from glowreel.services import promos
from glowreel.services.access import own
from glowreel.store.models import PromoRow
from glowreel.web.extensions import team_id, the_preview, unit

blueprint = Blueprint("preview", __name__)

FOR_EVER = "private, max-age=31536000, immutable"


def number(name: str, default: int | None = None) -> int:
    """A whole number from the address, or a refusal."""
    text = request.args.get(name, "" if default is None else str(default))
    try:
        value = int(text)
    except ValueError:
        value = -1
    if not 0 <= value < 2**48:
        raise Refusal("number", f"“{name}” must be a whole number.")
    return value


def find(promo_id: str) -> Promo:
    """The promo at the revision the address names (the newest by default); the team's own, or nothing."""
    with unit() as work:
        row = own(work.session, PromoRow, promo_id, team_id())
        return promos.document(work.session, row, number("rev", 0) or None)


def picture_response(promo_id: str, *, share: float | None = None, short: int | None = None) -> Response:
    """A frame as JPEG. Its ETag is the hash of its recipe; with a revision in the address it never changes."""
    promo = find(promo_id)
    short = short or number("short", 360)
    format_id = request.args.get("format", promo.formats[0].id)
    if share is not None:
        at = int(promo.rate.frame_nearest(timeline(promo).length) * share)
    else:
        at = number("frame", 0)
    recipe, key = the_preview().recipe(promo, format_id, at, short)
    response = make_response()
    response.set_etag(key)
    response.headers["Cache-Control"] = FOR_EVER if request.args.get("rev") else "private, no-cache"
    if key in request.if_none_match:
        response.status_code = 304
        return response
    response.data = the_preview().frame(promo, format_id, recipe, key, short)
    response.mimetype = "image/jpeg"
    return response


@blueprint.get("/promos/<promo_id>/frame.jpg")
@login_required
def frame(promo_id: str) -> Response:
    return picture_response(promo_id)


@blueprint.get("/promos/<promo_id>/run")
@login_required
def run(promo_id: str) -> Response:
    """Frames in a row: for each a 32-bit length and a JPEG; length 0 repeats the one before."""
    promo = find(promo_id)
    frames = the_preview().run(
        promo, request.args.get("format", ""), number("frame"), number("count", 15), number("short", 360)
    )
    first = next(frames)

    def body() -> Iterator[bytes]:
        yield struct.pack("<I", len(first[1])) + first[1]
        for _, data in frames:
            yield struct.pack("<I", len(data)) + data

    return Response(body(), mimetype="application/octet-stream", headers={"Cache-Control": "private, no-store"})


@blueprint.get("/promos/<promo_id>/sound")
@login_required
def sound(promo_id: str) -> Response:
    """A span of the mix: interleaved 16-bit stereo at 48 kHz."""
    data = the_preview().sound(find(promo_id), number("start"), number("length"))
    caching = FOR_EVER if request.args.get("rev") else "private, no-store"
    return Response(data, mimetype="application/octet-stream", headers={"Cache-Control": caching})


@blueprint.get("/promos/<promo_id>/sprite.png")
@login_required
def sprite(promo_id: str) -> Response:
    promo = find(promo_id)
    data = the_preview().sprite(
        promo, request.args.get("format", ""), request.args.get("item", ""), number("short", 360)
    )
    return Response(data, mimetype="image/png", headers={"Cache-Control": FOR_EVER})
