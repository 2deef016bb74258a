"""The editor: its page, the commands that come from it, and the word that something changed elsewhere."""

from __future__ import annotations

import json
import re
from collections.abc import Collection

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask_login import current_user, login_required
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.commands import Command, read_command
from glowreel.core.content import KINDS
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import RESOLUTIONS, SHIPPED
from glowreel.core.matching import matching
from glowreel.core.own_changes import moved_by_rule, own_changes
from glowreel.core.recipe.needs import needs
from glowreel.core.recipe.picture import find_format
from glowreel.core.time import MAX_TICKS
from glowreel.core.timeline import timeline
from glowreel.engine.makers import MAKERS
from glowreel.engine.palette import palette_of
from glowreel.engine.typesetting import measure
from glowreel.services import brands, derivation, needed, promos, shelf, templates
from glowreel.services.access import authorise
from glowreel.services.live import announce_presence
from glowreel.services.promos import Opened
from glowreel.store.models import PromoRow
from glowreel.web.editor.checking import told
from glowreel.web.editor.view import View, boxes_of, json_text
from glowreel.web.editor.words import laid_out
from glowreel.web.extensions import (
    actor,
    hand_to_live,
    limiter,
    pressed_once,
    runtime,
    the_preview,
    transaction,
    user_id,
)
from glowreel.web.shelf.routes import brand_first

MOST_MATCHED = 12
"""Pictures of a part that are looked at for colours."""

blueprint = Blueprint("editor", __name__, template_folder="templates")


def _chosen() -> tuple[str, ...]:
    """The identifiers that the page says are selected."""
    return tuple(part for part in request.values.get("selected", "").split(",") if part)[:3000]


def _playhead(promo: Promo) -> int:
    """The time of the frame at the page's playhead, in ticks."""
    text = request.values.get("frame", "")
    frame = int(text) if text.isascii() and text.isdigit() and len(text) < 8 else 0
    return min(MAX_TICKS, promo.rate.frame_start(frame))


def _cell() -> str:
    """The cell of a collage that the page says is chosen."""
    return str(request.values.get("cell", ""))[:64]


def _format() -> str:
    return request.values.get("format", "")


def the_command(text: str) -> Command:
    """A command from the page's JSON, or a refusal."""
    try:
        return read_command(json.loads(text))
    except ValueError as error:
        raise Refusal("bad-command", "That cannot be done: the page sent something unreadable.") from error


@blueprint.get("/promos/<promo_id>")
@login_required
def editor(promo_id: str) -> str:
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
        media, of_brand = brand_first(work.session, shelf.list_media(work.session, actor()), promo_id)
        strips = promos.strips(work.session, actor(), opened.promo)
    view = View(opened, strips, (), "")
    working = any(row.state in ("queued", "running") for row in media)
    return render_template(
        "editor/editor.html",
        v=view,
        media=media,
        working=working,
        shipped=SHIPPED,
        resolutions=RESOLUTIONS,
        find="",
        of_brand=of_brand,
    )


@blueprint.get("/promos/<promo_id>/details")
@login_required
def details(promo_id: str) -> str:
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
    view = View(opened, {}, _chosen(), _format(), at=_playhead(opened.promo), cell=_cell())
    return render_template("editor/details.html", v=view)


@blueprint.post("/promos/<promo_id>/edit")
@login_required
def edit(promo_id: str) -> str:
    """Carries out one command and answers with every part of the page that it may have changed."""
    command = the_command(request.form.get("command", ""))
    revision = _seen()
    sent = request.form.get("press", "")
    press = sent if re.fullmatch(r"[\w-]{8,40}", sent, re.ASCII) else None
    with transaction() as work:
        opened, outcome = promos.edit(work.session, promo_id, actor(), command, revision, press, the_preview().eyes)
        strips = promos.strips(work.session, actor(), opened.promo)
        if needs(opened.promo) and (opened.before is None or needs(opened.before.promo) != needs(opened.promo)):
            needed.begin(work, opened.promo, actor())
    selected = outcome.select or _chosen()
    view = View(
        opened, strips, selected, _format(), notice=outcome.notice, sentence=outcome.sentence,
        at=_playhead(opened.promo), before=_known_before(opened), cell=_cell(),
    )  # fmt: skip
    return render_template("editor/changed.html", v=view)


