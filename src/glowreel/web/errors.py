"""The one place where errors become pages, fragments or JSON."""

from __future__ import annotations

import logging

from flask import Flask, Response, make_response, redirect, render_template, request, url_for
from flask_wtf.csrf import CSRFError
from sqlalchemy.exc import DataError, OperationalError
from werkzeug.exceptions import HTTPException

from glowreel.core.errors import Refusal

log = logging.getLogger(__name__)

SENTENCES = {
    400: "The page that sent this is out of date. Reload it and try again.",
    404: "There is nothing at this address.",
    405: "That cannot be done at this address.",
    401: "You are signed out. Sign in to go on.",
    413: "That is larger than can be taken here.",
    503: "A part of the program is being started again. Try once more in a moment.",
    429: "Too many tries in a short time. Wait a minute.",
}


def register_errors(app: Flask) -> None:
    app.register_error_handler(Refusal, _refusal)
    app.register_error_handler(CSRFError, lambda error: _answer(400, SENTENCES[400], "stale"))
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(OperationalError, _away)
    app.register_error_handler(DataError, _unkeepable)
    app.register_error_handler(UnicodeError, _unkeepable)
    app.register_error_handler(Exception, _fault)


def _refusal(error: Refusal) -> Response:
    return _answer(error.status, str(error), error.code)


def _http(error: HTTPException) -> Response:
    code = error.code or 500
    if 300 <= code < 400:
        return make_response(error.get_response())
    return _answer(code, SENTENCES.get(code, "That did not work."), f"http-{code}")


def _away(error: OperationalError) -> Response:
    """The database is away: it is started again by whoever watches it, and pages try again by themselves."""
    log.warning("the database cannot be reached: %s", error.orig)
    return _answer(503, SENTENCES[503], "away")


def _unkeepable(error: Exception) -> Response:
    """Letters or numbers that cannot be written down, such as NUL, which no screen of ours sends."""
    log.warning("%s %s: %s", request.method, request.path, type(error).__name__)
    return _answer(422, "That holds letters or numbers that cannot be kept.", "unkeepable")


def _fault(error: Exception) -> Response:
    log.exception("%s %s failed", request.method, request.path)
    return _answer(500, "Something broke on our side. Nothing of yours is lost; try again.", "fault")


def signed_out() -> Response:
    """What whoever is not signed in gets: the sign-in page, or for a script the word that it must sign in first."""
    if wants_page():
        return make_response(redirect(url_for("account.sign_in", next=request.full_path.rstrip("?"))))
    sentence = "You are signed out. Sign in to go on: what you did here is kept until then."
    return make_response({"code": "signed-out", "sentence": sentence}, 401)


def wants_page() -> bool:
    """Whether a person looks at the answer, and not a script of ours, a picture on a page or the like."""
    script = request.headers.get("HX-Request") or request.headers.get("X-Glow")
    # Browsers say what they ask for. A page for a missing icon would begin a session beside that of the real page.
    document = request.headers.get("Sec-Fetch-Dest", "document") == "document"
    return bool(request.accept_mimetypes.accept_html and document and not script)


def _answer(status: int, sentence: str, code: str) -> Response:
    """A sentence in the form the asker can show: JSON for scripts, a page for people."""
    if wants_page() and request.method in ("GET", "POST"):
        return make_response(render_template("problem.html", sentence=sentence, status=status), status)
    response = make_response({"code": code, "sentence": sentence}, status)
    return response
