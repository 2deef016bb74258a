"""Plays a cloud drive on this machine: `python -m glowreel.outside.drive SOCKET FOLDER`."""

from __future__ import annotations

import hmac
import secrets
import sys
import time
from hashlib import sha256
from html import escape
from pathlib import Path
from urllib.parse import parse_qs, urlencode, urlsplit

import uvicorn
from pydantic import BaseModel, Field
from starlette.applications import Starlette
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import FileResponse, HTMLResponse, JSONResponse, RedirectResponse, Response
from starlette.routing import Route

from glowreel.outside.art import files
from glowreel.outside.drive.kept import ACCOUNT, Kept, folders_of, kept

CODES_FOR = 120.0
PAGE = """<!doctype html><html lang="en"><meta charset="utf-8"><title>Millpond</title>
<meta name="viewport" content="width=device-width">
<style>body{{font:16px system-ui;background:#e9f0ee;color:#1d3433;display:grid;place-items:center;min-height:100vh;
margin:0}}form{{background:#fff;padding:32px;border-radius:18px;max-width:380px}}
button{{font:inherit;padding:10px 18px;border:0;border-radius:10px;background:#22716b;color:#fff}}
a{{margin-left:14px;color:#22716b}}</style>
<form method="post"><h1>Millpond</h1><p><b>{who}</b></p><p>The program at <b>{host}</b> wants to see your folders
take files from them, and put films there. It cannot change or remove anything.</p>
<input type="hidden" name="back" value="{back}"><input type="hidden" name="state" value="{state}">
<button>Allow</button><a href="{no}">No</a></form></html>"""


class Sent(BaseModel):
    """A file that the program puts there."""

    key: str = Field(pattern=r"^[\w-]{8,60}$")
    folder: str = Field(default="", max_length=300)
    name: str = Field(min_length=1, max_length=200)
    about: str = Field(default="", max_length=4000)
    size: int = Field(gt=0, lt=10**11)

    @property
    def id(self) -> str:
        return f"sent-{self.key}"