@blueprint.get("/promos/<promo_id>/boxes")
@login_required
def boxes(promo_id: str) -> Response:
    """Where each layer lies in a format, for when somebody begins to work in it."""
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
    told = {"rev": opened.revision, "boxes": boxes_of(opened.promo, find_format(opened.promo, _format()))}
    return Response(json_text(told), mimetype="application/json", headers={"Cache-Control": "no-store"})


@blueprint.get("/promos/<promo_id>/letters")
@login_required
def letters(promo_id: str) -> Response:
    """How some words are laid out at the playhead, for editing them on the stage."""
    with transaction() as work:
        promo = promos.open_promo(work.session, promo_id, actor()).promo
    item = timeline(promo).find_item(request.args.get("item", ""))
    told = laid_out(promo, find_format(promo, _format()), item, _playhead(promo))
    return Response(json_text(told), mimetype="application/json", headers={"Cache-Control": "no-store"})


@blueprint.get("/promos/<promo_id>/checks")
@login_required
def checks(promo_id: str) -> str:
    """What the checks find in the promo as it is."""
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
    return render_template("editor/checks.html", **told(opened.promo))


@blueprint.get("/promos/<promo_id>/differs")
@login_required
def differs(promo_id: str) -> str:
    """What each format has for itself, and what the rule does in it."""
    with transaction() as work:
        promo = promos.open_promo(work.session, promo_id, actor()).promo
    listed = [(one, own_changes(promo, one), moved_by_rule(promo, one, measure)) for one in promo.formats]
    return render_template("editor/differs.html", promo=promo, listed=listed)


@blueprint.post("/promos/<promo_id>/undo")
@login_required
def undo(promo_id: str) -> str:
    return _step(promo_id, back=True)


@blueprint.post("/promos/<promo_id>/redo")
@login_required
def redo(promo_id: str) -> str:
    return _step(promo_id, back=False)


def _known_before(opened: Opened) -> Promo | None:
    """What was on show before a step, where the page says that it has just that."""
    return opened.before.promo if opened.before is not None and opened.before.revision == _seen() else None


def _seen() -> int | None:
    """The revision that the page says was on show when something was pressed."""
    text = request.form.get("rev", "")
    return int(text) if text.isascii() and text.isdigit() and len(text) < 18 else None


def _step(promo_id: str, *, back: bool) -> str:
    again_from = _seen() if "again" in request.form else None
    with transaction() as work:
        opened = promos.step(work.session, promo_id, actor(), back=back, again_from=again_from)
        return changed(opened, promos.strips(work.session, actor(), opened.promo))


def changed(opened: Opened, strips: dict[str, dict[str, object]]) -> str:
    """Every part of the page that an edit may change, with the page's own selection."""
    view = View(
        opened, strips, _chosen(), _format(), at=_playhead(opened.promo), before=_known_before(opened), cell=_cell()
    )  # fmt: skip
    return render_template("editor/changed.html", v=view)


@blueprint.get("/promos/<promo_id>/now")
@login_required
def newest(promo_id: str) -> str:
    """The parts of the page as they are now, for a window whose promo was changed in another one."""
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
        return changed(opened, promos.strips(work.session, actor(), opened.promo))


@blueprint.get("/promos/<promo_id>/events")
@login_required
def events(promo_id: str) -> Response:
    """A stream that says which revision is on show, whenever that changes (server-sent events)."""
    with transaction() as work:
        row = authorise(work.session, PromoRow, promo_id, actor(), "see")
    return hand_to_live("promo", row.id)


@blueprint.post("/promos/<promo_id>/here")
@login_required
@limiter.limit("240/minute", key_func=user_id)
def here(promo_id: str) -> tuple[str, int]:
    """Passes on to the other windows of a promo where this one is. Nothing of it is kept."""
    with transaction() as work:
        row = authorise(work.session, PromoRow, promo_id, actor(), "see")
        announce_presence(work.session, row.id, current_user.name, request.form.get("told", ""))
    return "", 204


@blueprint.get("/promos/<promo_id>/fragment")
@login_required
def fragment(promo_id: str) -> Response:
    """A piece of the promo by itself, for pasting: the items or the scene that the address names."""
    items = {part for part in request.args.get("items", "").split(",") if part}
    with transaction() as work:
        piece = promos.fragment(work.session, promo_id, actor(), items, request.args.get("scene") or None)
    return Response(piece.model_dump_json(), mimetype="application/json")


