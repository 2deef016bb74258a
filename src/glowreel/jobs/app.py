"""The Celery application. Tasks take identifiers, may run twice, and record how they go in the database."""

from __future__ import annotations

import contextlib
import os
import resource
import threading
from typing import Any

from celery import signals

from glowreel import logs
from glowreel.core.errors import Refusal
from glowreel.jobs.queues import make_celery
from glowreel.outside.models import MODELS
from glowreel.services import (
    batch_work,
    by_link,
    delivering,
    derivation,
    exports,
    following,
    hooks,
    joining,
    letters,
    machines,
    openings,
    pieces,
    posting,
    publishing,
    retention,
    screening_notes,
    shelf,
    speaking,
)
from glowreel.services.figures import Figures
from glowreel.services.setup import Runtime, Settings

HEADER = "glowreel-request"
"""How a task names the request that led to it."""
QUIET = ("sweep", "fetch_models")
"""Tasks that come every few seconds and have nothing to tell where they end well."""
MEMORY_LIMIT = 6 * 1024**3
"""Address space of one worker process, so that a hostile file cannot take the machine along."""

settings = Settings.from_environment()
celery = make_celery(settings.redis)


def send(task: str, args: tuple[Any, ...]) -> None:
    # Pieces wait behind everything short, so that a finished format is not kept waiting by the pieces of the next.
    quickly = {"max_retries": 1, "interval_start": 0, "interval_step": 0.2}
    celery.send_task(
        task, args=args, ignore_result=True, retry_policy=quickly,
        priority=6 if task == "glowreel.export_piece" else 0, headers={HEADER: logs.request_id()},
    )  # fmt: skip


runtime = Runtime(settings, send)


class _Worker:
    """What this process tells of its work, once it is a worker."""

    beat: machines.Beat | None = None
    figures: Figures | None = None
    within = threading.local()


def _begin_telling() -> None:
    logs.begin()
    _Worker.figures = Figures(runtime)
    _Worker.beat = machines.Beat(runtime, os.environ.get("GLOWREEL_QUEUE", ""))
    _Worker.beat.begin(_Worker.figures.flush)


@signals.worker_process_init.connect
def _begin_process(**_: object) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_LIMIT, MEMORY_LIMIT))
    for opened in ("database", "blobs"):  # Connections must not be shared with the process this one came from.
        runtime.__dict__.pop(opened, None)
    _begin_telling()


@signals.worker_ready.connect
def _begin_threads(sender: Any = None, **_: object) -> None:
    """Where tasks run in threads there is no process of their own that begins."""
    if sender is not None and "thread" in type(sender.pool).__module__:
        _begin_telling()


@signals.task_prerun.connect
def _before(task: Any = None, **_: object) -> None:
    if _Worker.beat is None or task is None:
        return
    given = (task.request.get("headers") or {}).get(HEADER) or task.request.get(HEADER) or ""
    _Worker.within.request = logs.within(str(given))
    _Worker.within.request.__enter__()
    _Worker.beat.doing(task.name.removeprefix("glowreel."))


@signals.task_postrun.connect
def _after(task: Any = None, state: str | None = None, **_: object) -> None:
    if _Worker.beat is None or _Worker.figures is None or task is None:
        return
    name, ended = task.name.removeprefix("glowreel."), "done" if state == "SUCCESS" else "failed"
    seconds = _Worker.beat.did(ended)
    _Worker.figures.took("task", name, ended, seconds)
    if name not in QUIET or ended != "done":
        logs.tell("task ended", task=name, ended=ended, seconds=round(seconds, 3))
    _Worker.within.request.__exit__(None, None, None)


@celery.task(name="glowreel.ingest", time_limit=18000)
def ingest(media_id: str) -> None:
    """Looks at the file whose turn it is, which need not be the one named: teams take turns."""
    shelf.take_in_next(runtime)


@celery.task(name="glowreel.open", time_limit=7200)
def open_timeline(opening_id: str) -> None:
    openings.carry_out(runtime, opening_id)


@celery.task(name="glowreel.fetch", time_limit=1800)
def fetch(upload_id: str) -> None:
    by_link.carry_out(runtime, upload_id)


@celery.task(name="glowreel.derive", time_limit=18000)
def derive(derived_id: int) -> None:
    derivation.make(runtime, derived_id)


@celery.task(name="glowreel.speak", time_limit=1800)
def speak(key: int) -> None:
    speaking.make(runtime, key)


@celery.task(name="glowreel.fetch_model", time_limit=3600)
def fetch_model(name: str) -> None:
    """Fetches a model that did not come with the program, and goes on with what waited for it."""
    with contextlib.suppress(Refusal):  # Why it could not be had is told with how far it is.
        if runtime.models.fetch(name):
            with runtime.database.unit() as unit:
                derivation.after_fetching(unit, name, settings.speech_model)


@celery.task(name="glowreel.fetch_models")
def fetch_models() -> None:
    """Has everything fetched that is used and not there yet, once the program runs."""
    for name in MODELS if settings.fetch_models else ():
        standing = runtime.models.standing(name)
        if not standing.ready and standing.share is None and not standing.error:
            send("glowreel.fetch_model", (name,))


@celery.task(name="glowreel.export_plan")
def export_plan(file_id: str) -> None:
    exports.plan_file(runtime, file_id)


@celery.task(name="glowreel.export_piece")
def export_piece(piece_id: int) -> None:
    """Makes the piece whose turn it is, which need not be the one named: teams take turns."""
    pieces.make(runtime, threads=int(os.environ.get("GLOWREEL_THREADS", "0")))


@celery.task(name="glowreel.export_join")
def export_join(file_id: str) -> None:
    joining.join_file(runtime, file_id)
    posting.film_made(runtime, file_id)


@celery.task(name="glowreel.publish", time_limit=3600)
def publish(post_id: str) -> None:
    posting.carry(runtime, post_id)


@celery.task(name="glowreel.letter", time_limit=120)
def letter(letter_id: str) -> None:
    letters.carry(runtime, letter_id)


@celery.task(name="glowreel.batch", time_limit=7200)
def batch(batch_id: str) -> None:
    batch_work.carry(runtime, batch_id)


@celery.task(name="glowreel.hook", time_limit=120)
def hook(call_id: str) -> None:
    hooks.carry(runtime, call_id)


@celery.task(name="glowreel.deliver", time_limit=3600)
def deliver(delivery_id: str) -> None:
    delivering.carry(runtime, delivery_id)


@celery.task(name="glowreel.listen", time_limit=60)
def listen(name: str, model: str, language: str) -> None:
    following.listen(runtime, name, model, language)


@celery.task(name="glowreel.tidy")
def tidy() -> None:
    """Removes what has come to its end."""
    retention.tidy(runtime)


@celery.task(name="glowreel.sweep")
def sweep() -> None:
    """Finds work that a lost broker or a dead worker forgot."""
    with runtime.database.unit() as unit:
        exports.sweep(unit)
        shelf.sweep(unit)
        openings.sweep(unit)
        derivation.sweep(unit)
        speaking.sweep(unit)
        by_link.sweep(unit)
        letters.sweep(unit)
        publishing.sweep(unit)
        delivering.sweep(unit)
        batch_work.sweep(unit)
        hooks.sweep(unit)
        screening_notes.tell(unit)
