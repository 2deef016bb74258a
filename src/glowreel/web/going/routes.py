"""The calendar of what goes out, and what can be done with each post."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from flask import Blueprint, redirect, render_template, request, url_for
from flask_login import login_required
from werkzeug.wrappers import Response

from glowreel.core.channels import CHANNELS
from glowreel.core.errors import Refusal
from glowreel.services import channels, publishing
from glowreel.services.access import authorise
from glowreel.store.models import Post, now
from glowreel.web.extensions import actor, flash, runtime, transaction

blueprint = Blueprint("going", __name__, template_folder="templates")

WEEKS = 5
FARTHEST = timedelta(days=800)
STATES: dict[str, tuple[str, str]] = {
    "planned": ("clock", "planned"),
    "sending": ("arrow-up-circle", "is sent"),
    "processing": ("hourglass-split", "is made ready there"),
    "live": ("broadcast", "live"),
    "failed": ("exclamation-triangle", "did not get there"),
    "gone": ("x-circle", "taken down"),
}
"""The icon of each state of a post, and how it is said."""


def zone() -> str:
    """The time zone of whoever asks, as their browser said it."""
    try:
        return publishing.zone_of(request.cookies.get("zone", "")).key
    except Refusal:
        return "UTC"


def _first_day(today: date) -> date:
    """The Monday with which the calendar begins: that of this week, or of the day that was asked for."""
    try:
        asked = date.fromisoformat(request.args.get("from", ""))
    except ValueError:
        asked = today
    asked = max(today - FARTHEST, min(asked, today + FARTHEST))
    return asked - timedelta(days=asked.weekday())


def weeks_from(first: date, there: ZoneInfo, posts: list[Post]) -> list[list[tuple[date, list[Post]]]]:
    """The days of some weeks, each with what goes out on it where that clock is."""
    by_day: dict[date, list[Post]] = {}
    for post in posts:
        by_day.setdefault(post.at.astimezone(there).date(), []).append(post)
    days = [first + timedelta(days=count) for count in range(7 * WEEKS)]
    return [[(day, by_day.get(day, [])) for day in days[at : at + 7]] for at in range(0, len(days), 7)]


def _shown() -> dict[str, Any]:
    there = ZoneInfo(zone())
    today = now().astimezone(there).date()
    first = _first_day(today)
    start = datetime.combine(first, time(), there).astimezone(UTC)
    end = datetime.combine(first + timedelta(days=7 * WEEKS), time(), there).astimezone(UTC)
    with transaction() as work:
        posts = publishing.between(work.session, actor(), start, end)
        return {
            "weeks": weeks_from(first, there, posts), "today": today, "first": first, "zone": there, "states": STATES,
            "posts": sorted(posts, key=lambda post: post.at, reverse=True), "channels": CHANNELS,
            "accounts": channels.accounts(work.session, actor()), "networks": channels.networks(runtime()),
            "before": first - timedelta(days=7 * WEEKS), "after": first + timedelta(days=7 * WEEKS),
        }  # fmt: skip


@blueprint.get("/going-out")
@login_required
def page() -> str:
    context = _shown()
    return render_template("going/parts.html" if request.headers.get("HX-Request") else "going/going.html", **context)


@blueprint.post("/posts/<post_id>/move")
@login_required
def move(post_id: str) -> str:
    """Has a planned post go out on another day; answers with the calendar as it is now."""
    with transaction() as work:
        publishing.move(work.session, actor(), post_id, request.form.get("day", ""))
    return render_template("going/parts.html", **_shown())


def _post(post_id: str, problem: str = "") -> str:
    with transaction() as work:
        post = authorise(work.session, Post, post_id, actor(), "see")
        return render_template(
            "going/post.html", post=post, channel=CHANNELS[post.account.channel], states=STATES, problem=problem,
            zone=ZoneInfo(post.zone), typed=request.form if problem else None,
        )  # fmt: skip


@blueprint.get("/posts/<post_id>")
@login_required
def post(post_id: str) -> str:
    return _post(post_id)


@blueprint.post("/posts/<post_id>")
@login_required
def change(post_id: str) -> str | tuple[str, int] | Response:
    form = request.form
    with transaction() as work:
        row = authorise(work.session, Post, post_id, actor(), "publish")
        format_id = row.file.format_id if row.file is not None else ""
    try:
        with transaction() as work:
            wanted = publishing.Wanted(
                row.account_id, format_id, form.get("title", "")[:400], form.get("text", "")[:10_000],
                form.get("tags", "")[:1000], row.still,
            )  # fmt: skip
            at = publishing.moment(form.get("at", ""), row.zone)
            publishing.change(work.session, actor(), post_id, wanted, at, row.zone)
    except Refusal as refusal:
        return _post(post_id, str(refusal)), 422
    flash("It goes out like that.")
    return redirect(url_for("going.page"))


@blueprint.post("/posts/<post_id>/end")
@login_required
def end(post_id: str) -> Response:
    with transaction() as work:
        stays = publishing.end(runtime(), work, actor(), post_id)
    flash("It is taken down." if stays is not None else "It does not go out.")
    return redirect(url_for("going.page"))


@blueprint.post("/posts/<post_id>/again")
@login_required
def again(post_id: str) -> Response:
    with transaction() as work:
        publishing.again(work, actor(), post_id)
    flash("It is sent again.")
    return redirect(url_for("going.page"))


@blueprint.post("/posts/<post_id>/replace")
@login_required
def replace(post_id: str) -> Response:
    with transaction() as work:
        publishing.replace(work, actor(), post_id)
    flash("The promo as it is now takes its place; the address stays.")
    return redirect(url_for("going.page"))