@blueprint.get("/promos/<promo_id>/scenes")
@login_required
def scenes(promo_id: str) -> str:
    """Scenes of the team's other promos, or of templates in the brand of the promo, to choose from."""
    if request.args.get("from") == "templates":
        find = request.args.get("find", "")
        with transaction() as work:
            brand = promos.open_promo(work.session, promo_id, actor()).promo.brand
            offered = templates.scenes(work.session, actor(), find)
            own = [] if find else brands.scenes_of_brand(work.session, actor(), brand.origin)
            known = {row.id for row in brands.list_brands(work.session, actor())}
        shown = brand.origin if brand.origin in known else "own"
        return render_template("editor/template_scenes.html", found=offered, own=own, brand=shown, stamp=brand.version)
    with transaction() as work:
        found = promos.scenes_of_others(work.session, promo_id, actor())
    return render_template("editor/other_scenes.html", found=found)


@blueprint.get("/promos/<promo_id>/material")
@login_required
def material(promo_id: str) -> str:
    """Footage and photos to choose from, as small pictures."""
    with transaction() as work:
        authorise(work.session, PromoRow, promo_id, actor(), "see")
        rows = shelf.list_media(work.session, actor(), request.args.get("find", ""))
    kind = KINDS.get(request.args.get("for", ""))
    wanted: Collection[str] = (
        {"look"}
        if request.args.get("for") == "look"
        else kind.media
        if kind is not None and kind.lane != "main"
        else {"footage", "photo"}
    )
    ready = [row for row in rows if row.usable and row.facts and row.facts["kind"] in wanted]
    if kind is not None and "sound" in kind.traits:
        ready = [row for row in ready if row.facts and row.facts["sounding"]]
    return render_template("editor/material.html", media=ready)


@blueprint.get("/promos/<promo_id>/matching")
@login_required
def matching_colours(promo_id: str) -> str:
    """Colours that go with the pictures of one part, found from them."""
    with transaction() as work:
        promo = promos.open_promo(work.session, promo_id, actor()).promo
        part = timeline(promo).find_part(request.args.get("item", ""))
        wanted = [source.media for source in part.materials][:MOST_MATCHED]
        pictures = shelf.posters(work.session, runtime().blobs, actor(), wanted)
    found = matching([entry for data in pictures for entry in palette_of(data)])
    return render_template("editor/matching.html", found=found, item=part.id, format=_format())


@blueprint.get("/promos/<promo_id>/making")
@login_required
def making(promo_id: str) -> str:
    """What is being made for one part of the promo, until it is there."""
    return _making(promo_id, request.args.get("item", ""))


def _making(promo_id: str, item: str) -> str:
    with transaction() as work:
        promo = promos.open_promo(work.session, promo_id, actor()).promo
        rows = needed.going_on(work.session, promo, timeline(promo).find_part(item))
        return render_template("editor/making.html", rows=rows, makers=MAKERS, promo=promo, item=item)


@blueprint.post("/promos/<promo_id>/making/<int:derived_id>/stop")
@login_required
def stop_making(promo_id: str, derived_id: int) -> str:
    """Stops what is being made for a part; it is shown as it came."""
    with transaction() as work:
        authorise(work.session, PromoRow, promo_id, actor(), "edit")
        derivation.cancel(work.session, derived_id, actor())
    return _making(promo_id, request.args.get("item", ""))


@blueprint.post("/promos/<promo_id>/making/<int:derived_id>/again")
@login_required
def make_again(promo_id: str, derived_id: int) -> str:
    """Begins again what was stopped or failed."""
    with transaction() as work:
        authorise(work.session, PromoRow, promo_id, actor(), "edit")
        derivation.retry(work, derived_id, actor())
    return _making(promo_id, request.args.get("item", ""))


@blueprint.post("/promos/<promo_id>/copy")
@login_required
def copy(promo_id: str) -> AnyResponse:
    """A copy of the promo as it is now, with a history of its own; in one of its formats alone, if one is sent."""
    only = request.form.get("format", "")
    with transaction() as work:
        key = pressed_once(work, lambda: promos.duplicate(work.session, promo_id, actor(), only).id)
    return redirect(url_for("editor.editor", promo_id=key))
