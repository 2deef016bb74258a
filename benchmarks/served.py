"""What the running program takes: edits on a large promo, scrubbing over HTTP, opening the editor in a browser."""

from __future__ import annotations

import json
import os
import random
import re
import statistics
import time
import urllib.parse
import urllib.request
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

from sqlalchemy import func, select
from tools.browser import open_browser
from tools.stack import Stack

from benchmarks.material import Shop, many_items
from benchmarks.smooth import gestures


class Client:
    """A signed-in visitor of the demo."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        page = self.get("/welcome").decode()
        self.token = re.search(r'name="csrf-token" content="([^"]+)"', page).group(1)  # type: ignore[union-attr]
        self.post("/demo", {})

    def get(self, path: str) -> bytes:
        return bytes(self.opener.open(self.address + path).read())

    def post(self, path: str, values: dict[str, str]) -> str:
        data = urllib.parse.urlencode({**values, "csrf_token": self.token}).encode()
        request = urllib.request.Request(self.address + path, data, {"X-Glow": "1", "X-CSRFToken": self.token})
        return str(self.opener.open(request).read().decode())


def served(folder: Path) -> None:
    from benchmarks.__main__ import show

    stack = Stack(folder / "var")
    try:
        stack.start()
        os.environ.update(stack.environment)
        from glowreel.jobs.app import runtime
        from glowreel.services import accounts, promos
        from glowreel.services.access import Actor
        from glowreel.store.models import MediaFile, new_key

        shop = Shop(folder)
        with runtime.database.unit() as unit:
            user = accounts.demo_user(unit.session)
            assert user is not None
            team = user.team_id
            photo = unit.session.query(MediaFile).filter_by(team_id=team, name="picnic.jpg").one()
            ids = []
            for clips, layers in ((300, 200), (100, 40)):
                promo = many_items(shop, clips, layers)
                (old,) = promo.media.values()
                data = promo.model_dump_json().replace(old.id, photo.id)
                promo = type(promo).model_validate_json(data).changed(id=new_key("p"), name=f"{clips + layers} items")
                ids.append(promos.adopt(unit.session, Actor.program(team), promo, "Bench").id)
        client = Client(stack.address)
        path = f"/promos/{ids[0]}"
        with runtime.database.unit() as unit:
            before = stored(unit.session, ids[0])
        took, sizes = edits(client, path)
        with runtime.database.unit() as unit:
            kept = (stored(unit.session, ids[0]) - before) / RUNS
        show(
            "edit of a promo of 500 items, request to answer",
            f"median {statistics.median(took):.0f} ms, p95 {took[int(len(took) * 0.95)]:.0f} ms",
            "p95 < 100 ms",
            took[int(len(took) * 0.95)] < 100,
        )
        show(
            "answer to a trim of a promo of 500 items, the clip selected",
            f"median {statistics.median(sizes) / 1000:.1f} kB, largest {max(sizes) / 1000:.1f} kB",
            "< 20 kB",
            max(sizes) < 20_000,
        )
        show("kept in the database for each edit of it", f"{kept / 1000:.1f} kB", "< 8 kB", kept < 8000)
        demo = next(p for p in re.findall(r'href="(/promos/p-[^"/]+)"', client.get("/").decode()) if p[8:] not in ids)
        took = scrub(client, demo)
        show(
            "scrub of the demo over HTTP, 640x360",
            f"median {statistics.median(took):.0f} ms, p95 {took[int(len(took) * 0.95)]:.0f} ms",
            "p95 < 80 ms",
            took[int(len(took) * 0.95)] < 80,
        )
        opening(stack, f"/promos/{ids[1]}", f"/promos/{ids[0]}", folder)
    finally:
        stack.stop()


RUNS = 100


def stored(session: Any, promo_id: str) -> int:
    """Bytes of a promo's history."""
    from glowreel.store.models import Revision

    total = func.sum(func.octet_length(Revision.document) + func.octet_length(Revision.sentence))
    return int(session.scalar(select(total).where(Revision.promo_id == promo_id)))


