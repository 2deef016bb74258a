"""The button by which somebody cuts a promo alone for a while, or takes over."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask_login import login_required

from glowreel.services import alone
from glowreel.services.access import authorise
from glowreel.store.models import PromoRow
from glowreel.web.extensions import actor, transaction, user_id

blueprint = Blueprint("alone", __name__, template_folder="templates")


def _button(promo_id: str) -> str:
    with transaction() as work:
        row = authorise(work.session, PromoRow, promo_id, actor(), "see")
        cutter = alone.standing(work.session, row)
    return render_template("editor/alone.html", promo_id=promo_id, cutter=cutter, me=user_id())


@blueprint.get("/promos/<promo_id>/alone")
@login_required
def button(promo_id: str) -> str:
    return _button(promo_id)


@blueprint.post("/promos/<promo_id>/alone")
@login_required
def press(promo_id: str) -> str:
    with transaction() as work:
        if request.form.get("on") == "1":
            alone.begin(work.session, actor(), promo_id)
        else:
            alone.end(work.session, actor(), promo_id)
    return _button(promo_id)
