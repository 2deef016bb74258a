"""The server of limited work: everything is loaded once, and each piece of work gets a child of its own.

The server itself never reads what a stranger sent. It forks, watches and kills: a child goes when its time is up, when
it has taken too much memory, or when whoever asked for it has gone.
"""

from __future__ import annotations

import contextlib
import ctypes
import errno
import gc
import importlib
import os
import resource
import select
import signal
import socket
import sys
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from glowreel.core.errors import Refusal, Unreadable
from glowreel.limited.limits import LIMITS, MOST, REQUEST_BYTES, Limits
from glowreel.limited.messages import Incoming, send

LOOK_EVERY = 0.1
NEW_NETWORK, NEW_USER = 0x40000000, 0x10000000
END_WITH_PARENT = 1


@dataclass
class Child:
    pid: int
    connection: socket.socket
    began: float
    exceeded: str = ""


def serve(path: Path) -> None:
    """Listens on a Unix socket until it is told to stop."""
    path.unlink(missing_ok=True)
    listening = socket.socket(socket.AF_UNIX)
    listening.bind(str(path))
    path.chmod(0o600)
    listening.listen(64)
    without_network()
    importlib.import_module("glowreel.limited.tasks")
    # What finds speech takes most of a second to load, and every file with sound is listened to.
    importlib.import_module("faster_whisper.vad")
    gc.collect()
    gc.freeze()
    # The baseline must not grow: children are measured against it.
    children: dict[int, Child] = {}
    signal.signal(signal.SIGTERM, lambda *_: _end(children))
    signal.signal(signal.SIGINT, lambda *_: _end(children))
    baseline = own_memory(os.getpid())
    while True:
        waiting = [listening] if len(children) < MOST else []
        ready, _, _ = select.select([*waiting, *(c.connection for c in children.values())], [], [], LOOK_EVERY)
        if listening in ready:
            connection, _ = listening.accept()
            children[connection.fileno()] = _fork(connection, listening, children)
        for key, child in list(children.items()):
            if child.connection in ready and _gone(child.connection):
                _kill(child)
            _watch(child, baseline)
            if _ended(child):
                child.connection.close()
                del children[key]


def without_network() -> bool:
    """Gives this process and its children a network of their own with nothing in it, where the system allows that."""
    libc = ctypes.CDLL(None, use_errno=True)
    return libc.unshare(NEW_NETWORK) == 0 or libc.unshare(NEW_USER | NEW_NETWORK) == 0


def own_memory(pid: int) -> int:
    """Bytes that a process has for itself and in use; 0 where it has ended."""
    with contextlib.suppress(OSError):
        for line in Path(f"/proc/{pid}/status").read_text().splitlines():
            if line.startswith("RssAnon:"):
                return int(line.split()[1]) * 1024
    return 0


def _end(children: dict[int, Child]) -> None:
    for child in children.values():
        _kill(child)
    sys.exit(0)


def _gone(connection: socket.socket) -> bool:
    """Whether the client has hung up. It sends nothing after its request, which the child reads."""
    try:
        return connection.recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) == b""
    except BlockingIOError:
        return False
    except OSError:
        return True


def _kill(child: Child) -> None:
    with contextlib.suppress(ProcessLookupError):
        os.killpg(child.pid, signal.SIGKILL)


def _watch(child: Child, baseline: int) -> None:
    """The second guard: each child has limits of its own, but no child is trusted to have set them."""
    if time.monotonic() - child.began > max(limits.longest or limits.seconds for limits in LIMITS.values()) + 60:
        child.exceeded = "time"
    if own_memory(child.pid) > baseline + max(limits.memory for limits in LIMITS.values()):
        child.exceeded = "memory"
    if child.exceeded:
        _kill(child)


