"""Plays a stock catalogue on this machine: `python -m glowreel.outside.stock SOCKET FOLDER [MODELS]`."""

from __future__ import annotations

import hashlib
import hmac
import sys
from pathlib import Path
from threading import Thread

import uvicorn
from pydantic import ValidationError
from starlette.applications import Starlette
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import FileResponse, JSONResponse, Response
from starlette.routing import Route

from glowreel.outside.models import ModelFolder
from glowreel.outside.stock.catalogue import Recipe, catalogue
from glowreel.outside.stock.entries import Query
from glowreel.outside.stock.making import TYPES, Kitchen
from glowreel.outside.stock.port import SMALL
from glowreel.outside.stock.searching import search, warm

SECRET = b"made-up licences"


class Played:
    """The catalogue as a small web service."""

    def __init__(self, folder: Path, models: Path) -> None:
        self._kitchen = Kitchen(folder)
        self._models = ModelFolder(models)
        self._warmed = False

    def entries(self, request: Request) -> Response:
        try:
            query = Query.model_validate(dict(request.query_params))
        except ValidationError as error:
            raise HTTPException(400) from error
        model = self._models.path("meaning") if self._models.ready("meaning") else None
        if model is not None and not self._warmed:
            # Whoever opens the catalogue will look for something next.
            self._warmed = True
            Thread(target=warm, args=(model,), daemon=True).start()
        return JSONResponse(search(query, model).model_dump())

    def entry(self, request: Request) -> Response:
        return JSONResponse(_recipe(request).entry.model_dump())

    def small(self, request: Request) -> Response:
        name = request.path_params["name"]
        data = self._kitchen.small(_recipe(request), name) if name in SMALL else None
        if data is None:
            raise HTTPException(404)
        return Response(data, media_type=TYPES[f".{name.rsplit('.', 1)[1]}"])

    async def licence(self, request: Request) -> Response:
        recipe = _recipe(request)
        buyer = str((await request.json()).get("buyer", ""))
        if not buyer:
            raise HTTPException(400)
        return JSONResponse({"licence": f"{buyer}.{_signed(recipe, buyer)}"})

    def made(self, request: Request) -> Response:
        recipe = _licensed(request)
        share = self._kitchen.share(recipe)
        return JSONResponse({"ready": share >= 1, "share": share}, status_code=200 if share >= 1 else 202)

    def file(self, request: Request) -> Response:
        path = self._kitchen.file(_licensed(request))
        if not path.is_file():
            raise HTTPException(404)
        return FileResponse(path, media_type=TYPES[path.suffix])


def _recipe(request: Request) -> Recipe:
    recipe = catalogue().get(request.path_params["key"])
    if recipe is None:
        raise HTTPException(404)
    return recipe


def _licensed(request: Request) -> Recipe:
    """The entry that is asked for, if it is free or its licence is shown."""
    recipe = _recipe(request)
    buyer, _, signed = request.query_params.get("licence", "").rpartition(".")
    if recipe.entry.price and not (buyer and hmac.compare_digest(signed, _signed(recipe, buyer))):
        raise HTTPException(402)
    return recipe


def _signed(recipe: Recipe, buyer: str) -> str:
    return hmac.new(SECRET, f"{recipe.entry.id}/{buyer}".encode(), hashlib.sha256).hexdigest()[:24]


def application(folder: Path, models: Path) -> Starlette:
    played = Played(folder, models)
    return Starlette(
        routes=[
            Route("/entries", played.entries),
            Route("/entries/{key}", played.entry),
            Route("/entries/{key}/licence", played.licence, methods=["POST"]),
            Route("/entries/{key}/made", played.made),
            Route("/entries/{key}/file", played.file),
            Route("/entries/{key}/{name}", played.small),
        ]
    )


if __name__ == "__main__":
    served = application(Path(sys.argv[2]), Path(sys.argv[3]))
    uvicorn.run(served, fd=int(sys.argv[1]), log_level="warning", access_log=False)
