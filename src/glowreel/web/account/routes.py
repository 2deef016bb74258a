"""Signing up, in and out, the way into the demo, and a person's own page."""

from __future__ import annotations

import time
from collections.abc import Sequence
from contextlib import suppress
from urllib.parse import urlsplit

from flask import Blueprint, redirect, render_template, request, session, url_for
from flask_login import current_user, login_required, login_user, logout_user
from flask_wtf.csrf import generate_csrf
from markupsafe import Markup
from werkzeug.wrappers import Response

from glowreel.core.errors import Missing, Refusal
from glowreel.services import accounts, invitations, licences, resets, second_factor, sign_ins
from glowreel.services.wishes import WISHES, set_wishes, wishes
from glowreel.store.database import Unit
from glowreel.store.models import Invitation, User
from glowreel.web.errors import wants_page
from glowreel.web.extensions import absolute, actor, flash, limiter, person, runtime, scan_code, transaction, user_id

blueprint = Blueprint("account", __name__, template_folder="templates")

Page = str | Response | tuple[str, int]


def _named() -> str:
    """The account that a form is about, for limits on it."""
    return "account:" + accounts.clean_address(request.form.get("email", ""))


def _begin(work: Unit, user: User) -> None:
    """Signs somebody in on this device."""
    key = sign_ins.begin(work.session, user, request.remote_addr or "", request.headers.get("User-Agent", ""))
    found = sign_ins.find(work.session, key)
    if found is not None:
        login_user(person(work, user, found[0].id, key), remember=True)


def _next() -> str:
    """Where to go after signing in: only ever within this application."""
    target = request.values.get("next", "")
    plain = target.isprintable() and target.startswith("/") and not target.startswith(("//", "/\\"))
    try:
        split = urlsplit(target)
    except ValueError:
        return url_for("desk.desk")
    return target if plain and not split.netloc and not split.scheme else url_for("desk.desk")


@blueprint.get("/welcome")
def welcome() -> str | Response:
    if current_user.is_authenticated:
        return redirect(url_for("desk.desk"))
    return render_template("account/welcome.html")


@blueprint.get("/licences")
def licence_list() -> str:
    """What the program is made with, and under which licences."""
    return render_template("account/licences.html", packages=licences.packages(), shipped=licences.shipped())


@blueprint.route("/sign-in", methods=["GET", "POST"])
@limiter.limit("20/minute", methods=["POST"])
@limiter.limit("10/15 minutes", methods=["POST"], key_func=_named)
def sign_in() -> Page | dict[str, str]:
    if request.method == "GET":
        return render_template("account/sign_in.html", problem="")
    try:
        with transaction() as work:
            user = accounts.sign_in(work.session, request.form.get("email", ""), request.form.get("password", ""))
            if not _let_in(work, user, request.form.get("code", "")):
                return redirect(url_for("account.second", next=_next()))
    except Refusal as refusal:
        if not wants_page():
            raise
        return render_template("account/sign_in.html", problem=str(refusal)), 422
    if not wants_page():
        return {"token": generate_csrf()}
    return redirect(_next())


HALF, HALF_SECONDS = "half", 600
"""Under which a session holds who gave the right password and still owes a code; and for how long."""


def _let_in(work: Unit, user: User, code: str = "") -> bool:
    """Signs somebody in whose password was right; says whether that was enough, or a code is still to come. A page's
    own sheet asks for it in place."""
    if user.second_secret:
        if code:
            second_factor.check(work.session, user.id, code)
        elif wants_page():
            session[HALF] = [user.id, int(time.time()) + HALF_SECONDS]
            return False
        else:
            raise Refusal("second-factor", "Type the code that your device shows as well.")
    session.pop(HALF, None)
    _begin(work, user)
    return True


def _half() -> str:
    """Who still owes a code. Raises `Refusal`."""
    user_id, until = session.get(HALF) or ("", 0)
    if until < time.time():
        raise Refusal("half", "That took too long.", "Sign in again.")
    return str(user_id)


