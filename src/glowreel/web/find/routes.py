"""Find anything: what a few letters mean, as a list that keys walk through."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask_login import login_required

from glowreel.services import finding
from glowreel.web.extensions import actor, transaction

blueprint = Blueprint("find", __name__, template_folder="templates")


@blueprint.get("/find")
@login_required
def find() -> str:
    query = request.args.get("q", "")
    with transaction() as work:
        return render_template("find/found.html", found=finding.find(work.session, actor(), query), query=query)
