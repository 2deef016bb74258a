"""Connecting a channel, and leaving it."""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Blueprint, redirect, request, url_for
from flask_login import login_required
from werkzeug.wrappers import Response

from glowreel.core.channels import CHANNELS
from glowreel.core.errors import Refusal
from glowreel.services import channels
from glowreel.web.extensions import absolute, actor, flash, runtime, transaction

blueprint = Blueprint("connecting", __name__)


@blueprint.get("/channels/<channel>/connect")
@login_required
def connect(channel: str) -> Response:
    """Sends somebody to a channel, to allow the program to post there. A link and no form: pages may not post
    elsewhere."""
    then = urlsplit(request.args.get("then", "")).path
    inside = then if then.startswith("/") and not then.startswith("//") else url_for("going.page")
    back = absolute(url_for("connecting.back"))
    return redirect(channels.asked_at(runtime(), actor(), channel, back, inside))


@blueprint.get("/channels/back")
@login_required
def back() -> Response:
    """Where somebody comes back from a channel."""
    state, code = request.args.get("state", ""), request.args.get("code", "")
    try:
        with transaction() as work:
            row, then = channels.came_back(runtime(), work, actor(), state, code)
            flash(f"{CHANNELS[row.channel].name} is connected, as {row.account}.")
    except Refusal as refusal:
        flash(str(refusal))
        return redirect(url_for("going.page"))
    return redirect(then)


@blueprint.post("/channels/accounts/<account_id>/leave")
@login_required
def leave(account_id: str) -> Response:
    with transaction() as work:
        row = channels.leave(runtime(), work.session, actor(), account_id)
        flash(f"{CHANNELS[row.channel].name} is not connected any more. What is posted stays there.")
    return redirect(url_for("going.page"))
