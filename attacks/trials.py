"""What is tried on a running installation. Each trial prints its own figures and says what would be wrong."""

from __future__ import annotations

import contextlib
import os
import random
import signal
import socket
import statistics
import subprocess
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from attacks.field import MEGABYTE, Bystander, Field, Person, until
from attacks.files import bundles, footage, heavy_filters, media, mutated, wav

OPEN_EXPORTS = "SELECT count(*) FROM export_files WHERE state IN ('planning', 'queued', 'running', 'joining')"
OPEN_FILES = "SELECT count(*) FROM media WHERE state IN ('queued', 'running') AND removed_at IS NULL"
OPEN_OPENINGS = "SELECT count(*) FROM openings WHERE state IN ('queued', 'running')"


PARTS = ("limited", "web", "live", "front", "worker", "imports", "beat", "postgres", "redis")


class Report:
    """Lines of a table, and whether anything was wrong."""

    def __init__(self) -> None:
        self.wrong: list[str] = []

    def row(self, what: str, found: str, *, well: bool = True) -> None:
        print(f"| {what} | {found} | {'' if well else 'WRONG'} |", flush=True)
        if not well:
            self.wrong.append(what)


def count_of(field: Field, query: str) -> int:
    return int(str(field.ask(query)[0][0]))


def hostile_files(field: Field, report: Report) -> None:
    """Every file of the collection, sent by a stranger, while somebody edits and another team brings in a good one."""
    stranger, other = Person(field.address), Person(field.address)
    watching = Bystander(Person(field.address))
    watching.start()
    began = time.monotonic()
    tried = 0
    slow = [attack for attack in media() if not attack.quick]
    for attack in [*slow, *(a for a in media() if a.quick)]:
        status, _ = stranger.send("/shelf/uploads", attack.name, attack.make())
        report.row(f"upload of {attack.name}", str(status), well=False) if status >= 500 else None
        tried += 1
    status, said = other.send("/shelf/uploads", "good.mp4", mutated(footage(frames=30), 1) + footage(frames=31))
    good = until(lambda: field.ask("SELECT state FROM media WHERE id = %s", said.get("id", ""))[0][0] not in
                 ("queued", "running"), 300)  # fmt: skip
    for attack in bundles():
        where = stranger.open_timeline(attack.name, attack.make())
        until(lambda w=where: b"hx-trigger" not in stranger.get(w.removeprefix(field.address)), 120)
        tried += 1
    took = until(lambda: count_of(field, OPEN_FILES) == 0, 3600)
    watching.end()
    team = "SELECT state, error FROM media WHERE name = ANY(%s)"
    rows = field.ask(team, [attack.name for attack in media()])
    crashes = sum("stopped the program" in str(row[1]) or "on our side" in str(row[1]) for row in rows)
    crashes += count_of(field, "SELECT count(*) FROM openings WHERE error LIKE '%%on our side%%'")
    unforeseen = (field.stack.folder / "limited.log").read_text().count("Traceback")
    report.row("of them refused after an error that no rule foresaw", str(unforeseen))
    ready = sum(row[0] == "ready" for row in rows)
    report.row("hostile files and bundles tried", str(tried))
    report.row("of the media: read / refused in a sentence", f"{ready} / {len(rows) - ready}")
    report.row("crashes", str(crashes), well=crashes == 0)
    report.row("all done after", f"{time.monotonic() - began:.0f} s", well=took < 3600)
    report.row("another team's good file, sent after all of them", f"{good:.1f} s", well=good < 120)
    longest = max(watching.took)
    report.row("bystander: longest edit, of how many", f"{longest:.2f} s, {len(watching.took)}", well=longest < 1)
    report.row("bystander: edits not acknowledged", str(watching.failures), well=not watching.failures)
    for name in ("web child", "worker child", "imports child", "limited child", "limited"):
        report.row(f"most memory of a process: {name}", f"{field.peak.get(name, 0) / MEGABYTE:.0f} MB")


def deaths(field: Field, report: Report) -> None:
    """Each part killed in the middle of edits, imports, exports and joins."""
    print("| part killed | edits again after | acknowledged edits lost | work stuck |")
    for name in PARTS:
        person = Person(field.address)
        watching = Bystander(person, 0.05)
        some_work(person)
        watching.start()
        time.sleep(1.5)
        server = {"postgres": field.stack.postgres, "redis": field.stack.redis}.get(name)
        process = server._process if server is not None else field.stack.processes[name]
        killed = time.monotonic()
        with contextlib.suppress(ProcessLookupError):
            os.killpg(process.pid, signal.SIGKILL)
        again = until(lambda k=killed, w=watching: w.acknowledged > k + 0.3 and w.acknowledged > k, 60)
        gap = watching.acknowledged - killed if again < 60 else float("inf")
        time.sleep(1)
        watching.end()
        done = until(lambda: open_work(field) == 0, 240)
        stuck = open_work(field)
        lost = field.lost(watching.kept)
        failed = count_of(field, "SELECT count(*) FROM export_files WHERE state = 'failed'")
        well = gap < 10 and not lost and not stuck and not failed
        found = f"{gap:.1f} s | {lost} of {len(watching.kept)} | {stuck}, all done after {done:.0f} s"
        report.row(name, found, well=well)


