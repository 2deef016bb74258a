"""The help, beside the screen that it is about."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask_login import login_required

from glowreel.core.errors import Missing
from glowreel.web.help import reading

blueprint = Blueprint("help", __name__, template_folder="templates")


@blueprint.get("/help/<key>")
@login_required
def page(key: str) -> str:
    """A page of the help: beside a screen where it is asked for from there, else by itself."""
    found = reading.page(key)
    if found is None:
        raise Missing("no-help", "There is no such page of the help.", "Open the help on any screen.")
    beside = request.headers.get("HX-Request")
    return render_template("help/words.html" if beside else "help/page.html", help=found, titles=reading.titles())
