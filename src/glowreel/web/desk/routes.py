"""The Desk: promos in progress and ways to start."""

from __future__ import annotations

from datetime import UTC, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from flask import Blueprint, Response, make_response, redirect, render_template, request, send_file, url_for
from flask_login import current_user, login_required
from sqlalchemy.orm import Session
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.channels import CHANNELS
from glowreel.core.collage import GRIDS
from glowreel.core.commands import AddCollage, Rename
from glowreel.core.errors import Refusal
from glowreel.core.formats import FIRST_CHOICE, SHIPPED, USES
from glowreel.core.time import ticks
from glowreel.interchange.edit_lists import EDIT_LISTS
from glowreel.services import (
    brands,
    exports,
    folders,
    interchange,
    openings,
    promos,
    publishing,
    sharing,
    shelf,
    storage,
    templates,
)
from glowreel.services import week as weeks
from glowreel.services.access import authorise
from glowreel.store.models import PromoRow
from glowreel.store.models import now as moment
from glowreel.web.extensions import actor, flash, hand_to_live, pressed_once, runtime, transaction
from glowreel.web.going.routes import STATES, weeks_from, zone
from glowreel.web.preview.routes import picture_response

COLLAGE_LENGTH = ticks(8)
READY = 4
"""So many templates are offered on the Desk: the team's own and those used last."""

blueprint = Blueprint("desk", __name__, template_folder="templates")


@blueprint.get("/")
def desk() -> str:
    """The Desk of whoever is signed in; the welcome page for everybody else."""
    if not current_user.is_authenticated:
        return render_template("account/welcome.html")
    folder = request.args.get("folder")
    listed = {"find": request.args.get("find", ""), "folder": folder, "sort": request.args.get("sort", "changed")}
    with transaction() as work:
        rows = folders.find(work.session, actor(), listed["find"] or "", folder, listed["sort"] or "")
        kept = folders.folders(work.session, actor())
        total = len(promos.list_promos(work.session, actor()))
        context: dict[str, Any] = {
            "promos": rows, "folders": kept, "listed": listed, "sorts": folders.SORTS, "total": total,
            "behind": templates.behind(work.session, rows), "marks": sharing.marks(work.session, actor(), rows),
        }  # fmt: skip
        if request.headers.get("HX-Request"):
            return render_template("desk/promos.html", **context)
        going_on = _going_on(work.session)
        brand = brands.usual(work.session, actor())
        ready = templates.cards(work.session, actor())[:READY]
        in_hand = _week(work.session) if total > 1 else {}
    shown_in = {"brand_key": brand.origin if brand else "own", "stamp": brand.version if brand else 0}
    choice: dict[str, Any] = {
        "ready": ready,
        **shown_in,
        "grids": list(GRIDS.values()),
        "formats": SHIPPED.values(),
        "first_choice": FIRST_CHOICE,
        "uses": USES,
        "channels": CHANNELS,
    }
    return render_template("desk/desk.html", **context, **choice, **going_on, **in_hand)


def _going_on(session: Session) -> dict[str, Any]:
    """What is on the Shelf, being made, and lately finished."""
    media = shelf.list_media(session, actor())
    files = [(export, file) for export in exports.list_exports(session, actor()) for file in export.files]
    return {
        "media": media,
        "openings": openings.going_on(session, actor()),
        "working": [row for row in media if row.state in ("queued", "running")],
        "running": [(export, file) for export, file in files if file.state in exports.OPEN],
        "notes": weeks.to_answer(session, actor()),
        "lately": [(export, file) for export, file in files if file.state == "done"][:4],
    }


def _week(session: Session) -> dict[str, Any]:
    """What the team has in hand, and what goes out on the days of this week."""
    there = ZoneInfo(zone())
    today = moment().astimezone(there).date()
    first = today - timedelta(days=today.weekday())
    start = datetime.combine(first, time(), there).astimezone(UTC)
    posts = publishing.between(session, actor(), start, start + timedelta(days=7))
    return {
        "days": weeks_from(first, there, posts)[0], "today": today, "zone": there, "states": STATES,
        "stages": weeks.stages(session, actor(), start), "stage_names": weeks.STAGES,
    }  # fmt: skip


@blueprint.get("/desk/week")
@login_required
def week() -> str:
    """The team's week by itself."""
    with transaction() as work:
        return render_template("desk/week.html", channels=CHANNELS, **_week(work.session))


@blueprint.get("/desk/now")
@login_required
def now() -> str:
    """The side of the Desk that says what is going on, by itself."""
    with transaction() as work:
        return render_template("desk/now.html", **_going_on(work.session))


@blueprint.get("/desk/events")
@login_required
def events() -> Response:
    """A stream that says when an import or export of the team begins or ends (server-sent events)."""
    return hand_to_live("team", actor().team_id)


@blueprint.post("/promos")
@login_required
def create() -> AnyResponse:
    chosen = tuple(request.form.getlist("formats")[:50]) or FIRST_CHOICE
    with transaction() as work:
        name, brand = request.form.get("name", ""), brands.usual(work.session, actor())
        going = tuple(request.form.getlist("channels")[:12])
        key = pressed_once(work, lambda: promos.create(work.session, actor(), name, chosen, brand, going).id)
    return redirect(url_for("editor.editor", promo_id=key))


@blueprint.post("/promos/collage")
@login_required
def create_collage() -> AnyResponse:
    """A new promo that begins with a collage, whose cells are to be filled."""
    grid = GRIDS.get(request.form.get("grid", ""))
    if grid is None:
        raise Refusal("no-grid", "There is no grid of that name.", "Choose one from the list.")

    def made() -> str:
        row = promos.create(work.session, actor(), grid.label, FIRST_CHOICE, brands.usual(work.session, actor()))
        promos.edit(work.session, row.id, actor(), AddCollage(grid=grid.name, length=COLLAGE_LENGTH))
        return row.id

    with transaction() as work:
        key = pressed_once(work, made)
    return redirect(url_for("editor.editor", promo_id=key))


