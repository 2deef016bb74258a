"""Several machines: hosts in networks of their own beside a store that speaks S3, and a farm of up to 200 workers by
simulation from what pieces took on these."""

from __future__ import annotations

import json
import logging
import os
import random
import statistics
import subprocess
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from moto.server import ThreadedMotoServer
from sqlalchemy import select
from tools.stack import Stack
from tools.supervised import ROOT, end_group
from tools.workers import Joined, invitation, read_invitation

from glowreel.core.farm import Ran, Waiting, simulate
from glowreel.services import accounts, exports, promos
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime, Settings
from glowreel.store.models import ExportFile, PromoRow

Show = Callable[[str, str, str, bool], None]
ADDRESS, HOSTS = "10.77.{}.1", 2
FORMATS, SIDE = ("wide", "square", "tall"), 720
WORKERS = (1, 2, 4, 8, 16, 32, 64, 100, 150, 200)
TEAMS, EXPORTS_EACH, PIECES_EACH = 12, 5, 40


def _ip(*arguments: str) -> None:
    subprocess.run(["ip", *arguments], check=True, capture_output=True)


@contextmanager
def hosts() -> Iterator[list[tuple[str, str]]]:
    """Networks that reach this machine by an address each and nothing else: (name, this machine's address in it)."""
    made = []
    try:
        for number in range(HOSTS):
            name, near = f"farm{number}", ADDRESS.format(number)
            _ip("netns", "add", name)
            made.append((name, near))
            _ip("link", "add", f"v{name}", "type", "veth", "peer", "name", "eth0", "netns", name)
            _ip("addr", "add", f"{near}/24", "dev", f"v{name}")
            _ip("link", "set", f"v{name}", "up")
            _ip("netns", "exec", name, "ip", "addr", "add", near[:-1] + "2/24", "dev", "eth0")
            _ip("netns", "exec", name, "ip", "link", "set", "eth0", "up")
            _ip("netns", "exec", name, "ip", "link", "set", "lo", "up")
            # One address for the servers, whichever network it is reached from.
            _ip("netns", "exec", name, "ip", "route", "add", ADDRESS.format(0), "via", near)
        yield made
    finally:
        for name, _ in made:
            subprocess.run(["ip", "netns", "del", name], capture_output=True)


def farm(folder: Path, show: Show) -> None:
    """One host, two hosts, and one of two killed in mid-work; then simulated workers."""
    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    with hosts() as networks:
        server = ThreadedMotoServer("0.0.0.0", 0, verbose=False)
        server.start()
        _, port = server.get_host_and_port()
        told = {"AWS_ENDPOINT_URL": f"http://{ADDRESS.format(0)}:{port}", "AWS_ACCESS_KEY_ID": "farm",
                "AWS_SECRET_ACCESS_KEY": "farm", "AWS_DEFAULT_REGION": "us-east-1",
                "GLOWREEL_BLOBS": "s3://glowreel/store"}  # fmt: skip
        os.environ.update(told)
        stack = Stack(folder / "servers", share=ADDRESS.format(0))
        try:
            stack.start()
            taken = _on_hosts(stack, folder, networks, show)
        finally:
            stack.stop()
            server.stop()
            for name in told:
                os.environ.pop(name)
    _simulated(taken, show)


def _on_hosts(stack: Stack, folder: Path, networks: list[tuple[str, str]], show: Show) -> Taken:
    """Makes the same three films on one host of one core and on two; answers with what work took."""
    end_group(stack.processes["worker"], 9)  # Films are made by the hosts alone.
    path = folder / "join.env"
    path.write_text(invitation(stack.environment, ADDRESS.format(0)))
    joined = [
        Joined(folder / name, read_invitation(path), ("ip", "netns", "exec", name), 1, ("taskset", "-c", str(core)))
        for core, (name, _) in enumerate(networks)
    ]
    settings = {key.removeprefix("GLOWREEL_").lower(): value for key, value in stack.environment.items()}
    runtime = Runtime(Settings(database=settings["database"], redis=settings["redis"], blobs=settings["blobs"],
                               cache=str(folder / "cache")), _sent)  # fmt: skip
    try:
        joined[0].start(("worker",))
        one = _films(runtime)
        joined[1].start(("worker",))
        two = _films(runtime)
        figure = f"{one:.0f} s, {two:.0f} s: {one / two:.2f} x"
        show("three films of 20 s at 720p, two hosts of a core each beside one", figure,
             "> 1.30 x", one / two > 1.3)  # fmt: skip

        def kill() -> None:
            for process in joined[1].processes.values():
                end_group(process, 9)

        killed = _films(runtime, kill)
        show("the same, one of two hosts killed in mid-work", f"{killed:.0f} s, all films whole",
             "< 1.35 x one host", killed < 1.35 * one)  # fmt: skip
        return _taken(joined[0].folder / "worker.log")
    finally:
        for host in joined:
            host.stop()


def _sent(task: str, args: tuple[object, ...]) -> None:
    from celery import Celery

    from glowreel.jobs.queues import ROUTES

    queue = next((queue for queue, names in ROUTES.items() if task in names), "errands")
    Celery("farm", broker=os.environ["FARM_REDIS"]).send_task(task, args=args, queue=queue, ignore_result=True)


