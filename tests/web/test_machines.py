"""The machines that work for an installation: seen by owners, told to a monitor, each line of a log to its press."""

from __future__ import annotations

import json
import os
import subprocess
import urllib.error
import urllib.request
import uuid
from pathlib import Path
from typing import Any

import pytest
from prometheus_client.parser import text_string_to_metric_families
from tools.stack import Stack
from tools.supervised import BIN
from tools.workers import invitation, read_invitation

from tests.web.conftest import Browser
from tests.web.test_values import click


def lines(stack: Stack, part: str, says: str) -> list[dict[str, Any]]:
    """What a part of the program wrote, where it says this."""
    written = (stack.folder / f"{part}.log").read_text("utf-8", "replace").splitlines()
    found = [json.loads(line) for line in written if line.startswith("{") and line.endswith("}")]
    return [line for line in found if line["says"] == says]


def figures(stack: Stack, token: str) -> dict[str, Any]:
    asked = urllib.request.Request(f"{stack.address}/figures", headers={"Authorization": f"Bearer {token}"})
    with urllib.request.urlopen(asked) as answer:
        return {family.name: family for family in text_string_to_metric_families(answer.read().decode())}


def test_an_export_is_followed_from_the_press_to_the_worker(browser: Browser, stack: Stack) -> None:
    browser.open_copy()
    # With words that nobody exported before: nothing of it is there already.
    browser.js(
        "import('/static/js/editor/commands.js').then(({send}) =>"
        " send({do: 'add-words', text: arguments[0], at: 0, length: 16 * 705600000}))", uuid.uuid4().hex,
    )  # fmt: skip
    browser.settled()
    browser.click("#open-export")
    browser.until(lambda: browser.all("#export-choices [value='720']"), "its resolutions")
    for format in ("wide", "square"):
        click(browser, f'#export-formats [value="{format}"]')
    click(browser, "#export-choices [value='720']")
    browser.click("#start-export")
    browser.until(lambda: browser.all("#export-list .export-file"), "the export")
    browser.go("/machines")
    queues = browser.find("#machines-now").text
    assert all(name in queues for name in ("Exports", "Derived", "Imports", "Errands"))
    browser.until(lambda: len(browser.all("#machines-now tbody tr")) >= 6, "every worker to tell of itself", 60)
    browser.until(lambda: " of " in browser.find("#films-head ~ *").text, "the film and its pieces")
    browser.until(lambda: browser.all(".film-list .is-done"), "a piece to be done", 120)
    assert browser.accessibility() == []

    def made() -> list[dict[str, Any]]:
        press = [line["request"] for line in lines(stack, "web", "request answered") if line["page"] == "exports.start"]
        return [line for line in lines(stack, "worker", "piece made") if press and line["request"] == press[-1]]

    (piece, *_) = browser.until(made, "the worker's line of this press")
    assert piece["seconds"] > 0


def test_a_monitor_with_the_token_reads_what_waits_and_how_long_things_took(browser: Browser, stack: Stack) -> None:
    browser.enter_demo()
    token = stack.environment["GLOWREEL_MONITOR"]

    def workers() -> dict[str, float]:
        samples = figures(stack, token)["glowreel_workers"].samples
        return {sample.labels["queue"]: sample.value for sample in samples}

    everyone = {"exports": 2, "imports": 2, "derived": 1, "errands": 1}
    browser.until(lambda: workers() == everyone, "every worker to have come", 60)
    found = figures(stack, token)
    assert {sample.labels["queue"] for sample in found["glowreel_queue"].samples} == set(everyone)
    assert any(sample.labels["what"] == "file" and sample.value > 0 for sample in found["glowreel_rows"].samples)
    counts = {
        sample.labels["name"]: sample.value
        for sample in found["glowreel_request_seconds"].samples
        if sample.name.endswith("_count")
    }
    assert counts["desk.desk"] > 0
    for token in ("", "guessed"):
        with pytest.raises(urllib.error.HTTPError, match="404"):
            figures(stack, token)


def test_another_machine_is_told_where_everything_is_and_says_what_it_does_not_reach(
    stack: Stack, tmp_path: Path
) -> None:
    path = tmp_path / "join.env"
    path.write_text(invitation(stack.environment, "10.1.2.3"))
    told = read_invitation(path)
    assert "@10.1.2.3:" in told["GLOWREEL_DATABASE"]
    assert "127.0.0.1" not in path.read_text()
    path.write_text("GLOWREEL_REDIS=redis://nowhere\n")
    with pytest.raises(SystemExit, match="does not say GLOWREEL_DATABASE"):
        read_invitation(path)

    def joins(**changed: str) -> tuple[int, str]:
        told = {**os.environ, **stack.environment, **changed}
        done = subprocess.run([str(BIN / "glowreel"), "join"], env=told, capture_output=True, text=True)
        return done.returncode, done.stdout + done.stderr

    assert joins() == (0, "The database answers, and is of this version.\nThe queue answers.\n"
                       "The store can be written to.\n")  # fmt: skip
    code, said = joins(GLOWREEL_REDIS="redis://127.0.0.1:1/0")
    assert code == 2
    assert "The queue is not reached from here." in said


def test_an_answer_names_its_request_and_takes_over_a_sound_one(stack: Stack) -> None:
    def named(given: str) -> str:
        asked = urllib.request.Request(f"{stack.address}/welcome", headers={"X-Request-Id": given})
        with urllib.request.urlopen(asked) as answer:
            return str(answer.headers["X-Request-Id"])

    assert named("from-the-front-1") == "from-the-front-1"
    assert named('"};evil{"') != '"};evil{"'
    assert len(named("x" * 65)) == 16
