"""The one place where errors become pages, fragments or JSON."""

from __future__ import annotations

import logging

from flask import Flask, Response, make_response, render_template, request
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException

from glowreel.core.errors import Refusal

log = logging.getLogger(__name__)

SENTENCES = {
    400: "The page that sent this is out of date. Reload it and try again.",
    404: "There is nothing at this address.",
    405: "That cannot be done at this address.",
    413: "That is larger than 2 GB. Export a smaller copy first.",
    429: "Too many tries in a short time. Wait a minute.",
}


def register_errors(app: Flask) -> None:
    app.register_error_handler(Refusal, _refusal)
    app.register_error_handler(CSRFError, lambda error: _answer(400, SENTENCES[400], "stale"))
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(Exception, _fault)


def _refusal(error: Refusal) -> Response:
    return _answer(error.status, str(error), error.code)


def _http(error: HTTPException) -> Response:
    code = error.code or 500
    if 300 <= code < 400:
        return make_response(error.get_response())
    return _answer(code, SENTENCES.get(code, "That did not work."), f"http-{code}")


def _fault(error: Exception) -> Response:
    log.exception("%s %s failed", request.method, request.path)
    return _answer(500, "Something broke on our side. Nothing of yours is lost; try again.", "fault")


def _answer(status: int, sentence: str, code: str) -> Response:
    """A sentence in the form the asker can show: JSON for scripts, a page for people."""
    wants_page = request.accept_mimetypes.accept_html and not request.headers.get("HX-Request")
    if wants_page and request.method in ("GET", "POST") and not request.headers.get("X-Glow"):
        return make_response(render_template("problem.html", sentence=sentence, status=status), status)
    response = make_response({"code": code, "sentence": sentence}, status)
    return response