def open_work(field: Field) -> int:
    return sum(count_of(field, query) for query in (OPEN_EXPORTS, OPEN_FILES, OPEN_OPENINGS))


def some_work(person: Person, resolution: int = 1080) -> None:
    """An import, a slow one, and an export going on."""
    demo = Path(__file__).parent.parent / "src/glowreel/demo/media/over-the-fields.mp4"
    person.send("/shelf/uploads", "fields.mp4", demo.read_bytes() + os.urandom(8))
    person.send("/shelf/uploads", "film.mp4", footage(frames=200) + os.urandom(8))
    person.post(f"{person.promo}/edit", {"command": '{"do": "insert-filler", "length": 42336000000}'})
    person.post(f"{person.promo}/exports", {"formats": "wide", "resolution": str(resolution)})


def crowd(field: Field, report: Report) -> None:
    """Twenty people at once, on one promo and on twenty."""
    people = [Person(field.address) for _ in range(5)]
    shared = people[0]
    twenty = [people[n % 5] for n in range(20)]
    promos = [_fresh(target, number) for number, target in enumerate(twenty)]
    _edit_together(report, "on one promo", [shared] * 20, [shared.promo] * 20)
    _edit_together(report, "on twenty promos", twenty, promos)


def _fresh(person: Person, number: int) -> str:
    page = person.post("/promos", {"name": f"Crowd {number}", "formats": "wide"}, page=True)
    return "/promos/" + page.decode().split('data-base="/promos/')[1].split('"')[0]


def _edit_together(report: Report, title: str, people: list[Person], promos: list[str]) -> None:
    took: list[float] = []
    pause = random.Random(1)

    def work(number: int) -> None:
        for step in range(25):
            began = time.monotonic()
            people[number].edit(f"crowd {number} {step}", promos[number])
            took.append(time.monotonic() - began)
            time.sleep(pause.uniform(0.5, 1.5))

    with ThreadPoolExecutor(20) as pool:
        list(pool.map(work, range(20)))
    worst = statistics.quantiles(took, n=20)[-1] * 1000
    found = f"median {statistics.median(took) * 1000:.0f}, p95 {worst:.0f} ms of {len(took)}"
    report.row(f"20 people editing about once a second {title}", found, well=worst < 300)


def slow_connections(field: Field, report: Report) -> None:
    """Connections that send a letter now and then, without an account."""
    held = []
    for number in range(400):
        connection = socket.create_connection(("127.0.0.1", field.stack.port))
        part = b"GET /welcome HTTP/1.1\r\nHost: lo" if number % 2 else (
            b"POST /sign-in HTTP/1.1\r\nHost: localhost\r\nContent-Length: 90000\r\n\r\na"
        )  # fmt: skip
        connection.sendall(part)
        held.append(connection)
    watching = Bystander(Person(field.address))
    watching.start()
    closed = until(lambda: sum(_closed(connection) for connection in held) == len(held), 60)
    watching.end()
    longest = max(watching.took)
    report.row("400 slow connections: longest edit of somebody else", f"{longest:.2f} s", well=longest < 1)
    report.row("400 slow connections: all cut off after", f"{closed:.0f} s", well=closed < 60)


def _closed(connection: socket.socket) -> bool:
    try:
        connection.setblocking(False)
        return connection.recv(4096) == b"" or _closed(connection)
    except BlockingIOError:
        return False
    except OSError:
        return True


def large_bodies(field: Field, report: Report) -> None:
    """Forms of 400 MB, past the front and straight to the web server."""
    field.peak.clear()

    def send(_: int) -> str:
        with socket.socket(socket.AF_UNIX) as connection:
            connection.settimeout(30)
            connection.connect(str(field.stack.front.web))
            head = "POST /sign-in HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/x-www-form-urlencoded\r\n"
            connection.sendall((head + "Content-Length: 400000000\r\n\r\n").encode())
            with contextlib.suppress(OSError):
                for _ in range(400):
                    connection.sendall(b"a=1&" * 250_000)
            with contextlib.suppress(OSError):
                return connection.recv(20).decode("latin-1")
            return "cut off"

    with ThreadPoolExecutor(8) as pool:
        said = list(pool.map(send, range(8)))
    time.sleep(1)
    most = field.peak.get("web child", 0) / MEGABYTE
    report.row("8 forms of 400 MB: most memory of a web process", f"{most:.0f} MB ({said[0][:12]!r})", well=most < 500)


