"""The machines that work for this installation: which worker does what, and what waits in the queues.

Every worker tells every few seconds that it lives, in the Redis that carries the queues. What does not tell is gone;
what it had in hand is taken over by others when its lease ends.
"""

from __future__ import annotations

import json
import os
import socket
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass, field

import redis
from sqlalchemy.exc import OperationalError

from glowreel.core.errors import Refusal
from glowreel.logs import request_id
from glowreel.services.setup import Runtime

QUEUES: dict[str, str] = {
    "exports": "Films: planned, encoded in pieces, put together",
    "derived": "What is made of files: proxies, mattes, transcripts, voices",
    "imports": "Files that come in are looked at",
    "errands": "What is short: posts, letters, hooks, tidying",
}
"""The queues by the kind of their work; each task is routed to one of them (`jobs.app`)."""
STEPS = ("", "\x06\x163", "\x06\x166", "\x06\x169")
"""How the broker names the lists of a queue, by priority."""
KEY = "glowreel:worker:"
EVERY, LIVES = 3.0, 12


@dataclass(frozen=True)
class Doing:
    """A task in the hands of a worker: since when (seconds since the epoch), of which request."""

    task: str
    since: float
    request: str = ""


@dataclass(frozen=True)
class Worker:
    """A worker process: on which host, of which queue, since when; what it does, how much it did and how much of that
    failed."""

    host: str
    process: int
    queue: str
    since: float
    seen: float = 0.0
    doing: tuple[Doing, ...] = ()
    done: int = 0
    failed: int = 0


@dataclass(frozen=True)
class Queue:
    """A queue: what it is for, how many tasks wait in it, and how many workers take from it."""

    name: str
    use: str
    waiting: int
    workers: int


@dataclass
class Beat:
    """Tells that this worker lives, and what it does."""

    runtime: Runtime
    queue: str
    _doing: dict[int, Doing] = field(default_factory=dict)
    _done: int = 0
    _failed: int = 0
    _since: float = field(default_factory=time.time)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def begin(self, each: Callable[[], None] = lambda: None) -> None:
        """Starts telling, in a thread of its own that ends with the process; `each` is done every time as well."""
        connection = _connection(self.runtime)

        def run() -> None:
            while True:
                try:
                    connection.set(self._key, json.dumps(asdict(self._worker())), ex=LIVES)
                    each()
                except redis.RedisError:
                    pass  # It is told again when the queue is back.
                time.sleep(EVERY)

        threading.Thread(target=run, daemon=True, name="beat").start()

    @property
    def _key(self) -> str:
        return f"{KEY}{socket.gethostname()}:{os.getpid()}"

    def _worker(self) -> Worker:
        with self._lock:
            doing = tuple(self._doing.values())
            return Worker(
                socket.gethostname(), os.getpid(), self.queue, self._since, time.time(), doing, self._done, self._failed
            )

    def doing(self, task: str) -> None:
        with self._lock:
            self._doing[threading.get_ident()] = Doing(task, time.time(), request_id())

    def did(self, ended: str) -> float:
        """Notes that the task in hand has ended; answers with its seconds."""
        with self._lock:
            had = self._doing.pop(threading.get_ident(), None)
            self._done += 1
            self._failed += ended != "done"
        return time.time() - had.since if had is not None else 0.0


def _connection(runtime: Runtime) -> redis.Redis:
    return redis.Redis.from_url(runtime.settings.redis, socket_timeout=2, decode_responses=True)


def reached(runtime: Runtime) -> Iterator[str]:
    """Whether everything that a worker needs is reached from here, a line each. Raises `Refusal` with what is not."""
    try:
        runtime.database.check_same_version()
    except OperationalError as error:
        raise Refusal("no-database", "The database is not reached from here.", "Is its address right?") from error
    yield "The database answers, and is of this version."
    try:
        _connection(runtime).ping()
    except redis.RedisError as error:
        raise Refusal("no-queue", "The queue is not reached from here.", "Is its address right?") from error
    yield "The queue answers."
    try:
        runtime.blobs.write("join-test", lambda out: out.write_bytes(b"here"))  # type: ignore[arg-type]
        runtime.blobs.remove("join-test")
    except Exception as error:
        raise Refusal("no-store", f"The store is not reached from here: {error}.", "May it be written to?") from error
    yield "The store can be written to."


def workers(runtime: Runtime) -> list[Worker]:
    """Every worker that has told lately that it lives, by queue and host. Raises `RedisError`."""
    connection = _connection(runtime)
    keys = sorted(connection.scan_iter(f"{KEY}*", count=500))
    found = []
    for text in connection.mget(keys) if keys else ():
        if text:
            told = json.loads(text)
            found.append(Worker(**{**told, "doing": tuple(Doing(**one) for one in told["doing"])}))
    order = list(QUEUES)
    return sorted(found, key=lambda one: (order.index(one.queue) if one.queue in order else 99, one.host, one.process))


def queues(runtime: Runtime, at_work: list[Worker]) -> list[Queue]:
    """What waits in each queue. Raises `RedisError`."""
    connection = _connection(runtime)
    return [
        Queue(name, use, sum(int(connection.llen(name + step)) for step in STEPS),
              sum(worker.queue == name for worker in at_work))
        for name, use in QUEUES.items()
    ]  # fmt: skip
