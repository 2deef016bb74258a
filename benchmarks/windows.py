"""Windows that wait for changes, what they do to edits, and the memory of web processes with ten promos open."""

from __future__ import annotations

import asyncio
import json
import re
import statistics
import subprocess
import time
import urllib.error
from collections.abc import Callable
from pathlib import Path

from tools.stack import Stack

from benchmarks.served import Client

Show = Callable[[str, str, str, bool], None]
PEOPLE = 10


class Visitor(Client):
    """A person with a team of their own, signed up for this."""

    def __init__(self, address: str, number: int) -> None:
        super().__init__(address)
        self.post("/sign-out", {})
        self.token = self._token(self.get("/sign-up"))
        stamp = f"{time.time_ns()}-{number}"
        answers = {"name": f"Person {number}", "email": f"{stamp}@windows.example", "team": ""}
        self.post("/sign-up", {**answers, "password": "long enough words"})
        self.token = self._token(self.get("/"))
        page = self.post("/promos", {"name": "Windows", "formats": "wide"})
        found = re.search(r'data-base="(/promos/[^"]+)"', page)
        assert found is not None
        self.promo = found.group(1)

    @staticmethod
    def _token(page: bytes) -> str:
        found = re.search(r'name="csrf-token" content="([^"]+)"', page.decode())
        assert found is not None
        return found.group(1)

    @property
    def cookies(self) -> str:
        handlers = [h for h in self.opener.handlers if hasattr(h, "cookiejar")]
        return "; ".join(f"{c.name}={c.value}" for c in handlers[0].cookiejar)  # type: ignore[attr-defined]

    def edit_times(self, count: int) -> list[float]:
        """Milliseconds of so many edits over HTTP."""
        took = []
        for n in range(count):
            began = time.perf_counter()
            self.post(f"{self.promo}/edit", {"command": json.dumps({"do": "rename", "name": f"Windows {n}"})})
            took.append((time.perf_counter() - began) * 1000)
        return took


async def _open(port: int, visitor: Visitor, wanted: int, held: list[asyncio.StreamWriter]) -> int:
    """Opens event streams and keeps them; answers with how many were told how things are."""
    told = 0
    for _ in range(wanted):
        reader, writer = await asyncio.open_connection("127.0.0.1", port)
        head = f"GET {visitor.promo}/events HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nCookie: {visitor.cookies}\r\n\r\n"
        writer.write(head.encode())
        await writer.drain()
        held.append(writer)
        try:
            async with asyncio.timeout(5):
                while b"data:" not in await reader.readline():
                    pass
                told += 1
        except TimeoutError:
            return told
    return told


def memory_of(stack: Stack, name: str) -> list[float]:
    """Resident megabytes of a part's processes."""
    pid = stack.processes[name].pid
    out = subprocess.run(["ps", "-o", "rss=", "-g", str(pid)], capture_output=True, text=True, check=True).stdout
    return [int(line) / 1024 for line in out.split()]


def windows(folder: Path, show: Show, wanted: int = 500) -> None:
    """Prints the figures. Edits are timed from another person than those whose windows are open."""
    stack = Stack(folder / "var")
    try:
        stack.start()
        time.sleep(2)
        editor = Visitor(stack.address, 0)
        editor.edit_times(30)
        alone = editor.edit_times(200)
        asyncio.run(_held(stack, editor, wanted, alone, show))
        _ten_promos(stack, show)
    finally:
        stack.stop()


WATCHERS, EDITORS = 300, 100


def watching(folder: Path, show: Show) -> None:
    """Edits of one person beside 300 open watchers of screenings and 100 open editors, all of them idle."""
    stack = Stack(folder / "var")
    try:
        stack.start()
        time.sleep(2)
        editor = Visitor(stack.address, 0)
        editor.edit_times(30)
        alone = editor.edit_times(200)
        asyncio.run(_watched(stack, editor, alone, show))
    finally:
        stack.stop()


