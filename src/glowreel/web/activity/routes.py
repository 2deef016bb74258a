"""The activity tray: what runs and what failed, with its ends and second tries."""

from __future__ import annotations

from flask import Blueprint, render_template
from flask_login import login_required

from glowreel.services import activity
from glowreel.web.extensions import actor, runtime, transaction

blueprint = Blueprint("activity", __name__, template_folder="templates")


@blueprint.get("/activity")
@login_required
def tray() -> str:
    return _tray()


def _tray() -> str:
    with transaction() as work:
        doings = activity.going_on(runtime(), work.session, actor())
        done = activity.just_done(work.session, actor())
    return render_template("activity/tray.html", doings=doings, done=done, kinds=activity.KINDS)


@blueprint.post("/activity/<kind>/<key>/end")
@login_required
def end(kind: str, key: str) -> str:
    """Ends something that runs, or puts away what failed."""
    with transaction() as work:
        activity.end(runtime(), work, actor(), kind, key)
    return _tray()


@blueprint.post("/activity/<kind>/<key>/again")
@login_required
def again(kind: str, key: str) -> str:
    """Tries again what failed."""
    with transaction() as work:
        activity.again(runtime(), work, actor(), kind, key)
    return _tray()
