"""The editor: its page, and the commands that come from it."""

from __future__ import annotations

import json

from flask import Blueprint, redirect, render_template, request, url_for
from flask_login import login_required
from werkzeug.wrappers import Response

from glowreel.core.commands import read_command
from glowreel.core.errors import Refusal
from glowreel.core.formats import RESOLUTIONS, SHIPPED
from glowreel.services import promos, shelf
from glowreel.web.editor.view import View
from glowreel.web.extensions import team_id, unit, user_id

blueprint = Blueprint("editor", __name__, template_folder="templates")


def _chosen() -> tuple[str, ...]:
    """The identifiers that the page says are selected."""
    return tuple(part for part in request.values.get("selected", "").split(",") if part)[:500]


def _format() -> str:
    return request.values.get("format", "")


@blueprint.get("/promos/<promo_id>")
@login_required
def editor(promo_id: str) -> str:
    with unit() as work:
        opened = promos.open_promo(work.session, promo_id, team_id())
        media = shelf.list_media(work.session, team_id())
        strips = promos.strips(work.session, team_id(), opened.promo)
    view = View(opened, strips, (), "")
    working = any(row.state in ("queued", "running") for row in media)
    return render_template(
        "editor/editor.html", v=view, media=media, working=working, shipped=SHIPPED, resolutions=RESOLUTIONS, find=""
    )


@blueprint.get("/promos/<promo_id>/details")
@login_required
def details(promo_id: str) -> str:
    with unit() as work:
        opened = promos.open_promo(work.session, promo_id, team_id())
    return render_template("editor/details.html", v=View(opened, {}, _chosen(), _format()))


@blueprint.post("/promos/<promo_id>/edit")
@login_required
def edit(promo_id: str) -> str:
    """Carries out one command and answers with every part of the page that it may have changed."""
    try:
        command = read_command(json.loads(request.form.get("command", "")))
    except ValueError as error:
        raise Refusal("bad-command", "That cannot be done: the page sent something unreadable.") from error
    with unit() as work:
        opened, outcome = promos.edit(work.session, promo_id, team_id(), user_id(), command)
        strips = promos.strips(work.session, team_id(), opened.promo)
    selected = outcome.select or _chosen()
    view = View(opened, strips, selected, _format(), notice=outcome.notice, words=outcome.words)
    return render_template("editor/changed.html", v=view)


@blueprint.post("/promos/<promo_id>/undo")
@login_required
def undo(promo_id: str) -> str:
    return _step(promo_id, back=True)


@blueprint.post("/promos/<promo_id>/redo")
@login_required
def redo(promo_id: str) -> str:
    return _step(promo_id, back=False)


def _step(promo_id: str, *, back: bool) -> str:
    with unit() as work:
        opened = promos.step(work.session, promo_id, team_id(), back=back)
        strips = promos.strips(work.session, team_id(), opened.promo)
    return render_template("editor/changed.html", v=View(opened, strips, _chosen(), _format()))


@blueprint.post("/promos/<promo_id>/copy")
@login_required
def copy(promo_id: str) -> Response:
    """A copy of the promo as it is now, with a history of its own."""
    with unit() as work:
        row = promos.duplicate(work.session, promo_id, team_id(), user_id())
    return redirect(url_for("editor.editor", promo_id=row.id))
