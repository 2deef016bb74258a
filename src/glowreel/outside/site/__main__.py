"""Serves the made-up firm's site on this machine, and a few addresses that lead where nobody may be led."""

from __future__ import annotations

import sys
from pathlib import Path

import uvicorn
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, RedirectResponse, Response
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


HEARD: dict[str, list[dict[str, str]]] = {}
"""What was told to addresses under `/told/`; the last hundred of each."""


async def told(request: Request) -> Response:
    """Hears what is told there, and tells it again. `/told/deaf-…` does not take the first two."""
    key = request.path_params["key"]
    heard = HEARD.setdefault(key, [])
    if request.method == "GET":
        return JSONResponse(heard)
    body, signed = await request.body(), request.headers.get("Glowreel-Signature", "")
    heard.append({"body": body.decode("utf-8", "replace")[:100_000], "signature": signed})
    del heard[:-100]
    return Response(status_code=503 if key.startswith("deaf-") and len(heard) <= 2 else 204)


application = Starlette(
    routes=[
        Route("/leads/{where}", leads), Route("/large", large), Route("/told/{key}", told, methods=["GET", "POST"]),
    ],
)  # fmt: skip
application.mount("/", StaticFiles(directory=FOLDER, html=True))

if __name__ == "__main__":
    uvicorn.run(application, fd=int(sys.argv[1]), log_level="warning", access_log=False)
