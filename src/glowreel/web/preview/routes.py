"""Frames and sound for the stage, the wall and the player."""

from __future__ import annotations

import struct
from collections.abc import Iterator, Mapping
from itertools import count
from typing import TypeVar

from flask import Blueprint, Response, make_response, request, send_file
from flask_login import login_required

from glowreel.core.collage import GRIDS
from glowreel.core.collage.picture import grid_svg
from glowreel.core.commands import Context, apply
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.fonts import FONTS
from glowreel.core.forms import FORMS
from glowreel.core.media import Media
from glowreel.core.recipe.sound import as_it_came
from glowreel.core.timeline import timeline
from glowreel.core.vocabulary import TRANSITIONS
from glowreel.designs import shipped
from glowreel.engine.stickers import stickers
from glowreel.engine.type.cards import font_card, font_list, font_paths
from glowreel.engine.typesetting import measure
from glowreel.services import needed, promos
from glowreel.services.access import Actor, authorise
from glowreel.services.promos import named_media
from glowreel.store.models import PromoRow
from glowreel.web.editor.routes import the_command
from glowreel.web.extensions import actor, runtime, the_preview, transaction

blueprint = Blueprint("preview", __name__)

KINDS = tuple(TRANSITIONS)
Thing = TypeVar("Thing")
_numbers = count()
SETTLED = 0.7
"""How far into a scene all of it has come, mostly."""
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
    with transaction() as work:
        row = authorise(work.session, PromoRow, promo_id, actor(), "see")
        return promos.document(work.session, row, number("rev", 0) or None)


def picture_response(promo_id: str, *, share: float | None = None, short: int | None = None) -> Response:
    """A frame of a team's promo as JPEG."""
    return picture(find(promo_id), actor(), share=share, short=short)


def picture(promo: Promo, by: Actor, *, share: float | None = None, short: int | None = None) -> Response:
    """A frame as JPEG. Its ETag is the hash of its recipe; with a revision in the address it never changes. What it
    waits for is begun for whoever asks."""
    short = short or number("short", 360)
    format_id = request.args.get("format", promo.formats[0].id)
    if share is not None:
        at = _settled(promo, share)
    else:
        at = number("frame", 0)
    at_rest = request.args.get("rest", "").split(",")[:200]
    recipe, key = the_preview().recipe(promo, format_id, at, short, at_rest, request.args.get("without", "")[:64])
    response = make_response()
    if the_preview().waits(recipe):
        with transaction() as work:
            needed.begin(work, promo, by)
        response.headers["X-Waits"] = "1"
        response.headers["Cache-Control"] = "private, no-store"
        response.data = the_preview().frame(promo, format_id, recipe, key, short)
        response.mimetype = "image/jpeg"
        return response
    response.set_etag(key)
    response.headers["Cache-Control"] = FOR_EVER if request.args.get("rev") else "private, no-cache"
    if key in request.if_none_match:
        response.status_code = 304
        return response
    response.data = the_preview().frame(promo, format_id, recipe, key, short)
    response.mimetype = "image/jpeg"
    return response


def _settled(promo: Promo, share: float) -> int:
    """The frame so far into the promo, moved to where all of that scene has come."""
    index = timeline(promo)
    at = int(index.length * share)
    spans = [index.scene_span[scene.id] for scene in promo.scenes]
    span = next((span for span in spans if span.start <= at < span.end), None)
    if span is not None:
        at = max(at, span.start + int(span.length * SETTLED))
    return promo.rate.frame_floor(at)


@blueprint.get("/promos/<promo_id>/frame.jpg")
@login_required
def frame(promo_id: str) -> Response:
    return picture_response(promo_id)


def _trying(media: dict[str, Media]) -> Context:
    """The context of a command that is only tried."""
    eyes = the_preview().eyes
    return Context(
        lambda prefix: f"{prefix}-tried-{next(_numbers)}", media, shipped(), measure, eyes.balance, eyes.calm
    )  # fmt: skip


