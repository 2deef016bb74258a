"""The page on which a team's tokens are made and ended, and what programs can ask for stands written."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask_login import login_required
from werkzeug.wrappers import Response

from glowreel.core.errors import Refusal
from glowreel.services import hooks, tokens
from glowreel.web.api.operations import OPERATIONS
from glowreel.web.extensions import absolute, actor, flash, limiter, runtime, transaction

blueprint = Blueprint("programs", __name__, template_folder="templates")


def _page(problem: str = "", given: str = "") -> str:
    with transaction() as work:
        leads = actor().may("lead")
        rows = tokens.standing(work.session, actor()) if leads else []
        told = hooks.standing(work.session, actor()) if leads else []
        last = {row.id: next(iter(hooks.calls(work.session, actor(), row.id)), None) for row in told}
        secrets = {row.id: hooks.secret(runtime(), row) for row in told}
    return render_template(
        "api/programs.html", tokens=rows, scopes=tokens.SCOPES, lasts=tokens.LASTS, operations=OPERATIONS,
        problem=problem, given=given, root=absolute("/api/v1"),
        hooks=told, last=last, secrets=secrets, happenings=hooks.HAPPENINGS, typed=request.form if problem else None,
    )  # fmt: skip


@blueprint.get("/team/programs")
@login_required
def page() -> str:
    return _page()


@blueprint.post("/team/programs")
@login_required
@limiter.limit("30/hour")
def begin() -> str | tuple[str, int]:
    """Makes a token, which is shown on this one page and never again."""
    form, days = request.form, request.form.get("days", "")
    try:
        with transaction() as work:
            lasts = int(days) if days.isdigit() and len(days) < 4 else -1
            _, given = tokens.begin(work.session, actor(), form.get("name", ""), form.getlist("scopes"), lasts)
    except Refusal as refusal:
        return _page(str(refusal)), refusal.status
    return _page(given=given)


@blueprint.post("/team/hooks")
@login_required
@limiter.limit("30/hour")
def begin_hook() -> str | tuple[str, int] | Response:
    try:
        with transaction() as work:
            hooks.begin(work.session, actor(), request.form.get("address", ""), request.form.getlist("happenings"))
    except Refusal as refusal:
        return _page(str(refusal)), refusal.status
    return redirect(url_for("programs.page") + "#hooks")


@blueprint.post("/team/hooks/<hook_id>/end")
@login_required
def end_hook(hook_id: str) -> Response:
    with transaction() as work:
        hooks.end(work.session, actor(), hook_id)
    flash("That address is told nothing more.")
    return redirect(url_for("programs.page") + "#hooks")


@blueprint.post("/team/programs/<token_id>/end")
@login_required
def end(token_id: str) -> Response:
    with transaction() as work:
        tokens.end(work.session, actor(), token_id)
    flash("That token opens nothing any more.")
    return redirect(url_for("programs.page"))
