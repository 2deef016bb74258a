"""Every part of the program may die at any moment: it is started again, and nothing acknowledged is lost."""

from __future__ import annotations

import contextlib
import json
import os
import random
import re
import signal
import time
import urllib.error
import urllib.parse
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path

import pytest
from sqlalchemy import func, select
from tools.stack import Stack

from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile, Revision

PARTS = ("limited", "web", "live", "front", "worker", "imports", "derived", "errands", "beat", "postgres", "redis")


class Editor:
    """Somebody who edits a promo over HTTP."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        page = self.opener.open(address + "/welcome").read().decode()
        self.token = re.search(r'name="csrf-token" content="([^"]+)"', page).group(1)
        self.post("/demo", {})
        page = self.post("/promos", {"name": "Kept", "formats": "wide"})
        self.promo = re.search(r'data-base="(/promos/([^"]+))"', page).group(1)

    def post(self, path: str, values: dict[str, str]) -> str:
        data = urllib.parse.urlencode(values).encode()
        headers = {"X-Glow": "1", "X-CSRFToken": self.token}
        request = urllib.request.Request(self.address + path, data, headers)
        return self.opener.open(request, timeout=10).read().decode()

    def note(self, text: str) -> None:
        """One edit; raises where it is not acknowledged."""
        command = {"command": json.dumps({"do": "add-note", "text": text}), "press": f"{text}-{time.time_ns()}"}
        self.post(f"{self.promo}/edit", command)


@pytest.fixture(scope="module")
def editor(stack: Stack) -> Editor:
    return Editor(stack.address)


def kill(stack: Stack, name: str) -> None:
    server = {"postgres": stack.postgres, "redis": stack.redis}.get(name)
    process = server._process if server is not None else stack.processes[name]
    with contextlib.suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)
    process.wait()


def until(stack: Stack, work, what: str, seconds: float = 60) -> None:
    """Watches over the parts, as the program does, until something succeeds."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        stack.mend()
        with contextlib.suppress(OSError, urllib.error.URLError):
            work()
            return
        time.sleep(0.2)
    raise AssertionError(f"{what} did not succeed in {seconds:.0f} s")


@pytest.mark.parametrize("name", PARTS)
def test_a_part_that_dies_is_started_again_and_edits_go_on(
    stack: Stack, runtime: Runtime, editor: Editor, name: str
) -> None:
    editor.note(f"before-{name}")
    kill(stack, name)
    until(stack, lambda: editor.note(f"after-{name}"), "an edit")
    promo = editor.promo.rpartition("/")[2]

    def kept() -> None:
        with runtime.database.unit() as unit:
            count = select(func.count()).where(Revision.promo_id == promo, Revision.press.contains(f"-{name}-"))
            assert unit.session.scalar(count) >= 2, "an acknowledged edit is gone"

    until(stack, kept, "looking at the history")
    stack.make_whole()


def test_ten_deaths_one_after_another_lose_no_edit(stack: Stack, runtime: Runtime, editor: Editor) -> None:
    chance, texts = random.Random(18), []
    for number in range(10):
        kill(stack, chance.choice(PARTS))
        texts.append(f"death-{number}")
        until(stack, lambda: editor.note(texts[-1]), "an edit")
    promo = editor.promo.rpartition("/")[2]

    def kept() -> None:
        with runtime.database.unit() as unit:
            query = select(Revision.press).where(Revision.promo_id == promo, Revision.press.is_not(None))
            presses = list(unit.session.scalars(query))
            assert all(any(press.startswith(text) for press in presses) for text in texts)

    until(stack, kept, "looking at the history")


def test_what_was_saved_is_answered_as_saved_while_the_queue_is_away(
    stack: Stack, runtime: Runtime, editor: Editor, tmp_path: Path
) -> None:
    kill(stack, "redis")
    headers = {"X-Glow": "1", "X-CSRFToken": editor.token, "X-File-Name": "late.wav"}
    headers["Content-Type"] = "application/octet-stream"
    body = wav_of(time.time_ns())
    request = urllib.request.Request(editor.address + "/shelf/uploads", body, headers)
    answer = json.loads(editor.opener.open(request, timeout=30).read())
    assert answer["state"] == "queued"

    def looked_at() -> None:
        with runtime.database.unit() as unit:
            if unit.session.get_one(MediaFile, answer["id"]).state != "ready":
                raise OSError("not yet")

    until(stack, looked_at, "the file that waited", 120)


def wav_of(number: int) -> bytes:
    """A second of sound that no other test has."""
    samples = bytes((number >> (n % 40)) % 256 for n in range(16_000))
    size = len(samples)
    head = b"RIFF" + (36 + size).to_bytes(4, "little") + b"WAVEfmt " + (16).to_bytes(4, "little")
    shape = b"\x01\x00\x01\x00" + (8000).to_bytes(4, "little") + (16000).to_bytes(4, "little") + b"\x02\x00\x10\x00"
    return head + shape + b"data" + size.to_bytes(4, "little") + samples


def test_an_upload_that_is_cut_off_does_not_count(runtime: Runtime, stack: Stack, editor: Editor) -> None:
    import socket

    body = wav_of(time.time_ns())
    cookie = next(iter(h for h in editor.opener.handlers if hasattr(h, "cookiejar"))).cookiejar
    cookies = "; ".join(f"{c.name}={c.value}" for c in cookie)
    head = (
        f"POST /shelf/uploads HTTP/1.1\r\nHost: 127.0.0.1:{stack.port}\r\nCookie: {cookies}\r\nX-Glow: 1\r\n"
        f"X-CSRFToken: {editor.token}\r\nX-File-Name: half.wav\r\nContent-Length: {len(body)}\r\n\r\n"
    )
    with socket.create_connection(("127.0.0.1", stack.port)) as line:
        line.sendall(head.encode() + body[: len(body) // 2])
    time.sleep(1)
    with runtime.database.unit() as unit:
        assert unit.session.scalar(select(func.count()).where(MediaFile.name == "half.wav")) == 0