@blueprint.get("/promos/<promo_id>/try.jpg")
@login_required
def tried(promo_id: str) -> Response:
    """What a command would leave on either side of an edge, without carrying it out: two frames side by side.

    `edge` is the `start` or `end` of what `around` names; `both` shows its first and its last frame.
    """
    promo = find(promo_id)
    command = the_command(request.args.get("command", ""))
    with transaction() as work:
        media = promos.team_media(work.session, actor(), named_media(command))
    tried = apply(promo, command, _trying(media)).promo
    index = timeline(tried)
    around = request.args.get("around", "")
    span = index.clip_span.get(around) or index.item_span(index.find_item(around))
    edge, frame = request.args.get("edge", "end"), promo.rate.frame
    times = {
        "start": (span.start - frame, span.start), "end": (span.end - frame, span.end),
        "both": (span.start, span.end - frame),
    }.get(edge, (span.start, span.end - frame))  # fmt: skip
    data = the_preview().pair(tried, request.args.get("format", promo.formats[0].id), times, 240)
    return Response(data, mimetype="image/jpeg", headers={"Cache-Control": "private, no-store"})


@blueprint.get("/promos/<promo_id>/trial.jpg")
@login_required
def trial(promo_id: str) -> Response:
    """A frame as a command would leave it, without carrying it out: what a gesture on the stage is about to do."""
    promo = find(promo_id)
    command = the_command(request.args.get("command", ""))
    with transaction() as work:
        media = promos.team_media(work.session, actor(), named_media(command))
    tried = apply(promo, command, _trying(media)).promo
    at_rest = request.args.get("rest", "").split(",")[:200]
    format_id = request.args.get("format", promo.formats[0].id)
    recipe, key = the_preview().recipe(tried, format_id, number("frame", 0), number("short", 360), at_rest)
    data = the_preview().frame(tried, format_id, recipe, key, number("short", 360))
    return Response(data, mimetype="image/jpeg", headers={"Cache-Control": "private, no-store"})


@blueprint.get("/promos/<promo_id>/trial-run")
@login_required
def trial_run(promo_id: str) -> Response:
    """Frames in a row, `step` apart, as a command would leave them, without carrying it out: what a choice does,
    played. In the form of a run."""
    promo = find(promo_id)
    command = the_command(request.args.get("command", ""))
    with transaction() as work:
        media = promos.team_media(work.session, actor(), named_media(command))
    tried = apply(promo, command, _trying(media)).promo
    format_id = request.args.get("format", promo.formats[0].id)
    frames = the_preview().run(
        tried, format_id, number("frame"), number("count", 15), number("short", 240), max(1, number("step", 1))
    )
    return passed_on(frames)


@blueprint.get("/transitions/<kind>.jpg")
@login_required
def transition(kind: str) -> Response:
    """What a kind of transition looks like, as a row of small frames."""
    found = next((k for k in KINDS if k == kind), None)
    if found is None:
        raise Missing("no-kind", "There is no transition of that kind.")
    data = the_preview().transition_strip(found)
    return Response(data, mimetype="image/jpeg", headers={"Cache-Control": FOR_EVER})


@blueprint.get("/fonts/files/<name>.ttf")
@login_required
def font_file(name: str) -> Response:
    """The letters of one face, for words that are edited on the stage."""
    path = font_paths().get(name)
    if path is None:
        raise Missing("no-font", "There is no family of that name.")
    return send_file(path, mimetype="font/ttf", max_age=31_536_000)


@blueprint.get("/fonts.json")
@login_required
def fonts() -> Response:
    """Every family with its faces: weight, whether it is italic, its file, and how far its letters reach."""
    return Response(font_list(), mimetype="application/json", headers={"Cache-Control": "private, max-age=86400"})


A_DAY = "private, max-age=86400"


def _called(things: Mapping[str, Thing], name: str, what: str) -> Thing:
    """One of the things that come with the program, by its name."""
    if name not in things:
        raise Missing(f"no-{what}", f"There is no {what} of that name.")
    return things[name]


def _card(data: str | bytes, mimetype: str, keep: str = FOR_EVER) -> Response:
    """The picture of such a thing, which browsers keep."""
    return Response(data, mimetype=mimetype, headers={"Cache-Control": keep})


@blueprint.get("/fonts/<name>.png")
@login_required
def font(name: str) -> Response:
    """The name of a family of letters, written in it."""
    _called(FONTS, name, "family")
    return _card(font_card(name), "image/png")


@blueprint.get("/promos/<promo_id>/family.png")
@login_required
def own_family(promo_id: str) -> Response:
    """The name of a family of the brand's own files, written in it."""
    with transaction() as work:
        brand = promos.open_promo(work.session, promo_id, actor()).promo.brand
    name = request.args.get("name", "")
    _called(dict.fromkeys(brand.families), name, "family")
    return _card(font_card(name, brand.font(name)), "image/png")


