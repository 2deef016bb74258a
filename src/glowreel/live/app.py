"""The ASGI application. Only the front server reaches it: it is handed streams that the web application has allowed."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import StreamingResponse
from starlette.routing import Route

from glowreel.live.hub import Hub
from glowreel.services.setup import Settings

hub = Hub(Settings.from_environment().database)


async def stream(request: Request) -> StreamingResponse:
    """Events of one topic, for one person; both are named by the web application."""
    topic = f"{request.path_params['kind']}:{request.path_params['key']}"
    events = hub.events(topic, request.query_params.get("person", ""))
    return StreamingResponse(events, media_type="text/event-stream", headers={"Cache-Control": "no-store"})


@asynccontextmanager
async def _listening(app: Starlette) -> AsyncIterator[None]:
    task = asyncio.create_task(hub.listen())
    yield
    task.cancel()
    with suppress(asyncio.CancelledError):
        await task
    await hub.close()


application = Starlette(routes=[Route("/live/{kind}/{key}", stream)], lifespan=_listening)
