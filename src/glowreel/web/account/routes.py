"""Signing up, in and out, and the way into the demo."""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Blueprint, redirect, render_template, request, url_for
from flask_login import current_user, login_required, login_user, logout_user
from flask_wtf.csrf import generate_csrf
from werkzeug.wrappers import Response

from glowreel.core.errors import Refusal
from glowreel.services import accounts
from glowreel.store.models import User
from glowreel.web.errors import wants_page
from glowreel.web.extensions import Person, limiter, runtime, transaction

blueprint = Blueprint("account", __name__, template_folder="templates")


def _enter(user: User) -> Response:
    login_user(Person(user.id, user.name, user.team_id, user.team.name), remember=True)
    return redirect(_next())


def _next() -> str:
    """Where to go after signing in: only ever within this application."""
    target = request.values.get("next", "")
    split = urlsplit(target)
    inside = target.startswith("/") and not target.startswith(("//", "/\\")) and not split.netloc and not split.scheme
    return target if inside else url_for("desk.desk")


@blueprint.get("/welcome")
def welcome() -> str | Response:
    if current_user.is_authenticated:
        return redirect(url_for("desk.desk"))
    return render_template("account/welcome.html")


@blueprint.route("/sign-in", methods=["GET", "POST"])
@limiter.limit("20/minute", methods=["POST"])
def sign_in() -> str | Response | dict[str, str] | tuple[str, int]:
    if request.method == "GET":
        return render_template("account/sign_in.html", problem="")
    try:
        with transaction() as work:
            user = accounts.sign_in(work.session, request.form.get("email", ""), request.form.get("password", ""))
    except Refusal as refusal:
        if not wants_page():
            raise
        return render_template("account/sign_in.html", problem=str(refusal)), 422
    if not wants_page():
        login_user(Person(user.id, user.name, user.team_id, user.team.name), remember=True)
        return {"token": generate_csrf()}
    return _enter(user)


@blueprint.get("/token")
def token() -> dict[str, str]:
    """A fresh token for the changes that a page sends; a page that was open for long may hold an old one."""
    return {"token": generate_csrf()}


@blueprint.route("/sign-up", methods=["GET", "POST"])
@limiter.limit("20/minute", methods=["POST"])
def sign_up() -> str | Response | tuple[str, int]:
    if request.method == "GET":
        return render_template("account/sign_up.html", problem="")
    answers = {key: request.form.get(key, "") for key in ("name", "email", "password", "team")}
    try:
        with transaction() as work:
            user = accounts.sign_up(work.session, **answers)
    except Refusal as refusal:
        return render_template("account/sign_up.html", problem=str(refusal)), 422
    return _enter(user)


@blueprint.post("/demo")
def demo() -> Response:
    """One button into the demo team; only where the program was started with it."""
    if not runtime().settings.demo:
        raise Refusal("no-demo", "This Glow Reel was started without the demo.", "Sign up instead.")
    with transaction() as work:
        user = accounts.demo_user(work.session)
    if user is None:
        raise Refusal("no-demo", "The demo is still being set up.", "Try again in a moment.")
    return _enter(user)


@blueprint.post("/sign-out")
@login_required
def sign_out() -> Response:
    logout_user()
    return redirect(url_for("desk.desk"))