def _films(runtime: Runtime, midway: Callable[[], None] | None = None) -> float:
    """Exports the demo promo anew, from nothing; answers with the seconds until its films are whole."""
    os.environ["FARM_REDIS"] = runtime.settings.redis
    for kind in ("pieces", "sounds"):
        for key, _ in list(runtime.blobs.listing(kind)):
            runtime.blobs.remove(key)
    with runtime.database.unit() as unit:
        team = accounts.demo_user(unit.session).team_id
        query = select(PromoRow.id).where(PromoRow.team_id == team, PromoRow.name == "Dawn flight vouchers")
        actor = Actor("person", team, "owner", None)
        promo_id = promos.duplicate(unit.session, unit.session.scalar(query), actor).id
        export = exports.start(unit, promo_id, actor, FORMATS, SIDE, "Farm")
        ids = [file.id for file in export.files]
    began = time.monotonic()
    while time.monotonic() - began < 600:
        with runtime.database.unit() as unit:
            files = [unit.session.get_one(ExportFile, key) for key in ids]
            states = [file.state for file in files]
            share = sum(file.frames_done for file in files) / sum(file.frames for file in files)
        if midway is not None and share > 0.3:
            midway()
            midway = None
        if all(state == "done" for state in states):
            return time.monotonic() - began
        assert "failed" not in states, [file.error for file in files]
        time.sleep(0.2)
    raise SystemExit("The films were not made in ten minutes.")


@dataclass(frozen=True)
class Taken:
    """What work took on a host, in seconds: each piece, what its task took besides, and what joining took."""

    pieces: list[float]
    start: float
    join: float


def _taken(log: Path) -> Taken:
    """The same by what the worker wrote."""
    lines = [json.loads(line) for line in log.read_text().splitlines() if line.startswith("{")]
    pieces = [float(line["seconds"]) for line in lines if line["says"] == "piece made"]
    ended = [line for line in lines if line["says"] == "task ended" and line["ended"] == "done"]
    tasks = [float(line["seconds"]) for line in ended if line["task"] == "export_piece"]
    joins = [float(line["seconds"]) for line in ended if line["task"] == "export_join"]
    # Tasks that found no piece waiting are among them: what all of them took besides pieces is shared by the pieces.
    return Taken(pieces, max(0.0, sum(tasks) - sum(pieces)) / len(pieces), statistics.median(joins))


def _simulated(taken: Taken, show: Show) -> None:
    """A busy morning of twelve teams, by what pieces took."""
    draw = random.Random(18)
    pieces = [
        Waiting(f"team-{team}", number * TEAMS + team, piece, draw.choice(taken.pieces))
        for team in range(TEAMS) for number in range(EXPORTS_EACH) for piece in range(PIECES_EACH)
    ]  # fmt: skip
    runs = {workers: simulate(pieces, workers, taken.join, taken.start) for workers in WORKERS}
    show("a piece, its start, a joining, on a host of one core",
         f"{statistics.median(taken.pieces):.1f} s, {taken.start:.2f} s, {taken.join:.1f} s", "", True)  # fmt: skip
    for workers in (2, 32, 100, 200):
        ran = runs[workers]
        show(f"simulated: {len(pieces)} pieces, {workers} workers",
             f"{ran.seconds:.0f} s, efficiency {ran.efficiency:.2f}", ">= 0.80", ran.efficiency >= 0.8)  # fmt: skip
    (ROOT / "docs" / "farm.svg").write_text(plot(runs))


def plot(runs: dict[int, Ran]) -> str:
    """Efficiency over the number of workers, as a picture."""
    wide, high, left, low = 640, 300, 56, 250
    x = {workers: left + (wide - left - 20) * workers / max(runs) for workers in runs}
    y = {workers: low - (low - 20) * ran.efficiency for workers, ran in runs.items()}
    line = " ".join(f"{x[one]:.1f},{y[one]:.1f}" for one in runs)
    grid = "".join(
        f'<path d="M{left} {low - (low - 20) * share:.0f}H{wide - 20}" stroke="#ddd6c8"/>'
        f'<text x="{left - 8}" y="{low - (low - 20) * share + 4:.0f}" text-anchor="end">{share:.1f}</text>'
        for share in (0, 0.2, 0.4, 0.6, 0.8, 1.0)
    )
    marks = "".join(f'<circle cx="{x[one]:.1f}" cy="{y[one]:.1f}" r="3.5" fill="#c8410b"/>' for one in runs)
    names = "".join(
        f'<text x="{x[one]:.1f}" y="{low + 18}" text-anchor="middle">{one}</text>'
        for one in runs
        if one > 4 or one == 1
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" font-family="sans-serif" font-size="12">'
        f'<rect width="{wide}" height="{high}" fill="#fffdf7"/>{grid}'
        f'<polyline points="{line}" fill="none" stroke="#2b2749" stroke-width="2"/>{marks}{names}'
        f'<text x="{wide / 2}" y="{high - 10}" text-anchor="middle">workers</text>'
        f'<text x="{left}" y="14">efficiency</text></svg>\n'
    )