def _ended(child: Child) -> bool:
    """Whether a child has ended; if by a signal, the client is told which."""
    pid, status = os.waitpid(child.pid, os.WNOHANG)
    if not pid:
        return False
    with contextlib.suppress(ProcessLookupError):
        os.killpg(child.pid, signal.SIGKILL)  # Nothing it started outlives it.
    if os.WIFSIGNALED(status):
        with contextlib.suppress(OSError):
            child.connection.settimeout(0.2)
            over = "time" if os.WTERMSIG(status) == signal.SIGXCPU else child.exceeded
            send(child.connection, {"exceeded": over} if over else {"died": os.WTERMSIG(status)})
    return True


def _fork(connection: socket.socket, listening: socket.socket, children: dict[int, Child]) -> Child:
    pid = os.fork()
    if pid:
        with contextlib.suppress(OSError):
            os.setpgid(pid, pid)
        return Child(pid, connection, time.monotonic())
    try:
        os.setpgid(0, 0)
        signal.signal(signal.SIGTERM, signal.SIG_DFL)
        signal.signal(signal.SIGINT, signal.SIG_DFL)
        listening.close()
        for other in children.values():
            other.connection.close()
        ctypes.CDLL(None).prctl(END_WITH_PARENT, signal.SIGKILL)
        connection.setblocking(True)
        _work(connection)
    finally:
        # Nothing of the server's may run in a child, whatever happened.
        os._exit(0)


def _work(connection: socket.socket) -> None:
    """One piece of work, in the child."""
    os.nice(5)
    with contextlib.suppress(OSError):
        Path("/proc/self/oom_score_adj").write_text("800")
    request = Incoming(connection, REQUEST_BYTES).receive()
    if request is None:
        return
    limits = LIMITS[request["task"]]
    restrict(limits)
    tasks = importlib.import_module("glowreel.limited.tasks")
    send(connection, {"begun": True})
    answer: dict[str, Any]
    try:
        tell = tasks.Tell(lambda message: send(connection, message))
        answer = {"result": tasks.TASKS[request["task"]](request["arguments"], Path(request["folder"]), tell)}
    except BrokenPipeError:
        return
    except Unreadable as refusal:
        answer = {"refusal": ["unreadable", refusal.source, refusal.reason], "kind": "Unreadable"}
    except Refusal as refusal:
        answer = {"refusal": [refusal.code, refusal.sentence, refusal.remedy], "kind": type(refusal).__name__}
    except MemoryError:
        answer = {"exceeded": "memory"}
    except OSError as error:
        answer = _of_system(error)
    except RecursionError:
        answer = {"exceeded": "depth"}
    except Exception as error:
        answer = {"fault": f"{type(error).__name__}: {error}"[:2000]}
    send(connection, answer)


def _of_system(error: OSError) -> dict[str, Any]:
    if error.errno in (errno.ENOSPC, errno.EDQUOT):
        return {"exceeded": "disk"}
    if error.errno == errno.EFBIG:
        return {"exceeded": "output"}
    if error.errno == errno.ENOMEM:
        return {"exceeded": "memory"}
    return {"fault": f"{type(error).__name__}: {error}"[:2000]}


def restrict(limits: Limits) -> None:
    """Puts limits on this process. What its parent had already counts towards none of them."""
    data = 0
    for line in Path("/proc/self/status").read_text().splitlines():
        if line.startswith("VmData:"):
            data = int(line.split()[1]) * 1024
    signal.signal(signal.SIGXFSZ, signal.SIG_IGN)  # Writing too much is an error then, not the end.
    used = sum(resource.getrusage(resource.RUSAGE_SELF)[:2])
    processor = int(used + limits.processor) + 1
    for kind, value in (
        (resource.RLIMIT_DATA, data + limits.memory),
        (resource.RLIMIT_CPU, processor),
        (resource.RLIMIT_FSIZE, limits.output),
        (resource.RLIMIT_NOFILE, limits.files),
        (resource.RLIMIT_CORE, 0),
    ):
        resource.setrlimit(kind, (value, value + (kind == resource.RLIMIT_CPU)))
