"""The pool of limited processes: what works, what is stopped, and what is told of it."""

import os
import signal
import socket
import subprocess
import sys
import textwrap
import threading
import time
from pathlib import Path

import pytest
from attacks.files import footage, heavy_filters

from glowreel.core.errors import BadMedia, Fault
from glowreel.limited.client import Died, Interrupted, Limited, environment
from glowreel.limited.messages import HEAD, Incoming


@pytest.fixture(scope="module")
def pool() -> Limited:
    pool = Limited()
    pool._connect().close()
    return pool


def take_in(pool: Limited, path: Path, folder: Path, **more: object) -> dict[str, object]:
    arguments = {"path": str(path), "name": path.name, "id": "m", "hash": "0" * 64, "suffix": ".mp4"}
    return pool.run("take-in", arguments, folder, path.name, **more)


def children(pool: Limited, worked: float = 0.0) -> list[int]:
    """The processes that the pool has at work, for at least so many seconds of the processor."""
    found = []
    for stat in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = stat.read_text().rpartition(")")[2].split()
        except OSError:
            continue
        busy = int(fields[11]) / os.sysconf("SC_CLK_TCK") >= worked
        if int(fields[1]) == pool._server.pid and fields[0] != "Z" and busy:
            found.append(int(stat.parent.name))
    return found


def kill_work(pool: Limited) -> threading.Thread:
    """Ends the next process that is well at work, as a fault in a decoder would."""
    until(lambda: not children(pool), 20)  # what ended last may still be on its way out

    def kill() -> None:
        until(lambda: children(pool, 0.3), 20)
        os.kill(children(pool, 0.3)[0], signal.SIGSEGV)

    killer = threading.Thread(target=kill)
    killer.start()
    return killer


def until(condition, seconds: float = 10) -> None:
    end = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < end
        time.sleep(0.02)


@pytest.fixture
def stubborn(tmp_path: Path) -> Path:
    """A drawing that takes minutes."""
    path = tmp_path / "stubborn.svg"
    path.write_bytes(heavy_filters(50))
    return path


def test_footage_comes_out_measured_with_all_that_previews_need(pool: Limited, tmp_path: Path) -> None:
    path = tmp_path / "a.mp4"
    path.write_bytes(footage())
    shares: list[float] = []
    made = take_in(pool, path, tmp_path, progress=shares.append)
    assert made["facts"]["kind"] == "footage"
    assert (made["facts"]["width"], made["facts"]["height"]) == (160, 90)
    for name in ("samples", "peaks", "proxy", "strip.jpg", "poster.jpg"):
        assert (tmp_path / name).stat().st_size


def test_work_that_dies_is_told_and_the_next_goes_on(pool: Limited, tmp_path: Path, stubborn: Path) -> None:
    killer = kill_work(pool)
    with pytest.raises(Died, match=r"stubborn\.svg could not be read"):
        take_in(pool, stubborn, tmp_path)
    killer.join()
    path = tmp_path / "a.mp4"
    path.write_bytes(footage())
    assert take_in(pool, path, tmp_path)["made"]


def test_work_that_is_not_wanted_any_more_is_ended(pool: Limited, tmp_path: Path, stubborn: Path) -> None:
    class Enough(Exception):
        pass

    def check() -> None:
        if children(pool, 0.2):
            raise Enough

    with pytest.raises(Enough):
        take_in(pool, stubborn, tmp_path, check=check)
    until(lambda: not children(pool), 2)


def test_a_server_that_is_killed_is_no_fault_of_the_file(tmp_path: Path, stubborn: Path) -> None:
    pool = Limited()
    pool._connect().close()

    def kill() -> None:
        until(lambda: children(pool, 0.2), 20)
        kept.extend(children(pool, 0.2))
        pool._server.kill()

    kept: list[int] = []
    killer = threading.Thread(target=kill)
    killer.start()
    with pytest.raises(Interrupted):
        take_in(pool, stubborn, tmp_path)
    killer.join()
    until(lambda: not any(Path(f"/proc/{pid}").exists() for pid in kept))
    path = tmp_path / "a.mp4"
    path.write_bytes(footage())
    assert take_in(pool, path, tmp_path)["made"]


def restricted(code: str, **limits: float) -> str:
    """What a process prints that has such limits."""
    given = {
        "memory": 200 << 20,
        "processor": 60,
        "seconds": 60,
        "silence": 60,
        "output": 1 << 20,
        "files": 40,
        **limits,
    }
    head = f"""
        from glowreel.limited.limits import Limits
        from glowreel.limited.server import restrict
        restrict(Limits(**{given!r}))
    """
    done = subprocess.run(
        [sys.executable, "-c", textwrap.dedent(head) + textwrap.dedent(code)], capture_output=True, text=True
    )
    return done.stdout.strip() or str(-done.returncode)


def test_a_process_has_limits_of_memory_output_files_and_time(tmp_path: Path) -> None:
    assert restricted("a = bytearray(100 << 20); print('held')") == "held"
    assert restricted("try:\n    a = bytearray(300 << 20)\nexcept MemoryError:\n    print('no')") == "no"
    writing = f"""
        try:
            with open({str(tmp_path / "out")!r}, "wb") as out:
                out.write(bytes(4 << 20))
        except OSError as error:
            print(error.errno)
    """
    assert restricted(writing) == "27"
    opening = """
        try:
            held = [open("/dev/null") for _ in range(100)]
        except OSError as error:
            print(error.errno)
    """
    assert restricted(opening) == "24"
    assert restricted("while True: pass", processor=1) == str(signal.SIGXCPU.value)


def test_the_pool_knows_no_secret_and_reaches_no_network(monkeypatch) -> None:
    monkeypatch.setenv("GLOWREEL_SECRET", "secret")
    monkeypatch.setenv("GLOWREEL_DATABASE", "postgresql://somewhere")
    assert not [key for key in environment() if key.startswith("GLOWREEL")]
    with socket.create_server(("127.0.0.1", 0)) as listening:
        reach = f"""
            import socket
            from glowreel.limited.server import without_network
            print("cannot be asked" if not without_network() else "open")
            try:
                socket.create_connection(("127.0.0.1", {listening.getsockname()[1]}), timeout=2)
                print("reached")
            except OSError:
                print("not reached")
        """
        found = subprocess.run([sys.executable, "-c", textwrap.dedent(reach)], capture_output=True, text=True).stdout
    assert found.split("\n")[0] == "cannot be asked" or "not reached" in found


def test_messages_come_whole_in_parts_or_not_at_all() -> None:
    here, there = socket.socketpair()
    with here, there:
        here.settimeout(0.05)
        incoming = Incoming(here, 1000)
        there.sendall(HEAD.pack(9) + b'{"a": 1}')
        for _ in range(2):
            with pytest.raises(TimeoutError):
                incoming.receive()
        there.sendall(b" " + HEAD.pack(8) + b'{"b": 2}' + HEAD.pack(5000))
        assert incoming.receive() == {"a": 1}
        assert incoming.receive() == {"b": 2}
        with pytest.raises(Fault, match="more than it may"):
            incoming.receive()


def test_a_file_that_never_ends_is_given_up(pool: Limited, tmp_path: Path, stubborn: Path, monkeypatch) -> None:
    from dataclasses import replace

    from glowreel.limited import client

    short = {**client.LIMITS, "take-in": replace(client.LIMITS["take-in"], silence=1.0)}
    monkeypatch.setattr(client, "LIMITS", short)
    with pytest.raises(BadMedia, match=r"stubborn\.svg takes longer"):
        take_in(pool, stubborn, tmp_path)
    until(lambda: not children(pool), 2)