def emptied_queue(field: Field, report: Report) -> None:
    """Everything in Redis thrown away in the middle of work."""
    person = Person(field.address)
    some_work(person)
    time.sleep(0.5)
    import redis

    redis.Redis.from_url(field.stack.redis.url).flushall()
    done = until(lambda: count_of(field, OPEN_EXPORTS) + count_of(field, OPEN_FILES) == 0, 240)
    report.row("Redis emptied in the middle of work: all done after", f"{done:.0f} s", well=done < 240)


def full_disk(field: Field, report: Report) -> None:
    """A store without room: it is said, nothing is left behind, and work goes on when there is room again."""
    blobs = field.stack.folder / "blobs"
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", "size=60m", "none", str(blobs)], capture_output=True)
    if mounted.returncode:
        report.row("disk full", "not tried: no small disk can be made here")
        return
    try:
        person = Person(field.address)
        watching = Bystander(person)
        watching.start()
        said = []
        for number in range(12):
            status, answer = person.send("/shelf/uploads", f"sound-{number}.wav", wav(40 + number / 100))
            said.append((status, answer.get("sentence", "")))
        refused = [sentence for status, sentence in said if status == 507]
        report.row("disk full: uploads taken / refused", f"{12 - len(refused)} / {len(refused)}: {refused[:1]}",
                   well=bool(refused) and all(status in (201, 507) for status, _ in said))  # fmt: skip
        parts = list(blobs.rglob("*.part"))
        report.row("disk full: parts left behind", str(len(parts)), well=not parts)
        waiting = count_of(field, OPEN_FILES)
        subprocess.run(["mount", "-o", "remount,size=2g", str(blobs)], check=True)
        done = until(lambda: count_of(field, OPEN_FILES) == 0, 120)
        failed = count_of(field, "SELECT count(*) FROM media WHERE name LIKE 'sound-%%' AND state = 'failed'")
        found = f"{waiting}, {done:.0f} s; failed {failed}"
        report.row("disk full: files waiting, done after there is room", found, well=done < 120 and not failed)
        watching.end()
        longest = max(watching.took)
        report.row("disk full: longest edit meanwhile", f"{longest:.2f} s", well=longest < 1)
    finally:
        subprocess.run(["umount", "-l", str(blobs)], check=False)


def long_sound(field: Field, report: Report) -> None:
    """Nearly two hours of sound."""
    person = Person(field.address)
    field.peak.clear()
    data = _hours()
    began = time.monotonic()
    status, said = person.send("/shelf/uploads", "long.mp3", data)
    key = said.get("id", "")
    until(lambda: field.ask("SELECT state FROM media WHERE id = %s", key)[0][0] in ("ready", "failed"), 1200)
    state, attempts = field.ask("SELECT state, attempts FROM media WHERE id = %s", key)[0]
    most = field.peak.get("limited child", 0) / MEGABYTE
    found = f"{state} at attempt {attempts} after {time.monotonic() - began:.0f} s, at most {most:.0f} MB"
    report.row(f"115 minutes of MP3 ({len(data) / 1e6:.0f} MB)", found, well=state == "ready" and most < 600)


def _hours() -> bytes:
    """115 minutes of MP3: a minute, so many times. Frames of that format stand by themselves."""
    from attacks.files import song

    minute = song("mp3", "mp3", 60.0)
    start = minute.index(b"\xff\xfb")
    return minute + minute[start:] * 114


def stubborn_work(field: Field, report: Report) -> None:
    """A file that would take for ever is taken off the Shelf, and its work ends."""
    person = Person(field.address)
    _, said = person.send("/shelf/uploads", "stubborn.svg", heavy_filters(50))
    until(lambda: field.ask("SELECT state FROM media WHERE id = %s", said["id"])[0][0] == "running", 30)
    time.sleep(1)
    person.post(f"/shelf/{said['id']}/remove", {})
    ended = until(lambda: not _at_work(field), 30)
    report.row("a file taken off the Shelf: its work ends after", f"{ended:.1f} s", well=ended < 10)


def _at_work(field: Field) -> bool:
    pid = field.stack.processes["limited"].pid
    found = subprocess.run(["ps", "-o", "pid=", "--ppid", str(pid)], capture_output=True, text=True)
    return bool(found.stdout.strip())


def pair(field: Field, report: Report) -> None:
    """Two people in two browsers change one promo at random, 200 times each."""
    from attacks.pair import EDITS, change_together

    found = change_together(field)
    kept = sum(one["kept"] for one in found["told"])  # type: ignore[attr-defined]
    report.row("edits tried by two people, kept", f"{2 * EDITS}, {kept} in {found['seconds']:.0f} s",
               well=kept == 2 * EDITS)  # fmt: skip
    steps = int(str(found["steps"]))
    report.row("steps kept of them (one was there before)", str(steps), well=steps == kept + 1)
    report.row("both windows show the same at the end", str(found["same"]), well=bool(found["same"]))
