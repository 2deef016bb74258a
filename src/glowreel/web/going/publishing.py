"""Publishing a promo: one sheet for all channels, each with its own words."""

from __future__ import annotations

import math
from functools import partial

from flask import Blueprint, redirect, render_template, request, url_for
from flask_login import login_required
from werkzeug.wrappers import Response

from glowreel.core.channels import CHANNELS
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED, Format, shape_of
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline
from glowreel.services import channels, promos, publishing
from glowreel.services.access import Actor, allow
from glowreel.web.extensions import absolute, actor, flash, pressed_once, runtime, transaction
from glowreel.web.going.routes import STATES, zone

blueprint = Blueprint("publishing", __name__, template_folder="templates")


def _distance(key: str, format: Format) -> tuple[bool, int, str]:
    """How far a format is from what a channel likes best: one made for it comes first, then its own order of shapes."""
    shapes = [shape_of(SHIPPED[one].wide, SHIPPED[one].high) for one in CHANNELS[key].shapes]
    shape = shape_of(format.wide, format.high)
    return (format.channel != key, shapes.index(shape) if shape in shapes else len(shapes), format.id)


def _sheet(promo_id: str, who: Actor, problem: str = "") -> str:
    allow(who, "publish")
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, who)
        promo, offered = opened.promo, []
        for account in channels.accounts(work.session, who):
            channel = CHANNELS[account.channel]
            fits = [one for one in promo.formats if not publishing.suits(channel, promo, one.id)]
            best = min(fits, key=partial(_distance, account.channel), default=None)
            # Where no format fits, the first says why not.
            why = "" if fits else publishing.suits(channel, promo, promo.formats[0].id)
            offered.append((account, channel, fits, best, why))
        return render_template(
            "going/publish.html", promo=promo, row=opened.row, offered=offered, problem=problem, zone=zone(),
            posts=publishing.of_promo(work.session, who, promo_id), states=STATES, channels=CHANNELS,
            missing=[key for key in channels.networks(runtime()) if key not in {one[0].channel for one in offered}],
            length=timeline(promo).length / TICKS_PER_SECOND, typed=request.form if problem else None,
        )  # fmt: skip


@blueprint.get("/promos/<promo_id>/publish")
@login_required
def sheet(promo_id: str) -> str:
    return _sheet(promo_id, actor())


def _seconds(text: str) -> float:
    try:
        value = float(text.strip().replace(",", ".") or 0)
    except ValueError as error:
        raise Refusal("number", f"“{text[:20]}” is no number of seconds.") from error
    if not math.isfinite(value):
        raise Refusal("number", f"“{text[:20]}” is no number of seconds.")
    return value


def _wanted() -> list[publishing.Wanted]:
    form = request.form
    return [
        publishing.Wanted(
            key, form.get(f"format-{key}", ""), form.get(f"title-{key}", "")[:400],
            form.get(f"text-{key}", "")[:10_000],
            form.get(f"tags-{key}", "")[:1000], _seconds(form.get(f"still-{key}", "")),
        )
        for key in form.getlist("accounts")[:20]
    ]  # fmt: skip


@blueprint.post("/promos/<promo_id>/publish")
@login_required
def publish(promo_id: str) -> str | tuple[str, int] | Response:
    form, who = request.form, actor()
    with transaction() as work:
        promos.open_promo(work.session, promo_id, who)
    try:
        said_zone = form.get("zone") or zone()
        at = publishing.moment(form.get("at", ""), said_zone) if form.get("when") == "planned" else None
        wanted = _wanted()

        def made() -> str:
            home = absolute("").rstrip("/")
            return publishing.publish(work, who, promo_id, wanted, at, said_zone, home)[0].set_id

        with transaction() as work:
            pressed_once(work, made)
    except Refusal as refusal:
        return _sheet(promo_id, who, str(refusal)), 422
    flash("It is planned." if at is not None else "It goes out as soon as its films are made.")
    return redirect(url_for("going.page"))