def edits(client: Client, path: str) -> tuple[list[float], list[int]]:
    """Milliseconds of eighty edits of different kinds, and bytes of the answers to trims."""
    page = client.get(path).decode()
    state = json.loads(re.search(r'id="state"[^>]*>(.*?)</script>', page).group(1))  # type: ignore[union-attr]
    clips = [row["id"] for row in state["main"]]
    titles = [row["id"] for track in state["tracks"] for row in track["rows"] if row["kind"] == "words"]
    rng = random.Random(3)
    took = []
    revision, sizes = state["rev"], []
    for n in range(RUNS):
        command = [
            {"do": "trim", "item": rng.choice(clips), "length": rng.randrange(1, 3) * 705_600_000},
            {"do": "move-clips", "clips": [rng.choice(clips)], "before": rng.choice(clips)},
            {"do": "set", "items": [rng.choice(titles)], "values": {"text": f"Words {n}"}},
            {"do": "move-item", "item": rng.choice(titles), "at": rng.randrange(600) * 705_600_000},
        ][n % 4]
        began = time.perf_counter()
        form = {
            "command": json.dumps(command),
            "selected": str(command.get("item", "")),
            "format": "wide",
            "rev": str(revision),
        }
        answer = client.post(path + "/edit", form)
        lasted = (time.perf_counter() - began) * 1000
        said = re.search(r'id="state"[^>]*>(.*?)</script>', answer)
        revision = json.loads(said.group(1))["rev"] if said else revision
        if command["do"] == "trim":
            sizes.append(len(answer.encode()))
        if n >= 20:
            took.append(lasted)
    return sorted(took), sizes


def scrub(client: Client, path: str) -> list[float]:
    """Milliseconds of frames never drawn before."""
    frames = list(range(600))
    random.Random(5).shuffle(frames)
    took = []
    for n, frame in enumerate(frames[:240]):
        began = time.perf_counter()
        client.get(f"{path}/frame.jpg?format=wide&frame={frame}&short=360")
        if n >= 40:  # By then every process has opened every file.
            took.append((time.perf_counter() - began) * 1000)
    return sorted(took)


def opening(stack: Stack, path: str, long: str, folder: Path) -> None:
    """From the click on the Desk to an editor that can be used and shows its frame; then gestures on the long promo."""
    from benchmarks.__main__ import show

    driver = open_browser(folder / "profile")
    try:
        driver.get(stack.address + "/welcome")
        driver.find_element("id", "enter-demo").click()
        took = []
        for _ in range(5):
            driver.get(stack.address + "/")
            time.sleep(0.5)
            began = time.perf_counter()
            driver.find_element("css selector", f'a[href="{path}"]').click()
            while not driver.execute_script(
                "const e = document.getElementById('editor'), f = document.getElementById('frame');"
                "return e && e.dataset.ready && f.dataset.shown"
            ):
                time.sleep(0.01)
            took.append(time.perf_counter() - began)
        median = statistics.median(took)
        show(
            "editor of 140 items, from click to usable",
            f"median {median:.2f} s, longest {max(took):.2f} s",
            "< 1.5 s",
            median < 1.5,
        )
        driver.get(stack.address + long)
        while not driver.execute_script("return document.getElementById('editor')?.dataset.ready"):
            time.sleep(0.05)
        time.sleep(1.5)
        for zoom, presses in (("all in sight", 0), ("zoomed in", 8)):
            for _ in range(presses):
                driver.find_element("id", "zoom-in").click()
            time.sleep(0.5)
            for what, (rate, gap) in gestures(driver).items():
                show(
                    f"500 items, {zoom}: {what}",
                    f"{rate:.0f} frames/s, longest gap {gap:.0f} ms",
                    ">= 30 frames/s",
                    rate >= 30,
                )
    finally:
        driver.quit()
