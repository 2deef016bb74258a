"""The watch page of a film, as anybody with its link sees it. It sets no cookie, unless it asks for a password."""

from __future__ import annotations

import re
from typing import Any

from flask import Blueprint, Response, redirect, render_template, request, send_file, session, url_for
from flask_login import current_user
from markupsafe import Markup, escape
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.errors import Missing, Refusal
from glowreel.services import exports, turns, watch_pages
from glowreel.store.database import Unit
from glowreel.store.models import ExportFile, WatchPage
from glowreel.web.exports.routes import captions_of, film_of
from glowreel.web.extensions import absolute, csrf, limiter, runtime, the_preview, transaction

blueprint = Blueprint("watch", __name__, template_folder="templates")

MOST_KEPT = 12
POSTER = 720
SETTLED = 0.3
"""How far into a film the frame is that is shown before it plays, where none was chosen."""
MOMENT = re.compile(r"\b(\d{1,2}):([0-5]\d)\b")


def _unlocked(file: ExportFile, page: WatchPage) -> bool:
    held = session.get("films") if page.password else None
    known = isinstance(held, dict) and held.get(file.id) == page.password[-16:]
    return not page.password or known or _team(file)


def _team(file: ExportFile) -> bool:
    return bool(current_user.is_authenticated and current_user.team_id == file.export.team_id)


def _let_in(work: Unit, token: str) -> tuple[ExportFile, WatchPage]:
    """The film behind a link with its page, for who may watch it."""
    file = exports.watched(work.session, token)
    page = watch_pages.page_of(work.session, file)
    if not _unlocked(file, page):
        raise Refusal("locked", "This film asks for a password first.", "Reload the page.")
    return file, page


def linked(text: str) -> Markup:
    """A text in which moments such as 0:42 lead there."""

    def button(found: re.Match[str]) -> str:
        at = int(found[1]) * 60 + int(found[2])
        return f'<button type="button" class="watch-moment" data-at="{at}">{found[0]}</button>'

    return Markup(MOMENT.sub(button, str(escape(text))))


def _context(work: Unit, file: ExportFile, page: WatchPage) -> dict[str, Any]:
    return {
        "file": file, "export": file.export, "page": page, "title": page.title or file.export.title,
        "link": absolute(url_for("watch.page", token=file.token)), "length": watch_pages.seconds(work.session, file),
        "parts": watch_pages.PARTS, "counted": url_for("watch.count", token=file.token),
    }  # fmt: skip


@blueprint.get("/watch/<token>")
def page(token: str) -> str:
    """The page anyone with the link can open."""
    with transaction() as work:
        file = exports.watched(work.session, token)
        shown = watch_pages.page_of(work.session, file)
        if not _unlocked(file, shown):
            return render_template("exports/locked.html", token=token, problem="")
        return render_template(
            "exports/watch.html", **_context(work, file, shown), linked=linked, team=_team(file),
            chapters=watch_pages.chapters(work.session, file),
            questions=watch_pages.questions(work.session, file, answered=True) if shown.asks else [],
        )  # fmt: skip


@blueprint.get("/turn/<key>")
def turn(key: str) -> str:
    """The film whose turn it is, of several behind one link."""
    with transaction() as work:
        row = turns.opened(work.session, key)
        file = turns.next_film(work.session, row)
        shown = watch_pages.page_of(work.session, file)
        context = {
            **_context(work, file, shown), "counted": url_for("watch.count_turn", key=key, file_id=file.id),
            "link": absolute(url_for("watch.turn", key=key)),
        }  # fmt: skip
        return render_template(
            "exports/watch.html", **context, linked=linked, team=False, questions=[],
            chapters=watch_pages.chapters(work.session, file),
        )  # fmt: skip


@csrf.exempt
@blueprint.post("/turn/<key>/<file_id>/count")
@limiter.limit("120/minute")
def count_turn(key: str, file_id: str) -> tuple[str, int]:
    """Counts that a film was played there, how much of it was seen, or that the call to action was pressed."""
    what, places = request.form.get("what", ""), request.form.get("places", "0").split(",")
    with transaction() as work:
        row = turns.opened(work.session, key)
        if not (current_user.is_authenticated and current_user.team_id == row.team_id):
            turns.count(work.session, row, file_id, what, len(set(places[: watch_pages.PARTS])))
    return "", 204


