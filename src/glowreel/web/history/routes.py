"""The history panel: steps, named versions, going to any of them, comparing and restoring."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask_login import login_required

from glowreel.services import history, promos
from glowreel.web.editor.routes import changed
from glowreel.web.extensions import actor, transaction
from glowreel.web.preview.routes import number

blueprint = Blueprint("history", __name__, template_folder="templates")


@blueprint.get("/promos/<promo_id>/history")
@login_required
def panel(promo_id: str) -> str:
    """The newest steps, or older ones than `before`."""
    before = number("before", 0) or None
    with transaction() as work:
        steps, more = history.steps(work.session, promo_id, actor(), before)
    return render_template("history/steps.html", steps=steps, more=more, promo_id=promo_id, older=before is not None)


@blueprint.post("/promos/<promo_id>/history/<int:revision>/go")
@login_required
def go(promo_id: str, revision: int) -> str:
    with transaction() as work:
        opened = history.go(work.session, promo_id, actor(), revision)
        return changed(opened, promos.strips(work.session, actor(), opened.promo))


@blueprint.post("/promos/<promo_id>/history/<int:revision>/restore")
@login_required
def restore(promo_id: str, revision: int) -> str:
    with transaction() as work:
        opened = history.restore(work.session, promo_id, actor(), revision)
        return changed(opened, promos.strips(work.session, actor(), opened.promo))


@blueprint.post("/promos/<promo_id>/history/<int:revision>/name")
@login_required
def name(promo_id: str, revision: int) -> str:
    with transaction() as work:
        history.name(work.session, promo_id, actor(), revision, request.form.get("name", ""))
        steps, more = history.steps(work.session, promo_id, actor())
    return render_template("history/steps.html", steps=steps, more=more, promo_id=promo_id, older=False)


@blueprint.get("/promos/<promo_id>/history/compare")
@login_required
def compare(promo_id: str) -> str:
    """Two versions at the same time of the promo, and what is different."""
    with transaction() as work:
        found = history.compare(work.session, promo_id, actor(), number("first"), number("second"))
    format = request.args.get("format", "")
    shapes = [f for f in found.old.formats if any(f.id == g.id for g in found.new.formats)]
    format = format if any(f.id == format for f in shapes) else shapes[0].id if shapes else ""
    return render_template("history/compare.html", c=found, promo_id=promo_id, frame=number("frame", 0), shape=format)
