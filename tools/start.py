"""`./start`: runs everything until Ctrl+C."""

from __future__ import annotations

import argparse
import signal
import socket
import time
from types import FrameType

from tools.stack import ROOT, Stack


def main() -> None:
    parser = argparse.ArgumentParser(prog="./start", description="Runs Glow Reel on this machine.")
    parser.add_argument("--port", type=int, default=8810)
    parser.add_argument("--no-demo", action="store_true", help="start without the demo team and its promos")
    options = parser.parse_args()
    stack = Stack(ROOT / "var", options.port, demo=not options.no_demo)
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


if __name__ == "__main__":
    main()
