"""A table of a thousand rows: how long it takes until each has its promo, and what an edit takes meanwhile."""

from __future__ import annotations

import os
import statistics
import time
from collections.abc import Callable
from pathlib import Path

from tools.stack import Stack

from benchmarks.windows import Visitor

Show = Callable[[str, str, str, bool], None]
ROWS = 1000
TEMPLATE = "two-days-only"


def rows(folder: Path, show: Show) -> None:
    stack = Stack(folder / "var")
    try:
        stack.start()
        os.environ.update(stack.environment)
        took, made, edits = _made(stack)
    finally:
        stack.stop()
    show(f"table: {made} of {ROWS} rows are promos", f"{took:.1f} s", "< 60 s", took < 60 and made == ROWS)
    worst = statistics.quantiles(edits, n=20)[-1]
    show("table: an edit of somebody else meanwhile", f"p95 {worst:.0f} ms of {len(edits)}", "< 150 ms", worst < 150)


def _made(stack: Stack) -> tuple[float, int, list[float]]:
    """Seconds, rows that became promos, and milliseconds of the edits that another person made meanwhile."""
    from glowreel.core.batch import Table
    from glowreel.jobs.app import runtime
    from glowreel.services import accounts, batches, templates
    from glowreel.services.access import Actor
    from glowreel.store.models import Batch, new_key

    other = Visitor(stack.address, 1)
    with runtime.database.unit() as unit:
        user = accounts.sign_up(unit.session, "Ro Ws", f"{new_key('x')}@rows.example", "seven quiet lanterns", "Rows")
        actor = Actor.person(user.id, user.team_id)
        _, promo = templates.find(unit.session, TEMPLATE, actor)
        words = [slot for slot in promo.slots if slot.kind in ("words", "price", "date")]
        head = tuple(f"{slot.label} {at}" for at, slot in enumerate(words))
        body = tuple((f"Row {number}", *("x" for _ in head[1:])) for number in range(ROWS))
        table = batches.begin(unit, actor, TEMPLATE, Table(head, body)).id
    began = time.monotonic()
    with runtime.database.unit() as unit:
        batches.make(unit, actor, table)
    edits: list[float] = []
    while time.monotonic() - began < 600:
        edits += other.edit_times(1)
        with runtime.database.unit() as unit:
            if unit.session.get_one(Batch, table).state != "running":
                break
        time.sleep(0.3)
    took = time.monotonic() - began
    with runtime.database.unit() as unit:
        made = sum(row.state == "made" for row in unit.session.get_one(Batch, table).rows)
    return took, made, edits
