"""What is common to all that keeps processes running: where programs are, which workers there are, how they end."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
import time
from collections.abc import Collection
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent
IMPORTS = 2
"""How many files are looked at side by side; no team has all of these places while others may come."""
WORKERS = {
    "worker": ("exports", 2, "prefork"),
    "imports": ("imports", IMPORTS, "prefork"),
    "derived": ("derived", 1, "prefork"),
    "errands": ("errands", 4, "threads"),
}
"""The workers of this machine by their names: the queue that each takes from, how many tasks at once, and how."""


def worker(queue: str, count: int, pool: str) -> list[str]:
    """How a worker is run."""
    return [
        str(BIN / "celery"), "-A", "glowreel.jobs.app", "worker", "-Q", queue, "-n", f"{queue}@%h", "--pool", pool,
        "--concurrency", str(count), "--loglevel", "warning", "--without-gossip", "--without-mingle",
    ]  # fmt: skip


def queue_of(name: str) -> dict[str, str]:
    """What a worker is told of the queue that it takes from."""
    return {"GLOWREEL_QUEUE": WORKERS[name][0]} if name in WORKERS else {}


def end_all(processes: Collection[subprocess.Popen[bytes]], seconds: float = 6.0) -> None:
    """Ends processes and their children: asked first, and after so many seconds without asking."""
    for process in processes:
        end_group(process, signal.SIGTERM)
    end = time.monotonic() + seconds
    for process in processes:
        with contextlib.suppress(subprocess.TimeoutExpired):
            process.wait(max(0.1, end - time.monotonic()))
        end_group(process, signal.SIGKILL)
        process.wait()


def end_group(process: subprocess.Popen[bytes], how: signal.Signals) -> None:
    """Signals a process and its children, which may have outlived it."""
    with contextlib.suppress(ProcessLookupError, PermissionError):
        os.killpg(process.pid, how)
