"""Brands that leave their team and come into it: as a file, and by a link."""

from __future__ import annotations

import tempfile
from pathlib import Path

from flask import Response, redirect, render_template, request, send_file, url_for
from flask_login import login_required
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.errors import Refusal
from glowreel.core.roles import COLOUR_ROLES
from glowreel.services import brand_sharing, brands
from glowreel.web.brands.routes import blueprint
from glowreel.web.extensions import actor, flash, pressed_once, runtime, transaction


@blueprint.get("/brands/<brand_id>/brand.zip")
@login_required
def save(brand_id: str) -> Response:
    """The brand with its files as one open file, which lies on the disk meanwhile, and not in memory."""
    out = tempfile.TemporaryFile(dir=runtime().settings.cache)  # noqa: SIM115 - the answer closes it
    try:
        with transaction() as work:
            name = brand_sharing.write(runtime(), work.session, brand_id, actor(), out)
    except BaseException:
        out.close()
        raise
    out.seek(0)
    return send_file(out, mimetype="application/zip", as_attachment=True, download_name=name)


@blueprint.post("/brands/read")
@login_required
def read() -> AnyResponse:
    """A brand from a file that was saved from a brand book."""
    sent = request.files.get("file")
    if sent is None or not sent.filename:
        raise Refusal("no-file", "No file came in.", "Choose it again.")
    with tempfile.TemporaryDirectory(dir=runtime().settings.cache) as folder:
        path = Path(folder) / "brand.zip"
        sent.save(path)
        key, name = brand_sharing.read(runtime(), actor(), path)
    flash(f"The brand {name} is in the book.")
    return redirect(url_for("brands.page", brand_id=key))


@blueprint.post("/brands/<brand_id>/share")
@login_required
def share(brand_id: str) -> AnyResponse:
    with transaction() as work:
        row = brand_sharing.share(work.session, brand_id, actor(), open_=request.form.get("open") == "1")
    flash("Whoever has the link can take the brand over." if row.digest else "The link is closed.")
    return redirect(url_for("brands.page", brand_id=brand_id))


@blueprint.get("/shared-brands/<token>")
@login_required
def shared(token: str) -> str:
    """A brand of another team, to be taken over."""
    with transaction() as work:
        row = brand_sharing.shared(work.session, token)
        return render_template("brands/shared.html", row=row, brand=brands.snapshot(row), roles=COLOUR_ROLES)


@blueprint.post("/shared-brands/<token>")
@login_required
def take_over(token: str) -> AnyResponse:
    with transaction() as work:
        key = pressed_once(work, lambda: brand_sharing.take_over(work, token, actor()).id)
    flash("The brand is in your book. It can be brought up to date from where it came.")
    return redirect(url_for("brands.page", brand_id=key))


@blueprint.post("/brands/<brand_id>/newest")
@login_required
def newest(brand_id: str) -> AnyResponse:
    with transaction() as work:
        row = brand_sharing.bring(work, brand_id, actor())
    flash(f"{row.name} is as it is where it came from.")
    return redirect(url_for("brands.page", brand_id=brand_id))
