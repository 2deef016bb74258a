"""What is going on in an installation, for its owners and for a monitor."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import redis
from prometheus_client.core import GaugeMetricFamily, HistogramMetricFamily, Metric
from prometheus_client.registry import Collector
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from glowreel.services import machines
from glowreel.services.access import Actor
from glowreel.services.exports import OPEN
from glowreel.services.figures import WITHIN, spent
from glowreel.services.setup import Runtime
from glowreel.store.models import Derived, Export, ExportFile, ExportPiece, Letter, MediaFile, Post

SHOWN = 30
NOT_OURS = "of another team"
STATES: dict[str, Any] = {
    "film": ExportFile,
    "piece": ExportPiece,
    "file": MediaFile,
    "made": Derived,
    "post": Post,
    "letter": Letter,
}
"""The rows that have a state, by the name that a monitor sees."""


@dataclass(frozen=True)
class Running:
    """A film that is being made: of which promo, how many of its pieces are done, in hand and waiting."""

    title: str
    format: str
    state: str
    done: int
    in_hand: int
    waiting: int
    began: datetime
    request: str


@dataclass(frozen=True)
class Aside:
    """Something that was given up, why and when."""

    title: str
    reason: str
    at: datetime | None


def running(session: Session, actor: Actor) -> list[Running]:
    """The films that are being made for all teams, in their order; what is not the actor's is not named."""
    query = (
        select(ExportFile).join(ExportFile.export).where(ExportFile.state.in_(OPEN))
        .order_by(Export.created_at, ExportFile.number).limit(SHOWN)
    )  # fmt: skip
    found = []
    for file in session.scalars(query):
        ours = file.export.team_id == actor.team_id
        states = [piece.state for piece in file.pieces]
        found.append(
            Running(
                file.export.title if ours else NOT_OURS, file.format_name, file.state, states.count("done"),
                states.count("running"), states.count("queued"), file.export.created_at,
                file.export.request if ours else "",
            )
        )  # fmt: skip
    return found


def set_aside(session: Session, actor: Actor) -> list[Aside]:
    """The films of the actor's team that could not be made, with the reason, newest first."""
    query = (
        select(ExportFile).join(ExportFile.export)
        .where(Export.team_id == actor.team_id, ExportFile.state == "failed", Export.removed_at.is_(None))
        .order_by(ExportFile.finished_at.desc()).limit(SHOWN)
    )  # fmt: skip
    return [
        Aside(f"{file.export.title} · {file.format_name}", file.error, file.finished_at)
        for file in session.scalars(query)
    ]


class Collected(Collector):
    """The figures of an installation: what is in which state, what waits, who works, how long things took."""

    def __init__(self, runtime: Runtime) -> None:
        self._runtime = runtime

    def collect(self) -> Iterator[Metric]:
        yield self._states()
        try:
            at_work = machines.workers(self._runtime)
            waiting = machines.queues(self._runtime, at_work)
        except redis.RedisError:
            at_work, waiting = [], []
        workers = GaugeMetricFamily(
            "glowreel_workers", "Workers that live, by queue and host", labels=("queue", "host")
        )
        for key in sorted({(worker.queue, worker.host) for worker in at_work}):
            workers.add_metric(key, sum((one.queue, one.host) == key for one in at_work))
        yield workers
        queues = GaugeMetricFamily("glowreel_queue", "Tasks that wait, by queue", labels=("queue",))
        for queue in waiting:
            queues.add_metric((queue.name,), queue.waiting)
        yield queues
        yield from self._spent()

    def _states(self) -> Metric:
        states = GaugeMetricFamily("glowreel_rows", "Rows by what they are and their state", labels=("what", "state"))
        with self._runtime.database.unit() as unit:
            for name, kind in STATES.items():
                query = select(kind.state, func.count()).group_by(kind.state)
                for state, count in unit.session.execute(query):
                    states.add_metric((name, state), count)
        return states

    def _spent(self) -> Iterator[Metric]:
        labels = ("name", "ended")
        told = {
            "task": HistogramMetricFamily("glowreel_task_seconds", "How long tasks took", labels=labels),
            "request": HistogramMetricFamily("glowreel_request_seconds", "How long answers took", labels=labels),
        }
        for one in spent(self._runtime):
            if one.what not in told:
                continue
            buckets, so_far = [], 0
            for limit, count in zip((*map(str, WITHIN), "+Inf"), one.counts, strict=True):
                so_far += count
                buckets.append((limit, float(so_far)))
            told[one.what].add_metric((one.name, one.ended), buckets=buckets, sum_value=one.seconds)
        yield from told.values()