def _screening(stack: Stack, person: Visitor) -> str:
    """The key of a screening of somebody's promo."""
    page = person.post(f"{person.promo}/screenings", {"days": "7"})
    found = re.search(r"/screening/([\w-]+)", page)
    assert found is not None, page[:300]
    person.get(f"/screening/{found.group(1)}")
    return found.group(1)


async def _watched(stack: Stack, editor: Visitor, alone: list[float], show: Show) -> None:
    people = [Visitor(stack.address, n + 1) for n in range(PEOPLE)]
    held: list[asyncio.StreamWriter] = []
    told = [await _open(stack.port, person, EDITORS // PEOPLE, held) for person in people]
    for person in people:
        person.promo = f"/screening/{_screening(stack, person)}"
    watchers = [await _open(stack.port, person, WATCHERS // PEOPLE, held) for person in people]
    crowded = await asyncio.wait_for(asyncio.to_thread(editor.edit_times, 200), 60)
    before, after = (statistics.quantiles(times, n=20)[18] for times in (alone, crowded))
    figure = f"{sum(watchers)} + {sum(told)} held; p95 {before:.0f} -> {after:.0f} ms"
    good = (sum(watchers), sum(told)) == (WATCHERS, EDITORS) and after < 150
    show(f"edit beside {WATCHERS} watchers, {EDITORS} editors", figure, "all held, p95 < 150 ms", good)
    for writer in held:
        writer.close()


async def _held(stack: Stack, editor: Visitor, wanted: int, alone: list[float], show: Show) -> None:
    people = [Visitor(stack.address, n + 1) for n in range(PEOPLE)]
    held: list[asyncio.StreamWriter] = []
    told = [await _open(stack.port, person, wanted // PEOPLE, held) for person in people]
    try:
        crowded = await asyncio.wait_for(asyncio.to_thread(editor.edit_times, 200), 60)
        before, after = (statistics.quantiles(times, n=20)[18] for times in (alone, crowded))
        figure = f"{sum(told)} held; edit p95 {before:.0f} -> {after:.0f} ms"
        good = sum(told) == wanted and after <= before * 1.2 + 3
    except (TimeoutError, urllib.error.URLError):
        figure, good = f"{sum(told)} held; no edit answered in 60 s", False
    show(f"{wanted} idle windows of {PEOPLE} people", figure, "all, p95 within 20 %", good)
    for writer in held:
        writer.close()


def _ten_promos(stack: Stack, show: Show) -> None:
    """Ten copies of the demo promo, opened, with frames of three formats drawn all along."""
    client = Client(stack.address)
    page = client.get("/").decode()
    found = re.search(r'action="(/promos/[^"]+)/copy"', page)
    assert found is not None
    for _ in range(10):
        copy = client.post(f"{found.group(1)}/copy", {})
        base = re.search(r'data-base="(/promos/[^"]+)"', copy)
        assert base is not None
        for format_id in ("wide", "square", "tall"):
            for frame in range(0, 600, 40):
                client.get(f"{base.group(1)}/frame.jpg?format={format_id}&frame={frame}&short=540")
            client.get(f"{base.group(1)}/run?format={format_id}&first=0&frame=30&count=30&short=360")
    web = memory_of(stack, "web")
    largest = max(web)
    text = f"largest web process {largest:.0f} MB of {', '.join(f'{mb:.0f}' for mb in web)}"
    if "live" in stack.processes:
        text += f"; streams {max(memory_of(stack, 'live')):.0f} MB"
    show("memory, ten promos open", text, "< 900 MB", largest < 900)


if __name__ == "__main__":
    import tempfile

    def plain(what: str, figure: str, budget: str, good: bool) -> None:
        print(f"{what}: {figure} ({budget}) {'ok' if good else 'OVER'}", flush=True)

    with tempfile.TemporaryDirectory() as place:
        Path(place).chmod(0o755)
        windows(Path(place), plain)
