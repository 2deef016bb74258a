"""Parts killed at random moments, hundreds of times, while somebody edits, brings in files and exports."""

from __future__ import annotations

import contextlib
import os
import random
import signal
import time
import urllib.error

import psycopg

from attacks.field import Bystander, Field, Person, until
from attacks.trials import Report, count_of, open_work, some_work

TIMES = 1000
KILLED = ("web", "live", "front", "worker", "imports", "derived", "errands", "beat", "postgres", "redis")
"""Parts that are killed. What reads strangers' files is not: what ends it twice is set aside, as it should be."""
PAUSE = (1.0, 5.0)
"""Seconds between two kills."""
AWAY = (OSError, urllib.error.URLError, psycopg.Error)
TWICE = (
    "SELECT count(*) FROM (SELECT 1 FROM revisions WHERE press <> '' GROUP BY promo_id, press HAVING count(*) > 1) x"
)
FAILED = "SELECT count(*) FROM export_files WHERE state = 'failed'"
UNREAD = "SELECT count(*) FROM media WHERE state = 'failed' AND removed_at IS NULL"


def kills(field: Field, report: Report) -> None:
    """Kills parts, servers too, as often as `GLOWREEL_KILLS` says, or a thousand times."""
    times = int(os.environ.get("GLOWREEL_KILLS", TIMES))
    person = Person(field.address)
    watching = Bystander(person, 0.05)
    watching.start()
    chance, killed, works = random.Random(7), dict.fromkeys(KILLED, 0), 0
    began = time.monotonic()
    for _ in range(times):
        with contextlib.suppress(*AWAY):
            if open_work(field) == 0:
                some_work(person, 480)
                works += 1
        time.sleep(chance.uniform(*PAUSE))
        name = chance.choice(KILLED)
        if _killed(field, name):
            killed[name] += 1
    time.sleep(2)
    watching.end()
    done = until(lambda: _still_open(field) == 0, 900)
    told = ", ".join(f"{name} {count}" for name, count in killed.items())
    report.row(f"kills in {time.monotonic() - began:.0f} s", f"{sum(killed.values())}: {told}")
    report.row("acknowledged edits, of them lost", f"{len(watching.kept)}, {(lost := field.lost(watching.kept))}",
               well=not lost)  # fmt: skip
    twice = count_of(field, TWICE)
    report.row("edits kept twice", str(twice), well=not twice)
    failed, unread = count_of(field, FAILED), count_of(field, UNREAD)
    report.row(f"of {works} rounds of files and films: films failed, files not read", f"{failed}, {unread}",
               well=not failed and not unread)  # fmt: skip
    report.row("work stuck; all of it done after", f"{_still_open(field)}, {done:.0f} s", well=_still_open(field) == 0)


def _killed(field: Field, name: str) -> bool:
    """Kills a part with its children; says whether it was there."""
    server = {"postgres": field.stack.postgres, "redis": field.stack.redis}.get(name)
    process = server._process if server is not None else field.stack.processes[name]
    if process is None or process.poll() is not None:
        return False
    with contextlib.suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)
    return True


def _still_open(field: Field) -> int:
    with contextlib.suppress(*AWAY):
        return open_work(field)
    return -1