@blueprint.get("/promos/<promo_id>/fonts/<source>")
@login_required
def own_font(promo_id: str, source: str) -> Response:
    """A file of letters of the promo's brand, for words that are edited on the stage."""
    with transaction() as work:
        brand = promos.open_promo(work.session, promo_id, actor()).promo.brand
    _called({face.hash: face for face in brand.faces}, source, "font")
    path = runtime().library.picture(source)
    return send_file(path, mimetype="font/ttf", max_age=31_536_000)


@blueprint.get("/designs/<key>.jpg")
@login_required
def design(key: str) -> Response:
    """What a shipped design looks like when all of it has come."""
    return _card(the_preview().design_card(_called(shipped(), key, "design")), "image/jpeg", A_DAY)


@blueprint.get("/designs/<key>.webp")
@login_required
def design_loop(key: str) -> Response:
    """A shipped design as it comes, stays and goes."""
    return _card(the_preview().design_loop(_called(shipped(), key, "design")), "image/webp", A_DAY)


@blueprint.get("/stickers/<name>.svg")
@login_required
def sticker(name: str) -> Response:
    """A sticker by itself."""
    return _card(_called(stickers(), name, "sticker").svg, "image/svg+xml")


@blueprint.get("/grids/<name>.svg")
@login_required
def grid(name: str) -> Response:
    """How the cells of a collage lie in a wide frame."""
    return _card(grid_svg(_called(GRIDS, name, "grid"), 16, 9), "image/svg+xml")


@blueprint.get("/forms/<key>.jpg")
@login_required
def form(key: str) -> Response:
    """What a form looks like by itself."""
    _called(FORMS, key, "shape")
    return _card(the_preview().form_card(key), "image/jpeg")


@blueprint.get("/promos/<promo_id>/run")
@login_required
def run(promo_id: str) -> Response:
    return run_of(find(promo_id))


def run_of(promo: Promo) -> Response:
    """Frames in a row: for each a 32-bit length and a JPEG; length 0 repeats the one before."""
    frames = the_preview().run(
        promo,
        request.args.get("format", ""),
        number("frame"),
        number("count", 15),
        number("short", 360),
        max(1, min(30, number("step", 1))),
    )
    return passed_on(frames)


def passed_on(frames: Iterator[tuple[str, bytes]]) -> Response:
    """Frames in a row, each sent as soon as it is drawn. What is refused is refused with the first one."""
    first = next(frames)

    def body() -> Iterator[bytes]:
        yield struct.pack("<I", len(first[1])) + first[1]
        for _, data in frames:
            yield struct.pack("<I", len(data)) + data

    # The front passes each frame on as it comes: playing begins with the first one.
    headers = {"Cache-Control": "private, no-store", "X-Accel-Buffering": "no"}
    return Response(body(), mimetype="application/octet-stream", headers=headers)


@blueprint.get("/promos/<promo_id>/sound")
@login_required
def sound(promo_id: str) -> Response:
    return sound_of(find(promo_id), actor())


def sound_of(promo: Promo, by: Actor) -> Response:
    """A span of the mix: interleaved 16-bit stereo at 48 kHz. `X-Waits` counts what will sound otherwise, as soon as it
    is known; what waits is begun here, if nobody has. `plain=1` leaves voices and tones as they came."""
    if request.args.get("plain") == "1":
        promo = as_it_came(promo)
    with transaction() as work:
        found = needed.look(work.session, promo)
        if found.waiting:
            needed.begin(work, promo, by)
    data, waits = the_preview().sound(promo, number("start"), number("length"), found.known)
    measured = promo.loudness_wanted is None or the_preview().meters.known(promo, found.known) is not None
    kept = request.args.get("rev") and not waits and measured
    headers = {"Cache-Control": FOR_EVER if kept else "private, no-store"}
    if waits:
        headers["X-Waits"] = str(len(waits))
    return Response(data, mimetype="application/octet-stream", headers=headers)


@blueprint.get("/promos/<promo_id>/sprite.png")
@login_required
def sprite(promo_id: str) -> Response:
    promo = find(promo_id)
    data = the_preview().sprite(
        promo, request.args.get("format", ""), request.args.get("item", ""), number("short", 360)
    )
    return Response(data, mimetype="image/png", headers={"Cache-Control": FOR_EVER})
