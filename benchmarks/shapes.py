"""One edit in six formats with all their pictures new, three formats that play side by side, and three exported in one
go beside the widest alone."""

from __future__ import annotations

import json
import os
import re
import statistics
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from tools.browser import open_browser
from tools.stack import Stack

from benchmarks.served import Client

RUNS = 100
SIX = ("portrait", "classic", "cinema")
"""What is added to the demo's three formats."""
Show = Callable[[str, str, str, bool], None]


def shapes(folder: Path, show: Show) -> None:
    stack = Stack(folder / "var")
    try:
        stack.start()
        os.environ.update(stack.environment)
        client = Client(stack.address)
        path = next(iter(re.findall(r'href="(/promos/p-[^"/]+)"', client.get("/").decode())))
        for key in SIX:
            client.post(path + "/edit", {"command": json.dumps({"do": "add-format", "format": key})})
        edits(client, path, show)
        with tempfile.TemporaryDirectory(prefix="glowreel-shapes-") as profile:
            side_by_side(stack.address, path, Path(profile), show)
    finally:
        stack.stop()


def edits(client: Client, path: str, show: Show) -> None:
    """Words are changed while all six thumbnails are in sight: the answer, and until the last thumbnail is new."""
    page = client.get(path).decode()
    state = json.loads(re.search(r'id="state"[^>]*>(.*?)</script>', page).group(1))  # type: ignore[union-attr]
    title = next(row["id"] for track in state["tracks"] for row in track["rows"] if row["kind"] == "words")
    formats = [format["id"] for format in state["formats"]]
    answers, pictures = [], []
    with ThreadPoolExecutor(6) as pool:
        for n in range(RUNS):
            command = {"do": "set", "items": [title], "values": {"text": f"Fly at {n}"}}
            began = time.perf_counter()
            answer = client.post(path + "/edit", {"command": json.dumps(command), "rev": str(state["rev"])})
            answers.append((time.perf_counter() - began) * 1000)
            state["rev"] = json.loads(re.search(r'id="state"[^>]*>(.*?)</script>', answer).group(1))["rev"]  # type: ignore[union-attr]
            urls = [f"{path}/frame.jpg?rev={state['rev']}&format={key}&frame=45&short=120" for key in formats]
            list(pool.map(client.get, urls))
            pictures.append((time.perf_counter() - began) * 1000)
    for what, took, most in (("edit with six formats, answer", answers, 80), ("  all six pictures new", pictures, 600)):
        worst = sorted(took)[int(len(took) * 0.95)]
        show(what, f"median {statistics.median(took):.0f} ms, p95 {worst:.0f} ms", f"p95 < {most} ms", worst < most)


def side_by_side(address: str, path: str, profile: Path, show: Show) -> None:
    """Frames a second of each format when three play beside one another."""
    driver = open_browser(profile)
    try:
        driver.get(address + "/")
        driver.find_element("id", "enter-demo").click()
        time.sleep(1)
        driver.get(address + path)
        time.sleep(2)
        send = "const done = arguments[1]; import('/static/js/editor/commands.js').then(async ({send}) => {for (const id of arguments[0]) await send({do: 'remove-format', format: id}); done()})"  # noqa: E501
        driver.execute_async_script(send, list(SIX))
        # What follows an edit, such as the checks of every format, is over before anybody plays.
        time.sleep(8)
        driver.find_element("id", "side-by-side").click()
        time.sleep(1)
        for time_round in ("first", "again"):
            driver.execute_script("document.querySelector('#play').click()")
            time.sleep(2)
            counting = (
                "return [...document.querySelectorAll('[data-beside] canvas')].map((c) => Number(c.dataset.painted))"
            )
            before, began = driver.execute_script(counting), time.perf_counter()
            time.sleep(8)
            after, lasted = driver.execute_script(counting), time.perf_counter() - began
            driver.execute_script("document.querySelector('#play').click()")
            rates = [(b - a) / lasted for a, b in zip(before, after, strict=True)]
            said = " and ".join(f"{rate:.1f}" for rate in rates) + " frames/s"
            show(f"three formats side by side, {time_round}", said, ">= 24", min(rates) >= 24)
            driver.execute_script("import('/static/js/editor/model.js').then(({moveTo}) => moveTo(0))")
            time.sleep(1)
    finally:
        driver.quit()
