"""Every request has an identifier, which its log and its tasks carry on; how it ended and how long is counted."""

from __future__ import annotations

import time

from flask import Flask, Response, g, request

from glowreel import logs
from glowreel.services.figures import Figures

QUIET = ("static", "machines.figures")
SLOW_SECONDS = 1.0


def count_requests(app: Flask, figures: Figures) -> None:
    """Gives every request an identifier, and counts how it ended and how long it took."""

    @app.before_request
    def _begin() -> None:
        g.began = time.perf_counter()
        g.within = logs.within(logs.new_request(request.headers.get("X-Request-Id", "")))
        g.within.__enter__()

    @app.after_request
    def _end(response: Response) -> Response:
        response.headers["X-Request-Id"] = logs.request_id()
        began = g.get("began")
        if began is None or request.endpoint in QUIET:
            return response
        seconds = time.perf_counter() - began
        name = request.endpoint or "unknown"
        figures.took("request", name, f"{response.status_code // 100}xx", seconds)
        if request.method != "GET" or response.status_code >= 500 or seconds > SLOW_SECONDS:
            logs.tell("request answered", method=request.method, page=name, status=response.status_code,
                      seconds=round(seconds, 3))  # fmt: skip
        return response

    @app.teardown_request
    def _leave(error: BaseException | None) -> None:
        within = g.pop("within", None)
        if within is not None:
            within.__exit__(None, None, None)
