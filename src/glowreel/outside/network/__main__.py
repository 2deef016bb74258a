"""Plays a network on this machine: `python -m glowreel.outside.network SOCKET FOLDER NAME`.

A file `trouble` in its folder makes the next requests go wrong, a line each: `/posts 503`, `/films 429`.
"""

from __future__ import annotations

import hmac
import secrets
import sys
import time
from collections.abc import Awaitable, Callable
from hashlib import sha256
from html import escape
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlencode, urlsplit

import orjson
import uvicorn
from pydantic import BaseModel, Field, ValidationError
from starlette.applications import Starlette
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException
from starlette.middleware.base import BaseHTTPMiddleware
from starlette.requests import Request
from starlette.responses import FileResponse, HTMLResponse, JSONResponse, RedirectResponse, Response
from starlette.routing import Route

from glowreel.core.channels import CHANNELS
from glowreel.outside.network.kept import Kept, Unlike
from glowreel.outside.network.port import challenge

CODES_FOR, TOKENS_FOR = 120.0, 1800.0
ACCOUNT = "Hollowmere Balloons"
STYLE = """body{font:16px/1.5 system-ui;background:#ece7f3;color:#2b2140;margin:0;display:grid;place-items:center;
min-height:100vh}main,form{background:#fff;padding:28px;border-radius:16px;max-width:420px}video{max-width:100%;
max-height:60vh;border-radius:10px}button{font:inherit;padding:10px 18px;border:0;border-radius:9px;
background:#5b3f8c;color:#fff}a{color:#5b3f8c}"""
FRAME = (
    """<!doctype html><html lang="en"><meta charset="utf-8"><title>{name}</title>
<meta name="viewport" content="width=device-width"><style>"""
    + STYLE.replace("{", "{{").replace("}", "}}")
    + "</style>"
)
ASKS = (
    FRAME
    + """<form method="post"><h1>{name}</h1><p><b>{who}</b></p><p>The program at <b>{host}</b> wants to post
films for this account, and to replace and remove those it posted.</p>
<input type="hidden" name="back" value="{back}"><input type="hidden" name="state" value="{state}">
<input type="hidden" name="challenge" value="{challenge}"><button>Allow</button> <a href="{no}">No</a></form></html>"""
)


class Asked(BaseModel):
    """What is sent to be posted."""

    key: str = Field(min_length=8, max_length=120)
    film: str = Field(max_length=100)
    title: str = Field(max_length=1000)
    text: str = Field(default="", max_length=20_000)
    tags: list[str] = Field(default=[], max_length=100)
    still: float = Field(default=0, ge=0, le=36_000)
    instead: str = Field(default="", max_length=100)


class Begun(BaseModel):
    """A film that is to be sent."""

    key: str = Field(min_length=8, max_length=120)
    size: int = Field(gt=0)