class Played:
    """The drive as a small web service. Tokens outlive it; codes and what was ended do not."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._folder.mkdir(parents=True, exist_ok=True)
        self._codes: dict[str, float] = {}
        self._ended: set[str] = set()

    def page(self, request: Request) -> Response:
        back, state = request.query_params.get("back", ""), request.query_params.get("state", "")
        if urlsplit(back).scheme not in ("http", "https"):
            raise HTTPException(400)
        no = f"{back}?{urlencode({'state': state, 'error': 'denied'})}"
        host = urlsplit(back).netloc
        said = {"who": ACCOUNT, "host": host, "back": back, "state": state, "no": no}
        return HTMLResponse(PAGE.format(**{key: escape(value) for key, value in said.items()}))

    async def allow(self, request: Request) -> Response:
        form = parse_qs((await request.body())[:8192].decode("utf-8", "replace"))
        back, state = (form.get(name, [""])[0] for name in ("back", "state"))
        if urlsplit(back).scheme not in ("http", "https"):
            raise HTTPException(400)
        code = secrets.token_urlsafe(16)
        self._codes[code] = time.monotonic() + CODES_FOR
        return RedirectResponse(f"{back}?{urlencode({'state': state, 'code': code})}", status_code=303)

    async def token(self, request: Request) -> Response:
        code = str((await request.json()).get("code", ""))
        if self._codes.pop(code, 0.0) < time.monotonic():
            raise HTTPException(404)
        key = secrets.token_urlsafe(12)
        return JSONResponse({"token": f"{key}.{_signed(key)}", "account": ACCOUNT})

    def leave(self, request: Request) -> Response:
        self._ended.add(self._let_in(request))
        return JSONResponse({})

    def listing(self, request: Request) -> Response:
        self._let_in(request)
        folder, words = request.query_params.get("folder", ""), request.query_params.get("find", "").lower()
        there = {one.folder for one in kept().values()} | {one.folder for one in self._sent().values()}
        if folder and not any(f"{one}/".startswith(f"{folder}/") for one in there):
            raise HTTPException(404)
        if words:
            below = [one for one in kept().values() if not folder or f"{one.folder}/".startswith(f"{folder}/")]
            found = [one for one in below if all(word in f"{one.folder} {one.name}".lower() for word in words.split())]
            return JSONResponse({"folder": folder, "files": [self._told(one) for one in found]})
        here = [self._told(one) for one in kept().values() if one.folder == folder]
        come = [one for one in self._sent().values() if self._size(one) == one.size]
        here += [
            {"id": one.id, "name": one.name, "folder": one.folder, "kind": "video/mp4", "size": one.size}
            for one in come if one.folder == folder
        ]  # fmt: skip
        return JSONResponse({"folder": folder, "folders": folders_of(folder, there), "files": here})

    def one(self, request: Request) -> Response:
        self._let_in(request)
        return JSONResponse(self._told(_kept(request)))

    def small(self, request: Request) -> Response:
        self._let_in(request)
        shown = _kept(request).shown
        if shown is None:
            raise HTTPException(404)
        return Response(files.picture(shown, 320, 180, ".jpg"), media_type="image/jpeg")

    def content(self, request: Request) -> Response:
        self._let_in(request)
        one = _kept(request)
        path = self._path(one)
        if not path.is_file():
            part = path.with_name(f"{secrets.token_hex(4)}-{path.name}")
            one.write(part)
            part.replace(path)
        return FileResponse(path, media_type=one.kind)

    async def begin(self, request: Request) -> Response:
        self._let_in(request)
        asked = Sent.model_validate(await request.json())
        self._write(asked)
        return JSONResponse(self._come(asked))

    async def receive(self, request: Request) -> Response:
        self._let_in(request)
        one = self._sent().get(request.path_params["key"])
        if one is None:
            raise HTTPException(404)
        there, at, part = self._size(one), int(request.query_params.get("at", "0")), await request.body()
        if at > there or at + len(part) > one.size:
            return JSONResponse({"sentence": "these bytes do not go on where the file ends."}, 422)
        with (self._folder / one.id).open("ab") as out:
            out.write(part[there - at :])
        return JSONResponse(self._come(one))

    def _write(self, one: Sent) -> None:
        path = self._folder / f"{one.id}.json"
        if not path.is_file():
            path.write_text(one.model_dump_json())

    def _sent(self) -> dict[str, Sent]:
        """What the program has put there."""
        return {path.stem: Sent.model_validate_json(path.read_bytes()) for path in self._folder.glob("sent-*.json")}

    def _size(self, one: Sent) -> int:
        path = self._folder / one.id
        return path.stat().st_size if path.is_file() else 0

    def _come(self, one: Sent) -> dict[str, object]:
        return {"id": one.id, "received": self._size(one)}

    def _path(self, one: Kept) -> Path:
        return self._folder / one.id

    def _told(self, one: Kept) -> dict[str, object]:
        path = self._path(one)
        size = path.stat().st_size if path.is_file() else 0
        return {"id": one.id, "name": one.name, "folder": one.folder, "kind": one.kind, "size": size}

    def _let_in(self, request: Request) -> str:
        given = request.headers.get("Authorization", "").removeprefix("Bearer ")
        key, _, signed = given.rpartition(".")
        if not key or not hmac.compare_digest(signed, _signed(key)) or key in self._ended:
            raise HTTPException(401)
        return key


def _kept(request: Request) -> Kept:
    found = kept().get(request.path_params["key"])
    if found is None:
        raise HTTPException(404)
    return found


def _signed(key: str) -> str:
    return hmac.new(b"made-up drive", key.encode(), sha256).hexdigest()[:24]


def application(folder: Path) -> Starlette:
    played = Played(folder)
    return Starlette(
        routes=[
            Route("/allow", played.page),
            Route("/allow", played.allow, methods=["POST"]),
            Route("/token", played.token, methods=["POST"]),
            Route("/leave", played.leave, methods=["POST"]),
            Route("/files", played.listing),
            Route("/files", played.begin, methods=["POST"]),
            Route("/files/{key}", played.one),
            Route("/files/{key}/small.jpg", played.small),
            Route("/files/{key}/content", played.content),
            Route("/files/{key}/content", played.receive, methods=["PUT"]),
        ]
    )


if __name__ == "__main__":
    uvicorn.run(application(Path(sys.argv[2])), fd=int(sys.argv[1]), log_level="warning", access_log=False)
