"""`./start`: runs everything until Ctrl+C."""

from __future__ import annotations

import argparse
import fcntl
import os
import signal
import socket
import time
from pathlib import Path
from types import FrameType
from typing import IO

from tools.stack import Stack
from tools.supervised import ROOT
from tools.workers import Joined, invitation, read_invitation


def main() -> None:
    parser = argparse.ArgumentParser(prog="./start", description="Runs Glow Reel on this machine.")
    parser.add_argument("--port", type=int, default=8810)
    parser.add_argument("--no-demo", action="store_true", help="start without the demo team and its promos")
    parser.add_argument("--share", default="", metavar="ADDRESS", help="let workers of other machines in there")
    parser.add_argument("--join", type=Path, metavar="FILE", help="write what they must know, for --worker")
    parser.add_argument("--worker", type=Path, metavar="FILE", help="only work for the installation that wrote it")
    options = parser.parse_args()
    if options.worker:
        return work(options.worker)
    stack = Stack(ROOT / "var", options.port, demo=not options.no_demo, share=options.share)
    held = hold(stack)
    stack.end_leftovers()
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", options.port))
        except OSError:
            raise SystemExit(f"Port {options.port} is in use. Choose another with --port.") from None
    began = time.monotonic()
    stopping = []

    def stop(number: int, frame: FrameType | None) -> None:
        stopping.append(number)

    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, stop)
    try:
        stack.start()
        print(
            f"Glow Reel is at {stack.address}  (ready in {time.monotonic() - began:.1f} s, Ctrl+C stops it)", flush=True
        )
        if options.join:
            options.join.touch(mode=0o600)
            options.join.write_text(invitation(stack.environment, options.share or "127.0.0.1"))
        while not stopping:
            time.sleep(0.3)
            for name in stack.mend():
                print(f"The {name} process had died and was started again; see var/{name}.log.", flush=True)
    finally:
        print("Stopping …", flush=True)
        stack.stop()
        held.close()


def work(told: Path) -> None:
    """Runs the workers of this machine for an installation elsewhere, until Ctrl+C."""
    joined = Joined(ROOT / "var-worker", read_invitation(told))
    stopping: list[int] = []
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda got, frame: stopping.append(got))
    joined.start()
    print("This machine works for the installation now (Ctrl+C stops it).", flush=True)
    try:
        while not stopping:
            time.sleep(1)
            for name in joined.mend():
                print(f"The {name} process had died and was started again; see var-worker/{name}.log.", flush=True)
    finally:
        joined.stop()


def hold(stack: Stack) -> IO[str]:
    """Makes this the only supervisor of its folder; says which one there is otherwise. Ends with this process."""
    file = (stack.folder / "supervisor").open("a+")
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        file.seek(0)
        raise SystemExit(f"Glow Reel runs here already: {file.read().strip()}.") from None
    file.truncate(0)
    since = time.strftime("%d %B, %H:%M")
    file.write(f"at {stack.address}, process {os.getpid()}, since {since}; `kill {os.getpid()}` stops it\n")
    file.flush()
    return file


if __name__ == "__main__":
    main()