@blueprint.route("/sign-in/code", methods=["GET", "POST"])
@limiter.limit("10/15 minutes", methods=["POST"], key_func=lambda: f"second:{(session.get(HALF) or [''])[0]}")
def second() -> Page:
    """The second step of signing in, for who has a second factor."""
    try:
        owes = _half()
    except Refusal:
        return redirect(url_for("account.sign_in", next=_next()))
    if request.method == "GET":
        return render_template("account/second.html", problem="")
    try:
        with transaction() as work:
            _let_in(work, work.session.get_one(User, owes), request.form.get("code", "") or "-")
    except Refusal as refusal:
        return render_template("account/second.html", problem=str(refusal)), 422
    return redirect(_next())


@blueprint.get("/token")
def token() -> dict[str, str]:
    """A fresh token for the changes that a page sends; a page that was open for long may hold an old one."""
    return {"token": generate_csrf()}


@blueprint.route("/sign-up", methods=["GET", "POST"])
@limiter.limit("20/minute", methods=["POST"])
@limiter.limit("10/hour", methods=["POST"], key_func=_named)
def sign_up() -> Page:
    """A new account; whoever comes with an invitation is in that team at once, and has none of their own."""
    with transaction() as work:
        invitation = _invited(work)
    if request.method == "GET":
        return render_template("account/sign_up.html", problem="", invitation=invitation)
    answers = {key: request.form.get(key, "") for key in ("name", "email", "password", "team")}
    try:
        with transaction() as work:
            user = accounts.sign_up(work.session, **answers, into=invitation)
            if invitation is not None:
                invitations.accept(work.session, _next().removeprefix(JOIN), user)
            _begin(work, user)
    except Refusal as refusal:
        return render_template("account/sign_up.html", problem=str(refusal), invitation=invitation), 422
    return redirect(url_for("desk.desk") if invitation else _next())


JOIN = "/join/"


def _invited(work: Unit) -> Invitation | None:
    """The invitation that somebody comes with, if it is open."""
    target = _next()
    with suppress(Missing):
        return invitations.find(work.session, target.removeprefix(JOIN)) if target.startswith(JOIN) else None
    return None


@blueprint.route("/forgotten", methods=["GET", "POST"])
@limiter.limit("10/hour", methods=["POST"])
@limiter.limit("5/hour", methods=["POST"], key_func=_named)
def forgotten() -> str:
    """Asks for a letter with a link to a new password; says the same for every address."""
    if request.method == "GET":
        return render_template("account/forgotten.html", asked=False)
    with transaction() as work:
        resets.ask(work, request.form.get("email", ""), lambda key: absolute(url_for("account.reset", key=key)))
    return render_template("account/forgotten.html", asked=True)


@blueprint.route("/reset/<key>", methods=["GET", "POST"])
@limiter.limit("30/hour")
def reset(key: str) -> Page:
    """A new password, for who has the link from the letter."""
    if request.method == "GET":
        with transaction() as work:
            resets.find(work.session, key)
        return render_template("account/reset.html", problem="")
    try:
        with transaction() as work:
            done = _let_in(work, resets.carry_out(work.session, key, request.form.get("password", "")))
    except Refusal as refusal:
        return render_template("account/reset.html", problem=str(refusal)), refusal.status
    flash("Your new password is set. Everywhere else you are signed out.")
    return redirect(url_for("desk.desk" if done else "account.second"))


@blueprint.post("/demo")
@limiter.limit("30/minute")
def demo() -> Response:
    """One button into the demo team; only where the program was started with it."""
    if not runtime().settings.demo:
        raise Refusal("no-demo", "This Glow Reel was started without the demo.", "Sign up instead.")
    with transaction() as work:
        user = accounts.demo_user(work.session)
        if user is None:
            raise Refusal("no-demo", "The demo is still being set up.", "Try again in a moment.")
        _begin(work, user)
    return redirect(_next())


@blueprint.post("/sign-out")
@login_required
def sign_out() -> Response:
    with transaction() as work:
        sign_ins.end(work.session, current_user.sign_in_id, user_id())
    logout_user()
    return redirect(url_for("desk.desk"))