@blueprint.post("/promos/many")
@login_required
def many() -> AnyResponse:
    """Does something with every promo that is marked: `what` is remove, folder or duplicate."""
    form = request.form
    ids, what = form.getlist("promos")[:200], form.get("what", "")
    with transaction() as work:
        if what == "remove":
            done = folders.remove(work.session, actor(), ids)
            undo = url_for("desk.bring_back", promos=",".join(done))
            flash(f"{_promos(len(done))} off the Desk.", undo=undo)
        elif what == "folder":
            before = folders.put(work.session, actor(), ids, form.get("folder", ""))
            name = " ".join(form.get("folder", "").split())
            flash(f"{_promos(len(before))} in {f'“{name}”' if name else 'no folder'}.")
        elif what == "duplicate":
            done = folders.duplicate(work.session, actor(), ids)
            flash(f"{_promos(len(done))} copied.")
        else:
            raise Refusal("no-work", "There is no such thing to do with promos.")
    return redirect(url_for("desk.desk", folder=form.get("here") or None))


def _promos(count: int) -> str:
    return "1 promo is" if count == 1 else f"{count} promos are"


@blueprint.post("/promos/bring-back")
@login_required
def bring_back() -> AnyResponse:
    """Puts promos that were taken off back on the Desk."""
    ids = [key for key in request.values.get("promos", "").split(",") if key]
    with transaction() as work:
        count = folders.bring_back(work.session, actor(), ids)
    flash(f"{_promos(count)} back.")
    return redirect(url_for("desk.desk"))


@blueprint.get("/desk/bin")
@login_required
def taken_off() -> str:
    """What was taken off the Desk and can still be brought back."""
    with transaction() as work:
        return render_template("desk/bin.html", rows=folders.taken_off(work.session, actor()))


@blueprint.post("/promos/<promo_id>/rename")
@login_required
def rename(promo_id: str) -> AnyResponse:
    with transaction() as work:
        opened, _ = promos.edit(work.session, promo_id, actor(), Rename(name=request.form.get("name", "")[:120]))
    flash(f"It is called “{opened.row.name}” now.")
    return redirect(url_for("desk.desk", folder=request.form.get("here") or None))


@blueprint.post("/promos/<promo_id>/remove")
@login_required
def remove(promo_id: str) -> AnyResponse:
    with transaction() as work:
        row = promos.remove(work.session, promo_id, actor())
    flash(f"“{row.name}” is off the Desk.", undo=url_for("desk.restore", promo_id=promo_id))
    return redirect(url_for("desk.desk"))


@blueprint.post("/promos/<promo_id>/restore")
@login_required
def restore(promo_id: str) -> AnyResponse:
    with transaction() as work:
        row = promos.restore(work.session, promo_id, actor())
    flash(f"“{row.name}” is back.")
    return redirect(url_for("desk.desk"))


@blueprint.get("/promos/<promo_id>/poster.jpg")
@login_required
def poster(promo_id: str) -> Response:
    """A frame of the promo for its card, a third of the way in."""
    return picture_response(promo_id, share=0.3, short=240)


@blueprint.get("/promos/<promo_id>/bundle.otioz")
@login_required
def bundle(promo_id: str) -> Response:
    """The promo with all its media as an open bundle."""
    with transaction() as work:
        path, name = interchange.save_bundle(runtime(), work.session, promo_id, actor())
    try:
        return send_file(path, mimetype="application/zip", as_attachment=True, download_name=name)
    finally:
        path.unlink()


@blueprint.get("/promos/<promo_id>/save")
@login_required
def save(promo_id: str) -> str:
    """The files that a promo can be saved as, and what is left of it in each."""
    with transaction() as work:
        row = authorise(work.session, PromoRow, promo_id, actor(), "export")
    return render_template("desk/save.html", promo=row, lists=EDIT_LISTS.values())


@blueprint.get("/promos/<promo_id>/lists/<key>")
@login_required
def edit_list(promo_id: str, key: str) -> Response:
    """The promo as an edit list of a form."""
    with transaction() as work:
        text, name = interchange.save_list(work.session, promo_id, actor(), key)
    answer = Response(text, mimetype=EDIT_LISTS[key].mimetype)
    answer.headers.set("Content-Disposition", "attachment", filename=name)
    return answer


@blueprint.post("/promos/open")
@login_required
def open_file() -> AnyResponse:
    """Takes an .otioz bundle or a plain .otio file in; it is opened by a worker."""
    with transaction() as work:
        # As it comes, as it is kept, and unpacked.
        storage.check_room(runtime(), work.session, actor(), 2 * (request.content_length or 0))
    sent = request.files.get("file")
    with transaction() as work:
        key = pressed_once(work, lambda: openings.start(runtime(), work, actor(), sent).id)
    return redirect(url_for("desk.opening", opening_id=key))


@blueprint.get("/openings/<opening_id>")
@login_required
def opening(opening_id: str) -> AnyResponse | str:
    """How far the opening of a file is; once it is done, the way into the promo."""
    with transaction() as work:
        row = openings.find(work.session, opening_id, actor())
    script = bool(request.headers.get("HX-Request"))
    if row.state == "done":
        for notice in row.notices:
            flash(notice)
        where = url_for("editor.editor", promo_id=row.promo_id)
        return make_response("", {"HX-Redirect": where}) if script else redirect(where)
    return render_template("desk/opening_state.html" if script else "desk/opening.html", opening=row)
