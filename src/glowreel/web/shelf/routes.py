"""The Shelf: uploads, the list with live states, and the small files made from each."""

from __future__ import annotations

import base64
import re
from pathlib import Path
from typing import BinaryIO, cast
from urllib.parse import unquote

from flask import Blueprint, Response, render_template, request, send_file
from flask_login import login_required
from sqlalchemy.orm import Session

from glowreel.core.collage import GRIDS
from glowreel.core.commands.transitions import spoken
from glowreel.core.design.model import GROUPS
from glowreel.core.errors import Missing, Refusal
from glowreel.core.forms import FORMS
from glowreel.core.vocabulary import TRANSITIONS
from glowreel.designs import shipped
from glowreel.engine.ingest import fine_peaks
from glowreel.engine.stickers import stickers
from glowreel.services import brands, promos, shelf, storage
from glowreel.services.access import authorise
from glowreel.services.blob_keys import derived
from glowreel.store.models import MediaFile
from glowreel.web.extensions import actor, runtime, transaction

blueprint = Blueprint("shelf", __name__, template_folder="templates")

SMALL_FILES = {
    "poster.jpg": "image/jpeg",
    "strip.jpg": "image/jpeg",
    "peaks": "application/octet-stream",
    "stand-in.mp4": "video/mp4",
    "stand-in.png": "image/png",
}
BLOBS = {"stand-in.mp4": "proxy", "stand-in.png": "proxy"}


@blueprint.get("/shelf/list")
@login_required
def listing() -> str:
    return _list()


def brand_first(session: Session, rows: list[MediaFile], promo_id: str) -> tuple[list[MediaFile], dict[str, str]]:
    """Files with those of the promo's brand first, in the brand's order; and which of these are its `logo`."""
    if not promo_id:
        return rows, {}
    brand = promos.open_promo(session, promo_id, actor()).promo.brand
    place = {key: n for n, key in enumerate(brands.material_of(session, actor(), brand))}
    logos = set(brand.logos.values())
    told = {key: "logo" if key in logos else "material" for key in place}
    return sorted(rows, key=lambda row: place.get(row.id, len(place))), told


def _list() -> str:
    find = request.args.get("find", "")
    if request.args.get("kind") == "transition":
        kinds = [kind for kind in list(TRANSITIONS) if find.lower() in spoken(kind)]
        return render_template("shelf/transitions.html", kinds=kinds)
    if request.args.get("kind") == "sticker":
        parts = find.lower().split()
        found = [one for one in stickers().values() if all(part in one.described for part in parts)]
        return render_template("shelf/stickers.html", stickers=found)
    if request.args.get("kind") == "collage":
        grids = [
            grid for grid in GRIDS.values() if find.lower() in f"{grid.label} {grid.find} {grid.count} cells".lower()
        ]
        return render_template("shelf/grids.html", grids=grids)
    if request.args.get("kind") == "shape":
        forms = [(key, f) for key, f in FORMS.items() if find.lower() in f"{f.label} {f.meaning}".lower()]
        return render_template("shelf/shapes.html", forms=forms)
    if request.args.get("kind") == "design":
        wanted = find.lower()
        designs = [
            d for d in shipped().values() if wanted in f"{d.name} {d.meaning} {d.purpose} {GROUPS[d.group]}".lower()
        ]
        designs.sort(key=lambda design: list(GROUPS).index(design.group))
        return render_template("shelf/designs.html", designs=designs, groups=GROUPS)
    with transaction() as work:
        rows = shelf.list_media(work.session, actor(), find, request.args.get("kind", ""))
        rows, of_brand = brand_first(work.session, rows, request.args.get("promo", ""))
    working = any(row.state in ("queued", "running") for row in rows)
    return render_template("shelf/list.html", media=rows, working=working, find=find, of_brand=of_brand)


@blueprint.post("/shelf/uploads")
@login_required
def upload() -> tuple[dict[str, str], int]:
    """Takes one file in as the bare body of the request; its name comes in a header, percent-encoded."""
    name = unquote(request.headers.get("X-File-Name", "Unnamed file"))
    if request.headers.get("Transfer-Encoding"):
        raise Refusal("length", "The upload does not say how large it is.", "Send it again.")
    folder = Path(runtime().settings.cache) / "uploads"
    with transaction() as work:
        storage.check_room(runtime(), work.session, actor(), request.content_length or 0)
    stream = cast(BinaryIO, request.stream)
    source, size = shelf.receive(
        runtime().blobs, folder, stream, expected=request.content_length or 0, checksum=_checksum()
    )
    with transaction() as work:
        row = shelf.add(work, actor(), name, source, size)
        return {"id": row.id, "name": row.name, "state": row.state}, 201


def _checksum() -> bytes | None:
    """The SHA-256 that was sent along (Content-Digest, RFC 9530), if any."""
    found = re.search(r"sha-256=:([A-Za-z0-9+/=]{44}):", request.headers.get("Content-Digest", ""), re.ASCII)
    try:
        return base64.b64decode(found[1], validate=True) if found else None
    except ValueError:
        return None


@blueprint.post("/shelf/<media_id>/remove")
@login_required
def remove(media_id: str) -> str:
    with transaction() as work:
        shelf.remove(work.session, media_id, actor())
    return _list()


@blueprint.get("/shelf/<media_id>/state")
@login_required
def state(media_id: str) -> dict[str, str]:
    """Whether a file has been looked at, and what was wrong with it, if anything."""
    with transaction() as work:
        row = authorise(work.session, MediaFile, media_id, actor(), "see")
        return {"state": row.state, "error": row.error}


@blueprint.get("/shelf/<media_id>/wave/<int:tile>")
@login_required
def fine_wave(media_id: str, tile: int) -> Response:
    """The loudest excursion in each two-thousandth of a second, one byte each, of four seconds of a file's sound: what
    a waveform is drawn from where the timeline is near."""
    with transaction() as work:
        row = authorise(work.session, MediaFile, media_id, actor(), "see", removed=True)
        path = runtime().blobs.local(derived(row.hash, "samples"))
    response = Response(fine_peaks(path, tile), mimetype="application/octet-stream")
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@blueprint.get("/shelf/<media_id>/<name>")
@login_required
def small_file(media_id: str, name: str) -> Response:
    """Poster, film strip, peaks or stand-in of a file. They never change: the address names the content."""
    if name not in SMALL_FILES:
        raise Missing("no-file", "There is nothing at this address.")
    with transaction() as work:
        row = authorise(work.session, MediaFile, media_id, actor(), "see", removed=True)
        path = runtime().blobs.local(derived(row.hash, BLOBS.get(name, name)))
    response = send_file(path, mimetype=SMALL_FILES[name], max_age=31_536_000, conditional=True)
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response