class Played:
    """The network as a small web service."""

    def __init__(self, folder: Path, key: str) -> None:
        self.kept = Kept(folder, CHANNELS[key])
        self.name, self._key, self._trouble = CHANNELS[key].name, key, folder / "trouble"
        self._codes: dict[str, tuple[float, str]] = {}

    # ---- letting the program in

    def page(self, request: Request) -> Response:
        back, state, shown = (request.query_params.get(name, "") for name in ("back", "state", "challenge"))
        if urlsplit(back).scheme not in ("http", "https") or not shown:
            raise HTTPException(400)
        no = f"{back}?{urlencode({'state': state, 'error': 'denied'})}"
        said = {"who": ACCOUNT, "host": urlsplit(back).netloc, "back": back, "state": state, "no": no,
                "challenge": shown, "name": self.name}  # fmt: skip
        return HTMLResponse(ASKS.format(**{key: escape(value) for key, value in said.items()}))

    async def allow(self, request: Request) -> Response:
        form = parse_qs((await request.body())[:8192].decode("utf-8", "replace"))
        back, state, shown = (form.get(name, [""])[0] for name in ("back", "state", "challenge"))
        if urlsplit(back).scheme not in ("http", "https"):
            raise HTTPException(400)
        code = secrets.token_urlsafe(16)
        self._codes[code] = (time.monotonic() + CODES_FOR, shown)
        return RedirectResponse(f"{back}?{urlencode({'state': state, 'code': code})}", status_code=303)

    async def token(self, request: Request) -> Response:
        asked = await request.json()
        if refresh := str(asked.get("refresh", "")):
            grant, _, signed = refresh.rpartition(".")
            if not self._fits(f"refresh:{grant}", signed) or self._ended(grant):
                raise HTTPException(404)
        else:
            until, shown = self._codes.pop(str(asked.get("code", "")), (0.0, ""))
            if until < time.monotonic() or shown != challenge(str(asked.get("verifier", ""))):
                raise HTTPException(404)
            grant = secrets.token_urlsafe(12)
        until_then = f"{grant}~{int(time.time() + TOKENS_FOR)}"
        token = f"{until_then}.{self._signed(until_then)}"
        next_one = f"{grant}.{self._signed(f'refresh:{grant}')}"
        return JSONResponse({"token": token, "refresh": next_one, "lasts": TOKENS_FOR, "account": ACCOUNT})

    def leave(self, request: Request) -> Response:
        grant = self._let_in(request)
        (self.kept.folder / f"ended-{sha256(grant.encode()).hexdigest()}").touch()
        return JSONResponse({})

    def _ended(self, grant: str) -> bool:
        return (self.kept.folder / f"ended-{sha256(grant.encode()).hexdigest()}").exists()

    def _signed(self, text: str) -> str:
        return hmac.new(f"made-up {self._key}".encode(), text.encode(), sha256).hexdigest()[:32]

    def _fits(self, text: str, signed: str) -> bool:
        return hmac.compare_digest(signed, self._signed(text))

    def _let_in(self, request: Request) -> str:
        given, _, signed = request.headers.get("Authorization", "").removeprefix("Bearer ").rpartition(".")
        grant, _, until = given.partition("~")
        if not self._fits(given, signed) or float(until or 0) < time.time() or self._ended(grant):
            raise HTTPException(401)
        return grant

    # ---- films and posts

    async def begin(self, request: Request) -> Response:
        self._let_in(request)
        asked = Begun.model_validate(await request.json())
        row = await run_in_threadpool(self.kept.begin, ACCOUNT, asked.key, asked.size)
        return JSONResponse({"id": row["id"], "received": self.kept.received(row)})

    async def send(self, request: Request) -> Response:
        self._let_in(request)
        row = self.kept.read("films", request.path_params["key"])
        if row is None:
            raise HTTPException(404)
        await run_in_threadpool(self.kept.add, row, int(request.query_params.get("at", "0")), await request.body())
        return JSONResponse({"id": row["id"], "received": self.kept.received(row)})

    async def post(self, request: Request) -> Response:
        self._let_in(request)
        asked = Asked.model_validate(await request.json()).model_dump()
        row = await run_in_threadpool(self.kept.post, ACCOUNT, asked)
        return JSONResponse(self._standing(row, request))

    def one(self, request: Request) -> Response:
        self._let_in(request)
        return JSONResponse(self._standing(self._row(request), request))

    def remove(self, request: Request) -> Response:
        self._let_in(request)
        row = self.kept.read("posts", request.path_params["key"])
        if row is not None:
            (self.kept.folder / "posts" / f"{row['id']}.json").unlink(missing_ok=True)
        return JSONResponse({})

    def _row(self, request: Request) -> dict[str, Any]:
        row = self.kept.read("posts", request.path_params["key"])
        if row is None:
            raise HTTPException(404)
        return row

    def _standing(self, row: dict[str, Any], request: Request) -> dict[str, Any]:
        state = "processing" if time.time() < row["live_at"] else "failed" if row["reason"] else "live"
        told = {"id": row["id"], "state": state, "reason": row["reason"] if state == "failed" else ""}
        return {**told, "address": str(request.url_for("shown", key=row["id"])) if state == "live" else ""}

    # ---- what everybody sees

    def listing(self, request: Request) -> Response:
        rows = "".join(
            f"<li><a href='/p/{row['id']}'>{escape(row['title'])}</a></li>" for row in self.kept.all("posts")
        )
        return HTMLResponse(FRAME.format(name=self.name) + f"<main><h1>{self.name}</h1><ul>{rows}</ul></main></html>")

    def shown(self, request: Request) -> Response:
        row = self._row(request)
        words = f"<h1>{escape(row['title'])}</h1><p>{escape(row['text'])}</p><p>{escape(' '.join(row['tags']))}</p>"
        film = f"<video controls src='/film/{row['film']}.mp4#t={row['still']:.2f}'></video>"
        page = f"<main>{film}{words}<p><b>{escape(row['account'])}</b> · <a href='/'>{self.name}</a></p></main></html>"
        return HTMLResponse(FRAME.format(name=self.name) + page)

    def film(self, request: Request) -> Response:
        key = request.path_params["key"]
        if self.kept.read("films", key) is None:
            raise HTTPException(404)
        return FileResponse(self.kept.film(key), media_type="video/mp4")

    async def wrong(self, request: Request, go_on: Callable[[Request], Awaitable[Response]]) -> Response:
        """Goes wrong as the file `trouble` says; refuses in sentences."""
        lines = self._trouble.read_text().splitlines() if self._trouble.is_file() else []
        for number, line in enumerate(lines):
            path, _, status = line.partition(" ")
            if request.method != "GET" and request.url.path.startswith(path) and status.isdigit():
                self._trouble.write_text("\n".join(lines[:number] + lines[number + 1 :]))
                return Response(status_code=int(status), headers={"Retry-After": "1"})
        return await go_on(request)


def _unlike(request: Request, error: Exception) -> Response:
    return JSONResponse({"sentence": str(error)}, 422)


def _nonsense(request: Request, error: Exception) -> Response:
    return JSONResponse({"sentence": "that cannot be read."}, 422)


def application(folder: Path, key: str) -> Starlette:
    played = Played(folder, key)
    made = Starlette(
        routes=[
            Route("/allow", played.page),
            Route("/allow", played.allow, methods=["POST"]),
            Route("/token", played.token, methods=["POST"]),
            Route("/leave", played.leave, methods=["POST"]),
            Route("/films", played.begin, methods=["POST"]),
            Route("/films/{key}", played.send, methods=["PUT"]),
            Route("/posts", played.post, methods=["POST"]),
            Route("/posts/{key}", played.one),
            Route("/posts/{key}/remove", played.remove, methods=["POST"]),
            Route("/", played.listing),
            Route("/p/{key}", played.shown, name="shown"),
            Route("/film/{key}.mp4", played.film),
        ],
        exception_handlers={Unlike: _unlike, ValidationError: _nonsense, orjson.JSONDecodeError: _nonsense},
    )
    made.add_middleware(BaseHTTPMiddleware, dispatch=played.wrong)
    return made


if __name__ == "__main__":
    served = application(Path(sys.argv[2]), sys.argv[3])
    uvicorn.run(served, fd=int(sys.argv[1]), log_level="warning", access_log=False)
