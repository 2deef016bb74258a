"""The Celery application. Tasks take identifiers, may run twice, and record how they go in the database."""

from __future__ import annotations

import os
import resource
from typing import Any

from celery import Celery, signals
from sqlalchemy import or_, select

from glowreel.services import exports, shelf
from glowreel.services.setup import Parts, Settings
from glowreel.store.models import MediaFile, now

SWEEP_SECONDS = 10.0
MEMORY_LIMIT = 6 * 1024**3
"""Address space of one worker process, so that a hostile file cannot take the machine along."""


def make_celery(settings: Settings) -> Celery:
    celery = Celery("glowreel", broker=settings.redis)
    celery.conf.update(
        task_acks_late=True,
        task_reject_on_worker_lost=False,
        task_ignore_result=True,
        worker_prefetch_multiplier=1,
        task_time_limit=3600,
        task_soft_time_limit=3540,
        worker_max_tasks_per_child=200,
        broker_connection_retry_on_startup=True,
        worker_hijack_root_logger=False,
        beat_schedule={"sweep": {"task": "glowreel.sweep", "schedule": SWEEP_SECONDS}},
        task_default_queue="glowreel",
        broker_transport_options={"queue_order_strategy": "priority", "visibility_timeout": 7200},
    )
    return celery


settings = Settings.from_environment()
celery = make_celery(settings)


def send(task: str, args: tuple[Any, ...]) -> None:
    # Pieces wait behind everything short, so that a finished format is not kept waiting by the pieces of the next.
    celery.send_task(task, args=args, ignore_result=True, priority=6 if task == "glowreel.export_piece" else 0)


parts = Parts(settings, send)


@signals.worker_process_init.connect
def _limit_memory(**_: object) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_LIMIT, MEMORY_LIMIT))
    parts.__dict__.pop("database", None)  # Connections must not be shared with the process this one came from.


@celery.task(name="glowreel.ingest", time_limit=1800)
def ingest(media_id: str) -> None:
    shelf.take_in(parts, media_id)


@celery.task(name="glowreel.export_piece")
def export_piece(piece_id: int) -> None:
    exports.make_piece(parts, piece_id, threads=int(os.environ.get("GLOWREEL_THREADS", "0")))


@celery.task(name="glowreel.export_join")
def export_join(file_id: str) -> None:
    exports.join_file(parts, file_id)


@celery.task(name="glowreel.sweep")
def sweep() -> None:
    """Finds work that a lost broker or a dead worker forgot."""
    with parts.database.unit() as unit:
        exports.sweep(unit)
        stuck = select(MediaFile.id).where(
            or_(MediaFile.state == "queued", (MediaFile.state == "running") & (MediaFile.lease_until < now()))
        )
        for media_id in unit.session.scalars(stuck):
            unit.later("glowreel.ingest", media_id)
