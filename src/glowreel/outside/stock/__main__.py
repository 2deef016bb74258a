"""Plays a stock catalogue on this machine: `python -m glowreel.outside.stock SOCKET FOLDER [MODELS]`."""

from __future__ import annotations

import hashlib
import hmac
import sys
from pathlib import Path
from threading import Event, Thread

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
from glowreel.outside.stock.making import TYPES, FileMaker
from glowreel.outside.stock.port import SMALL
from glowreel.outside.stock.searching import search, warm

SECRET = b"made-up licences"
WAITS = 5.0


class Played:
    """The catalogue as a small web service."""

    def __init__(self, folder: Path, models: Path) -> None:
        self._files = FileMaker(folder)
        self._models = ModelFolder(models)
        self._learning, self._learned = False, Event()

    def entries(self, request: Request) -> Response:
        try:
            query = Query.model_validate(dict(request.query_params))
        except ValidationError as error:
            raise HTTPException(400) from error
        return JSONResponse(search(query, self._meaning(bool(query.words))).model_dump())

    def _meaning(self, wanted: bool) -> Path | None:
        """The model of what words mean, once it has learned what all entries do, which takes a few seconds and begins
        when the catalogue is first opened: whoever opens it will look for something next. A search waits a little for
        it, and goes by the words alone where that is not enough."""
        if not self._models.ready("meaning"):
            return None
        model = self._models.path("meaning")
        if not self._learning:
            self._learning = True
            Thread(target=self._learn, args=(model,), daemon=True).start()
        return model if self._learned.wait(WAITS if wanted else 0) else None

    def _learn(self, model: Path) -> None:
        warm(model)
        self._learned.set()

    def entry(self, request: Request) -> Response:
        return JSONResponse(_recipe(request).entry.model_dump())

    def small(self, request: Request) -> Response:
        name = request.path_params["name"]
        data = self._files.small(_recipe(request), name) if name in SMALL else None
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
        share = self._files.share(recipe)
        return JSONResponse({"ready": share >= 1, "share": share}, status_code=200 if share >= 1 else 202)

    def file(self, request: Request) -> Response:
        path = self._files.file(_licensed(request))
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
