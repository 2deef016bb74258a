"""Asking for limited work, and telling what became of it in a sentence."""

from __future__ import annotations

import atexit
import contextlib
import os
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from glowreel.core.errors import BadMedia, Fault, GlowReelError, Missing, NoRoom, Refusal, Unreadable
from glowreel.limited.limits import ANSWER_BYTES, LIMITS
from glowreel.limited.messages import Incoming, send

LOOK_EVERY = 0.2
STARTING = 20.0
KINDS: dict[str, type[Refusal]] = {"Refusal": Refusal, "Missing": Missing, "BadMedia": BadMedia}

SENTENCES = {
    "memory": "{name} needs more memory than one file may take.",
    "time": "{name} takes longer than one file may.",
    "silence": "{name} takes longer than one file may.",
    "output": "{name} becomes larger than one file may.",
    "depth": "{name} is nested more deeply than can be read.",
}


class Interrupted(GlowReelError):
    """The server of limited work went away in the middle: the work may be asked for again."""


class Died(BadMedia):
    """The process that did the work ended by itself, as it does over a file that is made to break it."""


class Limited:
    """The pool of limited processes. Without the path of a server, this process starts one of its own when needed."""

    def __init__(self, path: str = "") -> None:
        self._path = path
        self._lock = threading.Lock()
        self._server: subprocess.Popen[bytes] | None = None
        self._owner = 0

    def reach(self) -> None:
        """Raises `Interrupted` where no server answers."""
        self._connect().close()

    def run(
        self,
        task: str,
        arguments: dict[str, Any],
        folder: Path,
        name: str,
        *,
        progress: Callable[[float], None] = lambda share: None,
        check: Callable[[], None] = lambda: None,
    ) -> dict[str, Any]:
        """The result of a task of the table, which writes its files to `folder`.

        `name` is what sentences call the file. `progress` is told the share that is done; it and `check`, which is
        called a few times a second, may raise to stop the work. Raises `BadMedia` and other refusals of the task,
        `Died` where its process ended by itself, `Interrupted` where the server did, `NoRoom` where the disk is full.
        """
        connection = self._connect()
        with contextlib.closing(connection):
            connection.settimeout(LOOK_EVERY)
            try:
                send(connection, {"task": task, "arguments": arguments, "folder": str(folder.resolve())})
                return self._wait(connection, task, name, progress, check)
            except ConnectionError as error:
                raise Interrupted("the server of limited work went away") from error

    def _wait(
        self, connection: socket.socket, task: str, name: str,
        progress: Callable[[float], None], check: Callable[[], None],
    ) -> dict[str, Any]:  # fmt: skip
        limits = LIMITS[task]
        began: float | None = None
        heard, seconds = time.monotonic(), limits.seconds
        incoming = Incoming(connection, ANSWER_BYTES)
        while True:
            check()
            try:
                message = incoming.receive()
            except TimeoutError:
                now = time.monotonic()
                if began is not None and now - began > seconds:
                    raise exceeded("time", name) from None
                if began is not None and now - heard > limits.silence:
                    raise exceeded("silence", name) from None
                continue
            heard = time.monotonic()
            if message is None:
                raise Interrupted("the server of limited work went away")
            if "begun" in message:
                began = heard
            elif "needs" in message:
                seconds = min(limits.longest, limits.seconds + message["needs"])
            elif "share" in message:
                progress(message["share"])
                if began is not None and heard - began > seconds:
                    raise exceeded("time", name)
            else:
                return _outcome(message, name)

    def _connect(self) -> socket.socket:
        end = time.monotonic() + STARTING
        while True:
            path = self._path or self._own()
            connection = socket.socket(socket.AF_UNIX)
            try:
                connection.connect(path)
                return connection
            except (FileNotFoundError, ConnectionError, BlockingIOError) as error:
                connection.close()
                if time.monotonic() > end:
                    raise Interrupted("there is no server of limited work") from error
                time.sleep(0.05)

    def _own(self) -> str:
        """The path of this process's own server, started when it is first needed."""
        with self._lock:
            if self._server is None or self._owner != os.getpid() or self._server.poll() is not None:
                folder = tempfile.mkdtemp(prefix="glowreel-limited-")
                self._server = subprocess.Popen(
                    [sys.executable, "-m", "glowreel.limited", f"{folder}/socket"],
                    env=environment(),
                    stdin=subprocess.DEVNULL,
                    start_new_session=True,
                )
                self._owner, self._socket = os.getpid(), f"{folder}/socket"
                atexit.register(_stop, self._server, folder)
            return self._socket


def environment() -> dict[str, str]:
    """What the server may know: no address, no password, no secret."""
    kept = ("PATH", "PYTHONPATH", "LANG", "LC_ALL", "HOME", "TMPDIR", "VIRTUAL_ENV")
    known = {key: os.environ[key] for key in kept if key in os.environ}
    return {**known, "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "OPENCV_LOG_LEVEL": "ERROR"}


def _stop(server: subprocess.Popen[bytes], folder: str) -> None:
    with contextlib.suppress(OSError):
        server.send_signal(signal.SIGTERM)
        server.wait(5)
    with contextlib.suppress(OSError):
        for path in Path(folder).iterdir():
            path.unlink()
        Path(folder).rmdir()


def exceeded(what: str, name: str) -> Refusal:
    if what == "disk":
        return NoRoom()
    return BadMedia(f"too-much-{what}", SENTENCES[what].format(name=name))


def _outcome(message: dict[str, Any], name: str) -> dict[str, Any]:
    if "result" in message:
        return dict(message["result"])
    if "exceeded" in message:
        raise exceeded(message["exceeded"], name)
    if "died" in message:
        raise Died("broken", f"{name} could not be read: it stopped the program that tried.")
    if message.get("kind") == "Unreadable":
        raise Unreadable(*message["refusal"][1:])
    if "refusal" in message:
        raise KINDS.get(message["kind"], Refusal)(*message["refusal"])
    raise Fault(message.get("fault", "limited work failed without a reason"))
