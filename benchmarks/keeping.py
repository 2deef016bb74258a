"""What keeping brands and material takes: templates shown and filled, fifty promos brought up to date, ten thousand
entries searched, two gigabytes sent."""

from __future__ import annotations

import html
import json
import os
import random
import re
import signal
import statistics
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from tools.stack import Stack

from benchmarks.served import Client

Show = Callable[[str, str, str, bool], None]
PROMOS = 50
AT_ONCE = 5
"""So many promos the page of a brand brings up to date with each request."""
ENTRIES = 10_000
LARGE = 2_000_000_000
PIECE = 8 * 1024**2
WORDS = (
    "dawn", "picnic", "lantern", "valley", "offer", "spring", "harvest", "quiet", "window", "river", "bread", "market",
    "autumn", "teaser", "landing", "basket", "ridge", "voucher", "weekend", "garden",
)  # fmt: skip


def keeping(folder: Path, show: Show) -> None:
    stack = Stack(folder / "var")
    try:
        stack.start()
        os.environ.update(stack.environment)
        client = Client(stack.address)
        gallery(client, show)
        filling(client, show)
        swap(client, show)
        find(client, show)
        upload(stack, client, folder, show)
    finally:
        stack.stop()


def _demo() -> tuple[Any, Any]:
    from glowreel.jobs.app import runtime
    from glowreel.services import accounts

    with runtime.database.unit() as unit:
        user = accounts.demo_user(unit.session)
        assert user is not None
        return runtime, user


def gallery(client: Client, show: Show) -> None:
    """The page of all templates and the twelve cards that are in sight, in the team's brand, none drawn before."""
    began = time.perf_counter()
    page = client.get("/templates").decode()
    cards = [html.unescape(path) for path in re.findall(r'src="(/templates/[^"]+frame[.]jpg[^"]*)"', page)]
    with ThreadPoolExecutor(6) as pool:
        list(pool.map(client.get, cards[:12]))
    took = time.perf_counter() - began
    show(f"gallery of {len(cards)} templates, twelve cards drawn", f"{took:.2f} s", "< 1.5 s", took < 1.5)


def filling(client: Client, show: Show) -> None:
    """Other words in each slot of twelve templates, and the frame where it is seen: request to picture."""
    page = client.get("/templates").decode()
    keys = list(dict.fromkeys(re.findall(r'src="/templates/([^/"]+)/frame', page)))[:12]
    took = []
    for key in keys:
        form = client.post(f"/templates/{key}/start", {"name": "Filled"})
        path = re.search(r"/promos/p-[^/\"]+", form).group(0)  # type: ignore[union-attr]
        buttons = re.findall(r'data-slot="([^"]+)"\s+data-frame', form)
        frames = dict(re.findall(r'data-slot="([^"]+)"\s+data-frame="([0-9]+)"', form))
        shape = re.search(r'data-reel-format="([^"]+)"', form).group(1)  # type: ignore[union-attr]
        for slot in dict.fromkeys(buttons):
            began = time.perf_counter()
            try:
                answer = json.loads(client.post(f"{path}/fill/{slot}", {"text": "Said otherwise"}))
            except urllib.error.HTTPError:
                continue  # No words are wanted there.
            query = f"rev={answer['rev']}&format={shape}&frame={frames.get(slot, '10')}&short=360"
            client.get(f"{path}/frame.jpg?{query}")
            took.append((time.perf_counter() - began) * 1000)
    took.sort()
    p95 = took[int(len(took) * 0.95)]
    figure = f"{len(took)} times, median {statistics.median(took):.0f} ms, p95 {p95:.0f} ms"
    show("fill to first preview after a slot changes", figure, "p95 < 400 ms", p95 < 400)


def swap(client: Client, show: Show) -> None:
    """Another logo in a brand, then every promo that has it, five with each request, as its page does it."""
    from glowreel.services import brands, promos
    from glowreel.services.access import Actor
    from glowreel.store.models import MediaFile

    runtime, user = _demo()
    actor = Actor.person(user.id, user.team_id)
    with runtime.database.unit() as unit:
        session = unit.session
        brand = brands.list_brands(session, actor)[0]
        one = next(row for row in promos.list_promos(session, actor) if row.name == "Dawn flight vouchers")
        brands.give(session, one.id, brand.id, actor)
        keys = [promos.duplicate(session, one.id, actor).id for _ in range(PROMOS)]
        logo = session.query(MediaFile).filter_by(team_id=user.team_id, name="hollowmere-mark.svg").one().id
        book = brands.book_of(brand)
        brands.change(session, brand.id, actor, logos={**book.logos, "logo": logo})
        brand_id = brand.id
    path = next(path for path in re.findall(r'action="(/brands/[^"]+)"', client.get(f"/brands/{brand_id}").decode())
                if "bring" in path or "date" in path)  # fmt: skip
    took = []
    for first in range(0, PROMOS, AT_ONCE):
        began = time.perf_counter()
        body = "&".join(f"promos={key}" for key in keys[first : first + AT_ONCE]) + "&some=1"
        headers = {"X-Glow": "1", "X-CSRFToken": client.token}
        request = urllib.request.Request(client.address + path, body.encode(), headers)
        answer = client.opener.open(request).read().decode()
        assert answer.count("p-") == len(keys[first : first + AT_ONCE]), answer
        took.append(time.perf_counter() - began)
    figure = f"{sum(took):.1f} s, slowest step {max(took) * 1000:.0f} ms"
    show("another logo in 50 promos, five at a time", figure, "< 20 s", sum(took) < 20)