@blueprint.get("/watch/<token>/embed")
def embed(token: str) -> Response:
    """The film by itself, to stand in a page elsewhere."""
    with transaction() as work:
        file, shown = _let_in(work, token)
        answer = Response(render_template("exports/embed.html", **_context(work, file, shown)))
    answer.headers["Content-Security-Policy"] = (
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; media-src 'self'; font-src 'self'; "
        "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors *"
    )
    answer.headers["Cross-Origin-Resource-Policy"] = "cross-origin"
    return answer


@csrf.exempt
@blueprint.post("/watch/<token>/enter")
@limiter.limit("10/minute")
@limiter.limit("60/hour")
def enter(token: str) -> str | AnyResponse:
    """Lets in who knows the password. Nobody's rights are used for it."""
    with transaction() as work:
        file = exports.watched(work.session, token)
        shown = watch_pages.page_of(work.session, file)
        try:
            if shown.password:
                watch_pages.fits(shown, request.form.get("password", ""))
        except Refusal as refusal:
            return render_template("exports/locked.html", token=token, problem=str(refusal))
        held = session.get("films")
        kept = dict(held) if isinstance(held, dict) else {}
        kept[file.id] = shown.password[-16:]
        session["films"] = dict(list(kept.items())[-MOST_KEPT:])
    return redirect(url_for("watch.page", token=token))


@blueprint.get("/watch/<token>/film.mp4")
def film(token: str) -> Response:
    with transaction() as work:
        file, shown = _let_in(work, token)
        taken = "download" in request.args
        if taken and not shown.downloads:
            raise Missing("no-download", "This film is for watching here.", "Ask whoever sent the link for it.")
        response = film_of(file, attached=taken)
    response.headers["Cache-Control"] = "private, max-age=3600"
    return response


@blueprint.get("/watch/<token>/captions/<lane_id>.vtt")
def captions(token: str, lane_id: str) -> Response:
    """Captions of a film for whoever watches it."""
    with transaction() as work:
        return captions_of(work, _let_in(work, token)[0], lane_id, "vtt")


@blueprint.get("/watch/<token>/poster.jpg")
def poster(token: str) -> Response:
    """The frame that is shown before the film plays, and where its link is shown elsewhere."""
    with transaction() as work:
        file, shown = _let_in(work, token)
        if shown.picture:
            return send_file(runtime().blobs.local(shown.picture), mimetype="image/jpeg", max_age=600)
        promo, format, _ = exports.exported(work.session, file)
    frame = shown.poster if shown.poster is not None else round(file.frames * SETTLED)
    recipe, key = the_preview().recipe(promo, format.id, frame, POSTER)
    data = the_preview().frame(promo, format.id, recipe, key, POSTER)
    headers = {"Cache-Control": "public, max-age=3600", "Cross-Origin-Resource-Policy": "cross-origin"}
    return Response(data, mimetype="image/jpeg", headers=headers)


@csrf.exempt
@blueprint.post("/watch/<token>/count")
@limiter.limit("120/minute")
def count(token: str) -> tuple[str, int]:
    """Counts that it was played, how far, or that the call to action was pressed; nothing of who it was."""
    places = [int(one) for one in request.form.get("places", "0").split(",")[: watch_pages.PARTS] if one.isdigit()]
    with transaction() as work:
        file, _ = _let_in(work, token)
        if not _team(file):  # Those who made it are no audience.
            watch_pages.count(work.session, file, request.form.get("what", ""), places)
    return "", 204


@csrf.exempt
@blueprint.post("/watch/<token>/questions")
@limiter.limit("5/minute")
@limiter.limit("30/hour")
def ask(token: str) -> dict[str, str]:
    """A question of somebody who watches; it is seen once it has been answered."""
    text = request.form.get("at", "")
    at = float(text) if re.fullmatch(r"\d{1,6}(\.\d{1,4})?", text) else 0.0
    with transaction() as work:
        file, _ = _let_in(work, token)
        watch_pages.ask(work.session, file, request.form.get("who", ""), at, request.form.get("text", ""))
    return {"sentence": "Your question is on its way. It stands here once it is answered."}
