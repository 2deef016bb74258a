"""Screenings as the team makes, changes and ends them."""

from __future__ import annotations

from flask import Blueprint, render_template, request, url_for
from flask_login import login_required

from glowreel.core.errors import Refusal
from glowreel.services import promos, screenings
from glowreel.web.extensions import absolute, actor, limiter, runtime, transaction

blueprint = Blueprint("screenings", __name__, template_folder="templates")


def _sheet(promo_id: str, problem: str = "") -> str:
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
        rows = screenings.standing(work.session, actor(), promo_id)
        links = {
            key: absolute(url_for("watching.page", key=given))
            for key, given in screenings.links(runtime(), rows).items()
        }
    return render_template(
        "screenings/sheet.html", promo=opened.promo, screenings=rows, links=links, lasts=screenings.LASTS,
        usual=screenings.USUAL, problem=problem,
    )  # fmt: skip


def _wanted() -> screenings.Wanted:
    form = request.form
    days = form.get("days", "")
    return screenings.Wanted(
        tuple(form.getlist("formats")[:50]), int(days) if days.isdigit() and len(days) < 4 else -1,
        form.get("password", ""), form.get("viewers", "")[:10_000], "downloads" in form, absolute(""),
        "keeps" in form,
    )  # fmt: skip


@blueprint.get("/promos/<promo_id>/screenings")
@login_required
def sheet(promo_id: str) -> str:
    return _sheet(promo_id)


@blueprint.post("/promos/<promo_id>/screenings")
@login_required
@limiter.limit("60/hour")
def begin(promo_id: str) -> str:
    with transaction() as work:
        promos.open_promo(work.session, promo_id, actor())
    try:
        with transaction() as work:
            screenings.begin(runtime(), work.session, actor(), promo_id, _wanted())
    except Refusal as refusal:
        return _sheet(promo_id, str(refusal))
    return _sheet(promo_id)


@blueprint.post("/screenings/<screening_id>/end")
@login_required
def end(screening_id: str) -> str:
    with transaction() as work:
        promo_id = screenings.end(work.session, actor(), screening_id).promo_id
    return _sheet(promo_id)


@blueprint.post("/screenings/<screening_id>/link")
@login_required
def another_link(screening_id: str) -> str:
    with transaction() as work:
        promo_id = screenings.another_link(runtime(), work.session, actor(), screening_id).promo_id
    return _sheet(promo_id)