def find(client: Client, show: Show) -> None:
    """Find anything among ten thousand files and promos, request to answer."""
    from glowreel.store.models import MediaFile, new_key

    runtime, user = _demo()
    rng = random.Random(5)
    with runtime.database.unit() as unit:
        facts = unit.session.query(MediaFile).filter_by(team_id=user.team_id, name="picnic.jpg").one().facts
        unit.session.add_all(
            MediaFile(id=new_key("m"), team_id=user.team_id, name=f"{' '.join(rng.choices(WORDS, k=3))} {n}.jpg",
                      hash=f"{n:064x}", size=1000, state="ready", made=9, facts=facts)
            for n in range(ENTRIES)
        )  # fmt: skip
    for what, path in (("find anything", "/find?q="), ("the Shelf's own search", "/shelf?find=")):
        took = []
        for n in range(60):
            words = rng.choices(WORDS, k=2)
            if n % 3 == 0:
                words[0] = words[0][:2] + words[0][3:]  # Typed badly.
            began = time.perf_counter()
            request = urllib.request.Request(client.address + path + "+".join(words), headers={"HX-Request": "true"})
            client.opener.open(request).read()
            took.append((time.perf_counter() - began) * 1000)
        took.sort()
        p95 = took[int(len(took) * 0.95)]
        figure = f"median {statistics.median(took):.0f} ms, p95 {p95:.0f} ms"
        show(f"{what} among {ENTRIES:,} entries", figure, "p95 < 150 ms", p95 < 150)


def upload(stack: Stack, client: Client, folder: Path, show: Show) -> None:
    """Two gigabytes in pieces; the web server is killed three times on the way. How much memory it takes at most."""
    block = os.urandom(PIECE)
    headers = {"X-Glow": "1", "X-CSRFToken": client.token, "Tus-Resumable": "1.0.0"}
    told = {**headers, "Upload-Length": str(LARGE), "Upload-Metadata": "filename bGFyZ2UuYmlu"}
    made = client.opener.open(urllib.request.Request(client.address + "/shelf/tus", b"", told, method="POST"))
    where = client.address + made.headers["Location"]
    piece = {**headers, "Content-Type": "application/offset+octet-stream"}
    kills, offset, most, sent, began = [0.25, 0.5, 0.75], 0, 0, 0, time.perf_counter()
    while offset < LARGE:
        data = block[: min(PIECE, LARGE - offset)]
        try:
            asked = {**piece, "Upload-Offset": str(offset)}
            answer = client.opener.open(urllib.request.Request(where, data, asked, method="PATCH"), timeout=120)
            offset, sent = int(answer.headers["Upload-Offset"]), sent + len(data)
            most = max(most, _resident(stack.processes["web"].pid))
        except (urllib.error.URLError, OSError):
            time.sleep(0.3)
            stack.mend()
            offset = _asked(client, where, headers, offset)
        if kills and offset > kills[0] * LARGE:
            kills.pop(0)
            os.killpg(stack.processes["web"].pid, signal.SIGKILL)
    took = time.perf_counter() - began
    figure = f"{took:.0f} s, {sent / LARGE:.2f} x sent, at most {most / 1e6:.0f} MB"
    show("2 GB in pieces, server killed three times", figure, "memory flat, < 1.1 x sent", sent < 1.1 * LARGE)


def _asked(client: Client, where: str, headers: dict[str, str], before: int) -> int:
    try:
        answer = client.opener.open(urllib.request.Request(where, headers=headers, method="HEAD"), timeout=10)
        return int(answer.headers["Upload-Offset"])
    except (urllib.error.URLError, OSError):
        return before


def _resident(leader: int) -> int:
    """Bytes that the largest process of a group keeps in memory."""
    found = 0
    for status in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = status.read_text().rpartition(")")[2].split()
            if int(fields[2]) == os.getpgid(leader):
                found = max(found, int(fields[21]) * os.sysconf("SC_PAGE_SIZE"))
        except (OSError, ValueError, ProcessLookupError):
            continue
    return found
