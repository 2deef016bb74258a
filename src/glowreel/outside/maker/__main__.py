"""Plays a maker of pictures on this machine: `python -m glowreel.outside.maker SOCKET MODELS`."""

from __future__ import annotations

import sys
from pathlib import Path

import uvicorn
from pydantic import ValidationError
from starlette.applications import Starlette
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from glowreel.outside.art import files
from glowreel.outside.maker.port import SHAPES, Wish
from glowreel.outside.maker.reading import read, seeds, told
from glowreel.outside.models import ModelFolder


class Played:
    """The maker as a small web service: it keeps nothing, the same wish is always the same picture."""

    def __init__(self, models: Path) -> None:
        self._models = ModelFolder(models)

    def _model(self) -> Path | None:
        return self._models.path("meaning") if self._models.ready("meaning") else None

    def proposals(self, request: Request) -> Response:
        wish = _wish(request)
        return JSONResponse({"understood": told(read(wish, self._model())), "seeds": list(seeds(wish))})

    def small(self, request: Request) -> Response:
        wish = _wish(request)
        _, width, height = SHAPES[wish.shape]
        data = files.picture(read(wish, self._model()), *files.small_size(width, height), ".jpg")
        return Response(data, media_type="image/jpeg")

    def picture(self, request: Request) -> Response:
        wish = _wish(request)
        _, width, height = SHAPES[wish.shape]
        return Response(files.picture(read(wish, self._model()), width, height, ".png"), media_type="image/png")


def _wish(request: Request) -> Wish:
    asked = dict(request.query_params)
    colours = tuple(part for part in asked.pop("colours", "").split(",") if part)
    try:
        wish = Wish.model_validate({**asked, "colours": colours})
    except ValidationError as error:
        raise HTTPException(400) from error
    if wish.shape not in SHAPES or not wish.words.strip():
        raise HTTPException(400)
    return wish


def application(models: Path) -> Starlette:
    played = Played(models)
    return Starlette(
        routes=[
            Route("/proposals", played.proposals),
            Route("/small.jpg", played.small),
            Route("/picture.png", played.picture),
        ]
    )


if __name__ == "__main__":
    uvicorn.run(application(Path(sys.argv[2])), fd=int(sys.argv[1]), log_level="warning", access_log=False)
