"""The whole program as processes: servers, web and workers, started together and stopped together."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

from glowreel.limited.client import environment
from tools.servers import Front, Postgres, Redis, free_port, secret, socket_of, wait_for
from tools.supervised import BIN, IMPORTS, ROOT, WORKERS, end_all, end_group, queue_of, worker

LOG_BYTES = 20 * 1024**2
NETWORKS = ("marquee", "passerby", "townsquare")
OUTSIDE = ("site", "stock", "maker", "drive", "mail", "outbox", *NETWORKS)
"""The made-up services that play what is outside, each a program of its own."""


class Stack:
    """Everything that `./start` runs, with its data under one folder."""

    def __init__(self, folder: Path, port: int | None = None, *, demo: bool = True, share: str = "") -> None:
        """`share` is an address of this machine under which others may join its servers."""
        folder.mkdir(parents=True, exist_ok=True)
        folder.chmod(0o755)
        self.folder = folder
        self.port = port or free_port()
        self.demo = demo
        self.postgres = Postgres(folder, share=share)
        self.redis = Redis(folder, share=share)
        self.front = Front(folder, self.port)
        self.limited = socket_of(folder, "limited")
        # Bound here and handed on, so that nobody else takes them meanwhile.
        self._outside = {name: socket.create_server(("127.0.0.1", 0)) for name in OUTSIDE}
        for bound in self._outside.values():
            bound.set_inheritable(True)
        self.processes: dict[str, subprocess.Popen[bytes]] = {}
        self.environment: dict[str, str] = {}
        self._starts: dict[str, tuple[int, float]] = {}

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
            "GLOWREEL_BLOBS": os.environ.get("GLOWREEL_BLOBS", str(self.folder / "blobs")),
            "GLOWREEL_CACHE": str(self.folder / "cache"),
            "GLOWREEL_SECRET": secret(self.folder / "session.secret"),
            "GLOWREEL_DEMO": "1" if self.demo else "",
            "GLOWREEL_LETTERS": str(self.folder / "letters"),
            "GLOWREEL_PROXIES": "1",
            "GLOWREEL_LIMITED": str(self.limited),
            "GLOWREEL_IMPORTS": str(IMPORTS),
            "GLOWREEL_MONITOR": secret(self.folder / "monitor.token"),
            **self._addresses(),
            # Shared by all that runs from this folder: what is large is fetched once.
            "GLOWREEL_MODELS": os.environ.get("GLOWREEL_MODELS", str(ROOT / "var" / "models")),
            "OPENCV_LOG_LEVEL": "ERROR",
        }

    def _addresses(self) -> dict[str, str]:
        """Where the made-up services are that play what is outside; none without the demo."""
        if not self.demo:
            return {}
        ports = {name: int(bound.getsockname()[1]) for name, bound in self._outside.items()}
        places = {name: f"http://127.0.0.1:{port}" for name, port in ports.items() if name not in ("site", "mail")}
        networks = ",".join(f"{name}={places.pop(name)}" for name in NETWORKS)
        services = {f"GLOWREEL_{name.upper()}": place for name, place in places.items()}
        services["GLOWREEL_SMTP"] = f"smtp://127.0.0.1:{ports['mail']}"
        services["GLOWREEL_NETWORKS"] = networks
        return {"GLOWREEL_STAND_INS": f"hollowmere.example={ports['site']}", **services}

    def _stand_in(self, name: str) -> list[str]:
        """How the made-up service of a name is run."""
        bound = str(self._outside[name].fileno())
        if name in NETWORKS:
            folder = str(self.folder / "outside" / name)
            return [sys.executable, "-m", "glowreel.outside.network", bound, folder, name]
        told = {
            "stock": ["folder", "models"], "maker": ["models"], "drive": ["folder"], "mail": ["letters"],
            "outbox": ["letters"],
        }.get(name, [])  # fmt: skip
        places = {
            "folder": str(self.folder / "outside" / name), "models": self.environment["GLOWREEL_MODELS"],
            "letters": self.environment["GLOWREEL_LETTERS"],
        }  # fmt: skip
        return [sys.executable, "-m", f"glowreel.outside.{name}", bound, *(places[one] for one in told)]

    def run(self, *arguments: str) -> None:
        """Runs a `glowreel` command to its end."""
        done = subprocess.run([str(BIN / "glowreel"), *arguments], env={**os.environ, **self.environment})
        if done.returncode:
            raise SystemExit(f"`glowreel {' '.join(arguments)}` failed.")

    def spawn(self, name: str) -> None:
        commands = {
            "web": [
                str(BIN / "gunicorn"), "glowreel.web.wsgi:application", "--bind", f"unix:{self.front.web}",
                "--workers", "2", "--worker-class", "gthread", "--threads", "12", "--timeout", "120",
                "--graceful-timeout", "2", "--preload", "--log-level", "warning", "--worker-tmp-dir", str(self.folder),
                "--umask", "0027", "--forwarded-allow-ips", "*", "--keep-alive", "30",
            ],
            "live": [
                str(BIN / "uvicorn"), "glowreel.live.app:application", "--uds", str(self.front.live),
                "--log-level", "warning", "--no-access-log", "--timeout-graceful-shutdown", "1",
            ],
            "front": self.front.command(),
            **{one: self._stand_in(one) for one in OUTSIDE},
            "limited": [sys.executable, "-m", "glowreel.limited", str(self.limited)],
            **{name: worker(queue, count, pool) for name, (queue, count, pool) in WORKERS.items()},
            "beat": [
                str(BIN / "celery"), "-A", "glowreel.jobs.beat", "beat", "--loglevel", "warning",
                "-s", str(self.folder / "beat"), "--pidfile=",
            ],
        }  # fmt: skip
        with (self.folder / f"{name}.log").open("ab") as log:
            self.processes[name] = subprocess.Popen(
                commands[name],
                # What works on strangers' files is told no address, no password and no secret.
                env=environment() if name == "limited" else {**os.environ, **self.environment, **queue_of(name)},
                cwd=ROOT,
                stdout=log,
                stderr=log,
                start_new_session=True,
                pass_fds=(self._outside[name].fileno(),) if name in OUTSIDE else (),
            )
        (self.folder / f"{name}.pid").write_text(str(self.processes[name].pid))

    def end_leftovers(self) -> None:
        """Ends what an earlier run on this folder left behind, its supervisor having been killed."""
        for path in self.folder.glob("*.pid"):
            with contextlib.suppress(OSError, ValueError):
                pid = int(path.read_text())
                started = Path(f"/proc/{pid}/cmdline").read_bytes()
                if any(mark in started for mark in (b"glowreel", str(self.folder).encode())):
                    os.killpg(pid, signal.SIGKILL)
            path.unlink(missing_ok=True)

    def start(self) -> None:
        """Starts everything and returns when pages are answered."""
        self.end_leftovers()
        self.start_servers()
        self.spawn("limited")
        self.run("prepare")
        # What answers comes first, and has the machine for itself until it does. The front is the last of it: each
        # start writes its settings anew, and it must read them whole.
        for name in ("web", "live", "front"):
            self.spawn(name)
        self.wait()
        for name in (*(OUTSIDE if self.demo else ()), *WORKERS, "beat"):
            self.spawn(name)

    def wait(self, seconds: float = 90.0) -> None:
        """Returns when pages are answered, through the front server."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            with contextlib.suppress(OSError), urllib.request.urlopen(f"{self.address}/welcome", timeout=5):
                return
            time.sleep(0.05)
        raise SystemExit(f"No page is answered after {seconds:.0f} s; see the logs under {self.folder}.")

    def trim_logs(self) -> None:
        """Keeps each log and the one before it: what has grown too long becomes the one before, and begins anew."""
        for log in self.folder.glob("*.log"):
            if log.stat().st_size > LOG_BYTES:
                shutil.copyfile(log, log.with_suffix(".log.1"))
                os.truncate(log, 0)  # Whoever writes to it goes on at its end, which is its beginning now.

    def mend(self) -> list[str]:
        """Starts again what has died, servers first; answers with the names. What keeps dying waits longer."""
        self.trim_logs()
        mended = []
        for name, server in (("postgres", self.postgres), ("redis", self.redis)):
            if not server.alive and self._may_start(name):
                server.start()
                mended.append(name)
        if "redis" in mended:
            # Workers do not always find their way back to a queue that went away under them.
            for name in (*WORKERS, "beat"):
                end_group(self.processes[name], signal.SIGKILL)
                self.processes[name].wait()
                self.spawn(name)
                mended.append(name)
        for name, process in self.processes.items():
            if process.poll() is not None and self._may_start(name):
                end_group(process, signal.SIGKILL)
                self.spawn(name)
                mended.append(name)
        return mended

    def make_whole(self, seconds: float = 90.0) -> None:
        """Starts again what has died until every part runs and pages are answered, as whoever watches over them does
        with time."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            self.mend()
            if self.postgres.alive and self.redis.alive and all(one.poll() is None for one in self.processes.values()):
                self.wait(end - time.monotonic())
                return
            time.sleep(0.2)
        raise SystemExit(f"Not every part could be started again in {seconds:.0f} s; see the logs under {self.folder}.")

    def _may_start(self, name: str) -> bool:
        """Whether it is time to start a part again: at once the first time, then after 1, 2, 4 … 30 s in a row."""
        count, last = self._starts.get(name, (0, 0.0))
        now = time.monotonic()
        if now - last > 60:
            count = 0
        if count and now - last < min(30, 2 ** (count - 1)):
            return False
        self._starts[name] = (count + 1, now)
        return True

    def stop(self) -> None:
        end_all(self.processes.values())
        self.redis.stop()
        self.postgres.stop()
        for bound in self._outside.values():
            bound.close()
        for path in self.folder.glob("*.pid"):
            path.unlink(missing_ok=True)