def _page(problem: str = "") -> str:
    with transaction() as work:
        active = sign_ins.list_active(work.session, user_id())
        wanted = wishes(work.session, actor())
        second = bool(work.session.get_one(User, user_id()).second_secret)
    if _shared():
        active = [row for row in active if row.id == current_user.sign_in_id]
    return render_template("account/account.html", sign_ins=active, problem=problem, shared=_shared(), wishes=WISHES,
                           wanted=wanted, second=second)  # fmt: skip


def _shared() -> bool:
    """Whether this is the demo's account, which strangers share: they see nothing of one another."""
    with transaction() as work:
        demo = accounts.demo_user(work.session)
    return demo is not None and demo.id == user_id()


def _own() -> None:
    """Refuses what only the one person may do whose account this is."""
    if _shared():
        raise Refusal("shared", "Everybody who looks at the demo is in this account.", "Sign up for one of your own.")


@blueprint.get("/account")
@login_required
def account() -> str:
    """A person's own page: the password, and where they are signed in."""
    return _page()


@blueprint.post("/account/name")
@login_required
def name() -> Response:
    """Another name for oneself."""
    _own()
    with transaction() as work:
        accounts.rename(work.session, user_id(), request.form.get("name", ""))
    flash("That is what you are called from now on.")
    return redirect(url_for("account.account"))


@blueprint.post("/account/password")
@login_required
@limiter.limit("10/15 minutes", key_func=lambda: "password:" + user_id())
def password() -> Page:
    _own()
    try:
        with transaction() as work:
            accounts.change_password(
                work.session, user_id(), request.form.get("old", ""), request.form.get("password", "")
            )
            sign_ins.end_all(work.session, user_id(), but=current_user.sign_in_id)
    except Refusal as refusal:
        return _page(str(refusal)), 422
    flash("Your password is changed. Everywhere else you are signed out.")
    return redirect(url_for("account.account"))


@blueprint.get("/account/second")
@login_required
def second_page() -> str:
    """Shows a secret to a device, once; nothing is asked of it until its first code was right."""
    _own()
    session["second"] = secret = second_factor.new_secret()
    return _second_page(secret)


def _second_page(secret: str, problem: str = "", paper: Sequence[str] = ()) -> str:
    with transaction() as work:
        user = work.session.get_one(User, user_id())
        square = Markup(scan_code(second_factor.address(user, secret))) if secret else ""
    return render_template("account/second_page.html", secret=secret, square=square, problem=problem,
                           paper=paper)  # fmt: skip


@blueprint.post("/account/second")
@login_required
@limiter.limit("10/15 minutes", key_func=lambda: "second:" + user_id())
def second_begin() -> Page:
    _own()
    secret = str(session.get("second", ""))
    try:
        with transaction() as work:
            paper = second_factor.begin(work.session, user_id(), secret, request.form.get("code", ""))
            sign_ins.end_all(work.session, user_id(), but=current_user.sign_in_id)
    except Refusal as refusal:
        return _second_page(secret, str(refusal)), 422
    session.pop("second", None)
    return _second_page("", paper=paper)


@blueprint.post("/account/second/end")
@login_required
@limiter.limit("10/15 minutes", key_func=lambda: "second:" + user_id())
def second_end() -> Page:
    _own()
    try:
        with transaction() as work:
            second_factor.end(work.session, user_id(), request.form.get("password", ""))
    except Refusal as refusal:
        return _page(str(refusal)), 422
    flash("From now on your password is enough.")
    return redirect(url_for("account.account"))


@blueprint.post("/account/team")
@login_required
def team() -> Response:
    """How the person's team likes to work."""
    _own()
    with transaction() as work:
        set_wishes(work.session, actor(), {name: name in request.form for name in WISHES})
    flash("That is how your team works from now on.")
    return redirect(url_for("account.account"))


@blueprint.post("/account/sign-ins/<sign_in_id>/end")
@login_required
def end(sign_in_id: str) -> Response:
    _own()
    with transaction() as work:
        sign_ins.end(work.session, sign_in_id, user_id())
    flash("That device is signed out.")
    return redirect(url_for("account.account"))


@blueprint.post("/account/sign-ins/end")
@login_required
def end_others() -> Response:
    _own()
    with transaction() as work:
        sign_ins.end_all(work.session, user_id(), but=current_user.sign_in_id)
    flash("Every other device is signed out.")
    return redirect(url_for("account.account"))
