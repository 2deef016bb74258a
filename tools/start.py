"""`./start`: runs everything until Ctrl+C."""

from __future__ import annotations

import argparse
import fcntl
import os
import signal
import socket
import time
from types import FrameType
from typing import IO

from tools.stack import ROOT, Stack


def main() -> None:
    parser = argparse.ArgumentParser(prog="./start", description="Runs Glow Reel on this machine.")
    parser.add_argument("--port", type=int, default=8810)
    parser.add_argument("--no-demo", action="store_true", help="start without the demo team and its promos")
    options = parser.parse_args()
    stack = Stack(ROOT / "var", options.port, demo=not options.no_demo)
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
        while not stopping:
            time.sleep(0.3)
            for name in stack.mend():
                print(f"The {name} process had died and was started again; see var/{name}.log.", flush=True)
    finally:
        print("Stopping …", flush=True)
        stack.stop()
        held.close()


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
