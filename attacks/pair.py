"""Two people in two browsers, who change one promo at random at the same time."""

from __future__ import annotations

import json
import os
import random
import tempfile
import time
import uuid
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.common.by import By
from tools.browser import open_browser

from attacks.field import Field

PASSWORD = "seven quiet lanterns"
EDITS = 200
CHANGE = """
const [seed, count, done] = arguments;
let state = seed; const random = (most) => { state = (state * 1103515245 + 12345) % 2147483648; return state % most; };
Promise.all([import('/static/js/editor/commands.js'), import('/static/js/editor/model.js')]).then(
  async ([{ send }, { model }]) => {
    const told = { kept: 0, refused: 0 };
    const second = 705600000;
    // A step that changes nothing is none: every one here asks for something else than there is.
    const other = (one) => {
      const wanted = second / 2 + (second / 30) * random(70);
      return Math.abs(wanted / second - one.length) < 0.001 ? wanted + second / 30 : wanted;
    };
    for (let n = 0; told.kept < count && n < 5 * count; n += 1) {
      const clips = model.state.main;
      const one = clips.length ? clips[random(clips.length)] : null;
      const command = [
        { do: 'insert-filler', length: second * (1 + random(3)) },
        one && { do: 'trim', item: one.id, edge: 'end', length: other(one) },
        one && { do: 'remove', items: [one.id] },
        { do: 'rename', name: `Named ${seed} ${n}` },
        one && { do: 'split', item: one.id, at: second / 4 },
      ][n % 7 === 0 ? 2 : random(5)] ?? { do: 'rename', name: `Named ${seed} ${n} again` };
      const answer = await send(command).catch(() => null);
      if (answer) told.kept += 1; else told.refused += 1;
    }
    done(told);
  });
"""
WHAT = "return document.querySelector('#editor').dataset.live"


def people(field: Field) -> tuple[list[str], str]:
    """Two people of one team by their addresses, and a promo of theirs."""
    os.environ.update(field.stack.environment)
    from glowreel.jobs.app import runtime
    from glowreel.services import accounts, promos, teams
    from glowreel.services.access import Actor
    from glowreel.store.models import Team

    addresses = [f"{uuid.uuid4().hex}@pair.example" for _ in range(2)]
    with runtime.database.unit() as unit:
        first, second = (
            accounts.sign_up(unit.session, f"Pair {n}", one, PASSWORD, "") for n, one in enumerate(addresses)
        )
        teams.join(unit.session, second, unit.session.get_one(Team, first.team_id), "editor")
        second.team_id = first.team_id
        promo = promos.create(unit.session, Actor.person(first.id, first.team_id), "Pair", ("wide", "tall"))
        return addresses, promo.id


def enter(field: Field, folder: str, address: str, promo: str) -> webdriver.Chrome:
    browser = open_browser(Path(folder))
    browser.set_script_timeout(1800)
    browser.get(f"{field.address}/sign-in")
    for name, value in (("email", address), ("password", PASSWORD)):
        browser.find_element(By.ID, name).send_keys(value)
    browser.find_element(By.CSS_SELECTOR, "form .btn-main").click()
    time.sleep(2)
    browser.get(f"{field.address}/promos/{promo}")
    end = time.monotonic() + 30
    while not browser.find_elements(By.CSS_SELECTOR, '#editor[data-ready="1"]'):
        assert time.monotonic() < end, "the editor does not open"
        time.sleep(0.1)
    return browser


def change_together(field: Field) -> dict[str, object]:
    """Has both change it; what each did, how many steps there are, and whether both see the same in the end."""
    from concurrent.futures import ThreadPoolExecutor

    addresses, promo = people(field)
    with tempfile.TemporaryDirectory() as one, tempfile.TemporaryDirectory() as two:
        windows = [enter(field, folder, address, promo) for folder, address in zip((one, two), addresses, strict=True)]
        try:
            began = time.monotonic()
            with ThreadPoolExecutor(2) as pool:
                seeds = [random.randrange(1, 10_000) for _ in windows]
                told = list(
                    pool.map(lambda w: w[0].execute_async_script(CHANGE, w[1], EDITS), zip(windows, seeds, strict=True))
                )
            took = time.monotonic() - began
            time.sleep(5)
            states = [_state(window) for window in windows]
        finally:
            for window in windows:
                window.quit()
    steps = field.ask("SELECT count(*) FROM revisions WHERE promo_id = %s", promo)[0][0]
    return {
        "told": told,
        "steps": steps,
        "same": states[0] == states[1],
        "seconds": took,
        "clips": states[0].count('"id"'),
    }


def _state(window: webdriver.Chrome) -> str:
    """What a page knows of the promo, without what is its own."""
    state = window.execute_async_script(
        "const done = arguments[0]; import('/static/js/editor/model.js').then(({model}) => done(model.state))"
    )
    return json.dumps({key: state[key] for key in ("rev", "main", "formats") if key in state}, sort_keys=True)
