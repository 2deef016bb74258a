"""A whole installation to attack, somebody who works in it meanwhile, and what is measured of both."""

from __future__ import annotations

import contextlib
import json
import os
import re
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
import uuid
from collections.abc import Callable, Iterator
from http.cookiejar import CookieJar
from pathlib import Path

import psycopg
from sqlalchemy import make_url
from tools.stack import Stack

MEGABYTE = 1024**2


class Person:
    """Somebody signed up for this, with a promo of their own."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.token = self._token("/sign-up")
        email = f"{uuid.uuid4().hex}@field.example"
        self.post("/sign-up", {"name": "Field", "email": email, "password": "seven quiet lanterns"}, page=True)
        self.token = self._token("/")
        page = self.post("/promos", {"name": "Field", "formats": "wide"}, page=True).decode()
        found = re.search(r'data-base="(/promos/[^"]+)"', page)
        assert found is not None
        self.promo = found.group(1)

    def _token(self, path: str) -> str:
        page = self.opener.open(self.address + path, timeout=30).read().decode()
        found = re.search(r'name="csrf-token" content="([^"]+)"', page)
        assert found is not None
        return found.group(1)

    def get(self, path: str) -> bytes:
        return bytes(self.opener.open(self.address + path, timeout=60).read())

    def post(self, path: str, values: dict[str, str], *, page: bool = False) -> bytes:
        headers = {"X-CSRFToken": self.token, **({"Accept": "text/html"} if page else {"X-Glow": "1"})}
        request = urllib.request.Request(self.address + path, urllib.parse.urlencode(values).encode(), headers)
        return bytes(self.opener.open(request, timeout=60).read())

    def edit(self, text: str, promo: str = "") -> str:
        """One edit; answers with the name it is kept under. Raises where it is not acknowledged."""
        press = f"{time.time_ns()}-{text.replace(' ', '-')}"[:40]
        command = {"command": json.dumps({"do": "rename", "name": text[:80]}), "press": press}
        self.post(f"{promo or self.promo}/edit", command)
        return press

    def send(self, path: str, name: str, data: bytes) -> tuple[int, dict[str, str]]:
        """A bare upload; answers with its status and what was said."""
        headers = {"X-CSRFToken": self.token, "X-Glow": "1", "X-File-Name": urllib.parse.quote(name)}
        headers["Content-Type"] = "application/octet-stream"
        request = urllib.request.Request(self.address + path, data, headers)
        try:
            with self.opener.open(request, timeout=120) as answer:
                return answer.status, json.loads(answer.read())
        except urllib.error.HTTPError as error:
            return error.code, json.loads(error.read() or b"{}")

    def open_timeline(self, name: str, data: bytes) -> str:
        """Sends a bundle through the form; answers with the address of its page."""
        edge = uuid.uuid4().hex
        head = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'.encode()
        body = head + data + f"\r\n--{edge}--\r\n".encode()
        headers = {"X-CSRFToken": self.token, "Content-Type": f"multipart/form-data; boundary={edge}"}
        request = urllib.request.Request(self.address + "/promos/open", body, {**headers, "Accept": "text/html"})
        with self.opener.open(request, timeout=120) as answer:
            return str(answer.url)


class Bystander(threading.Thread):
    """Goes on editing, and remembers how long each edit took and what was acknowledged."""

    def __init__(self, person: Person, every: float = 0.25) -> None:
        super().__init__(daemon=True)
        self.person, self.every = person, every
        self.took: list[float] = []
        self.kept: list[str] = []
        self.acknowledged = time.monotonic()
        self.failures = 0
        self._enough = threading.Event()

    def run(self) -> None:
        count = 0
        while not self._enough.wait(self.every):
            began = time.monotonic()
            count += 1
            try:
                self.kept.append(self.person.edit(f"step {count}"))
                self.took.append(time.monotonic() - began)
                self.acknowledged = time.monotonic()
            except (OSError, urllib.error.URLError):
                self.failures += 1

    def end(self) -> None:
        self._enough.set()
        self.join()


class Field:
    """The program, watched over as `./start` does."""

    def __init__(self, folder: Path) -> None:
        self.stack = Stack(folder / "var")
        self.peak: dict[str, int] = {}
        self._enough = threading.Event()

    @property
    def address(self) -> str:
        return self.stack.address

    @contextlib.contextmanager
    def running(self) -> Iterator[Field]:
        self.stack.start()
        watching = threading.Thread(target=self._watch, daemon=True)
        watching.start()
        try:
            yield self
        finally:
            self._enough.set()
            watching.join()
            self.stack.stop()

    def _watch(self) -> None:
        while not self._enough.wait(0.3):
            with contextlib.suppress(OSError):
                self.stack.mend()
            self._measure()

    def _measure(self) -> None:
        """Keeps the most memory that a process of each part has had."""
        parents: dict[int, int] = {}
        for stat in Path("/proc").glob("[0-9]*/stat"):
            with contextlib.suppress(OSError, ValueError):
                parents[int(stat.parent.name)] = int(stat.read_text().rpartition(")")[2].split()[1])
        roots = {process.pid: name for name, process in self.stack.processes.items()}
        for pid, parent in parents.items():
            name = roots.get(pid) or (f"{roots[parent]} child" if parent in roots else None)
            if name is not None:
                with contextlib.suppress(OSError, IndexError):
                    size = int(Path(f"/proc/{pid}/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")
                    self.peak[name] = max(self.peak.get(name, 0), size)

    def ask(self, query: str, *values: object) -> list[tuple[object, ...]]:
        """Rows from the database; waits for it where it is away."""
        url = make_url(self.stack.environment["GLOWREEL_DATABASE"])
        where = f"host={url.host} port={url.port} user={url.username} password={url.password} dbname={url.database}"
        for _ in range(120):
            with contextlib.suppress(psycopg.OperationalError), psycopg.connect(where) as connection:
                return connection.execute(query, values).fetchall()
            time.sleep(0.5)
        raise SystemExit("the database does not come back")

    def lost(self, kept: list[str]) -> int:
        """How many acknowledged edits are not in any history."""
        found = {row[0] for row in self.ask("SELECT press FROM revisions WHERE press = ANY(%s)", kept)}
        return len(set(kept) - found)


def until(condition: Callable[[], bool], seconds: float) -> float:
    """Waits for something; answers with how long it took, or more than `seconds` where it did not come."""
    began = time.monotonic()
    while time.monotonic() - began < seconds:
        if condition():
            return time.monotonic() - began
        time.sleep(0.1)
    return float("inf")
