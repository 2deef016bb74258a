"""Serves the made-up firm's site on this machine, and a few addresses that lead where nobody may be led."""

from __future__ import annotations

import sys
from pathlib import Path

import uvicorn
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response
from starlette.routing import Route
from starlette.staticfiles import StaticFiles

FOLDER = Path(__file__).parent / "pages"
TRAPS = {
    "metadata": "http://169.254.169.254/latest/", "here": "http://127.0.0.1:80/", "file": "file:///etc/passwd",
    "round": "/leads/round",
}  # fmt: skip
"""Where addresses under `/leads/` lead: nobody who fetches a page may follow them."""


async def leads(request: Request) -> Response:
    where = TRAPS.get(request.path_params["where"])
    return RedirectResponse(where) if where else Response(status_code=404)


async def large(request: Request) -> Response:
    return Response(b"<p>much</p>" * 1024**2, media_type="text/html")


application = Starlette(
    routes=[Route("/leads/{where}", leads), Route("/large", large)],
)
application.mount("/", StaticFiles(directory=FOLDER, html=True))

if __name__ == "__main__":
    uvicorn.run(application, fd=int(sys.argv[1]), log_level="warning", access_log=False)
