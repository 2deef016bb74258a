"""The workers of one more machine: they join an installation whose servers run elsewhere."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
from pathlib import Path

from glowreel.limited.client import environment
from tools.servers import socket_of
from tools.supervised import BIN, ROOT, WORKERS, end_all, end_group, queue_of, worker

TOLD = ("DATABASE", "REDIS", "BLOBS", "SECRET", "SPEECH_MODEL", "SMTP", "OUTBOX", "STAND_INS", "NETWORKS", "DRIVE",
        "STOCK", "MAKER")  # fmt: skip
"""What a worker must know of the installation that it joins."""
STORE = ("AWS_ENDPOINT_URL", "AWS_ACCESS_KEY_ID", "AWS_SECRET_ACCESS_KEY", "AWS_DEFAULT_REGION")
"""Where a store is that is not a provider's own, and who may use it."""


def invitation(environment_: dict[str, str], address: str) -> str:
    """What another machine must know to join, a line each; servers of this one by the address under which others reach
    them."""
    lines = [
        f"GLOWREEL_{name}={environment_[f'GLOWREEL_{name}']}" for name in TOLD if f"GLOWREEL_{name}" in environment_
    ]
    lines += [f"{name}={os.environ[name]}" for name in STORE if name in os.environ]
    return "\n".join(line.replace("127.0.0.1", address) for line in lines) + "\n"


def read_invitation(path: Path) -> dict[str, str]:
    """The same from its file. Ends with a sentence where it does not say enough."""
    told = dict(line.split("=", 1) for line in path.read_text().splitlines() if "=" in line)
    for name in ("GLOWREEL_DATABASE", "GLOWREEL_REDIS", "GLOWREEL_BLOBS", "GLOWREEL_SECRET"):
        if name not in told:
            raise SystemExit(f"{path} does not say {name}; have it written by `./start --join`.")
    if told["GLOWREEL_BLOBS"].startswith("/") and not Path(told["GLOWREEL_BLOBS"]).is_dir():
        raise SystemExit(
            f"{told['GLOWREEL_BLOBS']} is not here: workers of several machines need a store that all reach."
        )
    return told


class Joined:
    """Workers of every kind and the limited processes that they use, in a folder of this machine."""

    def __init__(self, folder: Path, told: dict[str, str], within: tuple[str, ...] = (), count: int = 0,
                 pinned: tuple[str, ...] = ()) -> None:  # fmt: skip
        """`within` is put before every command that reaches the servers, such as what runs it in a network of its own,
        and `pinned` before every one, such as what keeps it to a core; `count` is how many tasks each worker does at
        once, as many as usual where it is not given."""
        folder.mkdir(parents=True, exist_ok=True)
        self.folder, self._within, self._count, self._pinned = folder, within, count, pinned
        self.limited = socket_of(folder, "limited")
        self.processes: dict[str, subprocess.Popen[bytes]] = {}
        self.environment = {
            **told,
            "GLOWREEL_CACHE": str(folder / "cache"),
            "GLOWREEL_LIMITED": str(self.limited),
            "GLOWREEL_LETTERS": str(folder / "letters"),
            "GLOWREEL_MODELS": os.environ.get("GLOWREEL_MODELS", str(ROOT / "var" / "models")),
            "OPENCV_LOG_LEVEL": "ERROR",
        }

    def _command(self, name: str) -> list[str]:
        if name == "limited":
            return [sys.executable, "-m", "glowreel.limited", str(self.limited)]
        queue, usual, pool = WORKERS[name]
        return worker(queue, self._count or usual, pool)

    def spawn(self, name: str) -> None:
        limited = name == "limited"
        with (self.folder / f"{name}.log").open("ab") as log:
            self.processes[name] = subprocess.Popen(
                [*self._pinned, *(() if limited else self._within), *self._command(name)],
                env=environment() if limited else {**os.environ, **self.environment, **queue_of(name)},
                cwd=ROOT, stdout=log, stderr=log, start_new_session=True,
            )  # fmt: skip

    def start(self, names: tuple[str, ...] = tuple(WORKERS)) -> None:
        self._ready()
        for name in ("limited", *names):
            self.spawn(name)

    def _ready(self) -> None:
        """Ends with a sentence where the installation does not answer, or is of another version."""
        checked = [*self._within, str(BIN / "glowreel"), "join"]
        if subprocess.run(checked, env={**os.environ, **self.environment}).returncode:
            raise SystemExit("This machine cannot join: see above.")

    def mend(self) -> list[str]:
        """Starts again what has died; answers with the names."""
        dead = [name for name, process in self.processes.items() if process.poll() is not None]
        for name in dead:
            end_group(self.processes[name], signal.SIGKILL)
            self.spawn(name)
        return dead

    def stop(self) -> None:
        end_all(self.processes.values())
