"""The whole program as processes: servers, web and workers, started together and stopped together."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

from tools.servers import Postgres, Redis, free_port, secret, wait_for

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent


class Stack:
    """Everything that `./start` runs, with its data under one folder."""

    def __init__(self, folder: Path, port: int | None = None, *, demo: bool = True) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        folder.chmod(0o755)
        self.folder = folder
        self.port = port or free_port()
        self.demo = demo
        self.postgres = Postgres(folder)
        self.redis = Redis(folder)
        self.processes: dict[str, subprocess.Popen[bytes]] = {}
        self.environment: dict[str, str] = {}

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start_servers(self) -> None:
        self.postgres.start()
        self.redis.start()
        wait_for(self.redis.port)
        self.environment = {
            "GLOWREEL_DATABASE": self.postgres.ready(),
            "GLOWREEL_REDIS": self.redis.url,
            "GLOWREEL_BLOBS": str(self.folder / "blobs"),
            "GLOWREEL_CACHE": str(self.folder / "cache"),
            "GLOWREEL_SECRET": secret(self.folder / "session.secret"),
            "GLOWREEL_DEMO": "1" if self.demo else "",
            "OPENCV_LOG_LEVEL": "ERROR",
        }

    def run(self, *arguments: str) -> None:
        """Runs a `glowreel` command to its end."""
        subprocess.run([str(BIN / "glowreel"), *arguments], env={**os.environ, **self.environment}, check=True)

    def spawn(self, name: str) -> None:
        commands = {
            "web": [
                str(BIN / "gunicorn"), "glowreel.web.wsgi:application", "--bind", f"127.0.0.1:{self.port}",
                "--workers", "2", "--worker-class", "gthread", "--threads", "24", "--timeout", "120",
                "--graceful-timeout", "2", "--log-level", "warning", "--worker-tmp-dir", str(self.folder),
            ],
            "worker": [
                str(BIN / "celery"), "-A", "glowreel.jobs.app", "worker", "-B", "--concurrency", "2",
                "--loglevel", "warning", "-s", str(self.folder / "beat"), "--without-gossip", "--without-mingle",
            ],
        }  # fmt: skip
        with (self.folder / f"{name}.log").open("ab") as log:
            self.processes[name] = subprocess.Popen(
                commands[name],
                env={**os.environ, **self.environment},
                cwd=ROOT,
                stdout=log,
                stderr=log,
                start_new_session=True,
            )

    def start(self) -> None:
        """Starts everything and returns when the web server answers."""
        self.start_servers()
        self.run("prepare")
        self.spawn("web")
        self.spawn("worker")
        wait_for(self.port)

    def mend(self) -> list[str]:
        """Starts again what has died; answers with the names."""
        dead = [name for name, process in self.processes.items() if process.poll() is not None]
        for name in dead:
            _end_group(self.processes[name], signal.SIGKILL)
            self.spawn(name)
        return dead

    def stop(self) -> None:
        for process in self.processes.values():
            _end_group(process, signal.SIGTERM)
        end = time.monotonic() + 6
        for process in self.processes.values():
            with contextlib.suppress(subprocess.TimeoutExpired):
                process.wait(max(0.1, end - time.monotonic()))
            _end_group(process, signal.SIGKILL)
        self.redis.stop()
        self.postgres.stop()


def _end_group(process: subprocess.Popen[bytes], how: signal.Signals) -> None:
    """Signals a process and its children, which may have outlived it."""
    with contextlib.suppress(ProcessLookupError, PermissionError):
        os.killpg(process.pid, how)
