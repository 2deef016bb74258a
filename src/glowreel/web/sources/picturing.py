"""Pictures made from words."""

from __future__ import annotations

import random

from flask import Blueprint, Response, render_template, request
from flask_login import login_required
from pydantic import ValidationError

from glowreel.core.errors import Refusal
from glowreel.outside.maker.port import MOST_SEED, SHAPES, STYLES, Wish
from glowreel.services import picturing
from glowreel.web.extensions import actor, limiter, runtime, transaction
from glowreel.web.sources.routes import shown, small_picture

blueprint = Blueprint("picturing", __name__, template_folder="templates")


def _wish() -> Wish:
    told = request.values
    seed = told.get("seed", "")
    colours = tuple(colour for colour in told.get("colours", "").split(",") if colour)
    try:
        return Wish(
            words=told.get("words", "").strip(), style=told.get("style", ""), shape=told.get("shape", "wide"),
            colours=colours, seed=int(seed) if seed.isdigit() and len(seed) < 8 else random.randint(1, MOST_SEED),
        )  # fmt: skip
    except ValidationError as error:
        raise Refusal("no-wish", "That cannot be made.", "Use fewer words, and a seed below a million.") from error


@blueprint.get("/make")
@login_required
def page() -> str:
    """What is asked of a picture."""
    with transaction() as work:
        colours = picturing.colours(work.session, actor(), request.args.get("promo", ""))
    return shown("make.html", "make", styles=STYLES, shapes=SHAPES, colours=colours)


@blueprint.post("/make/proposals")
@login_required
@limiter.limit("60/minute")
def proposals() -> str:
    """Some pictures for what was asked, to be chosen from."""
    wish = _wish()
    offered = picturing.propose(runtime(), actor(), wish)
    wishes = [wish.model_copy(update={"seed": seed}) for seed in offered.seeds]
    return render_template(
        "sources/make_found.html", wishes=wishes, understood=offered.understood, promo_id=request.form.get("promo", "")
    )


@blueprint.get("/make/small.jpg")
@login_required
@limiter.limit("240/minute")
def small() -> Response:
    return small_picture(picturing.small(runtime(), _wish()))


@blueprint.post("/make/take")
@login_required
def take() -> dict[str, str]:
    """Has one of the pictures brought on to the Shelf."""
    with transaction() as work:
        row = picturing.take(work, actor(), _wish(), request.form.get("promo") or None)
        return {"media": "", "upload": row.id}
