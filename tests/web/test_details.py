"""The table of Details, without a browser: every control shows what is there, and what it sends is carried out."""

from __future__ import annotations

import copy
from typing import Any

import pytest

from glowreel.core import commands as c
from glowreel.core.commands import read_command
from glowreel.core.formats import SHIPPED
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from glowreel.web.editor.details import Control, Details, promo_controls
from tests.core.build import S, Table

SELECTED = ("ridge", "field", "still", "filler", "words", "picture", "sound")


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field", "still")))
    table.do(c.InsertFiller(length=S))
    table.do(c.SetTransition(after=table.promo.clips[0].id))
    table.do(c.AddWords(text="Fly", at=S))
    table.do(c.AddPicture(media="basket", at=2 * S))
    table.do(c.AddSound(media="song"))
    table.do(c.SetSpeed(item=table.promo.clips[1].id, speed=2000))
    return table


def selected(table: Table, what: str) -> Any:
    for part in (*table.promo.clips, *table.promo.items):
        if what in (part.media, part.kind):
            return part
    raise AssertionError(what)


def controls(table: Table, what: str) -> list[Control]:
    groups = Details(table.promo, SHIPPED["tall"], (selected(table, what),)).groups()
    return [control for group in groups for control in group.controls]


def sent(control: Control) -> dict[str, Any]:
    """The command that the page makes of a control, with another value in it; as `details.js` puts it together."""
    command = copy.deepcopy(control.command)
    values: dict[str, Any] = {
        "flag": not control.value,
        "colour": "#2F6F87",
        "nine": [1, 0.5],
        "tones": [[0, 0.1], [1, 0.9]],
        "bands": [[200, 6, 1]],
        "material": "basket",
        "strokes": [[1, 0.05, [[0.2, 0.2], [0.4, 0.4]]]],
    }
    if control.kind in ("choice", "switches", "gallery", "chips", "fonts"):
        value = next(v for v, _ in reversed(control.choices) if v != control.value)
    elif control.kind == "number":
        number = (control.low + control.high) / 2 if control.value == "curve" else float(control.value)
        # Downwards where there is room: what lasts as long as its material cannot last longer.
        number += -control.step if number - control.step >= control.low else control.step
        value = ticks(number) if control.sent in ("ticks", "grid") else round(number * control.scale, 6)
    else:
        value = values.get(control.kind)
    *path, last = control.param.split("/")
    part = command
    for name in path:
        part = part[int(name)] if isinstance(part, list) else part[name]
    if last:
        part[int(last) if isinstance(part, list) else last] = value
    return command


@pytest.mark.parametrize("what", SELECTED)
def test_what_every_control_sends_is_carried_out_and_changes_something(table: Table, what: str) -> None:
    found = controls(table, what)
    assert len({control.id for control in found}) == len(found), "two controls share a name"
    start = table.promo
    for control in found:
        if control.disabled:
            continue
        table.promo = start
        table.do(read_command(sent(control)))
        assert table.promo != start, f"{control.label or control.id} changed nothing"
        table.promo = start


@pytest.mark.parametrize("what", SELECTED)
def test_defaults_limits_and_units_fit_together(table: Table, what: str) -> None:
    for control in controls(table, what):
        if control.kind == "number":
            assert control.low < control.high
            assert control.unit
            if control.default is not None:
                assert control.low <= control.default <= control.high, control.id
            if control.value != "curve":
                assert control.low <= control.value <= control.high, control.id


def test_groups_hold_what_a_kind_of_thing_has() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "still")))
    table.do(c.AddSound(media="song"))
    titles = {what: [g.title for g in Details(table.promo, SHIPPED["wide"], (selected(table, what),)).groups()]
              for what in ("ridge", "still", "sound")}  # fmt: skip
    assert titles == {
        "ridge": [
            "Framing",
            "Look",
            "Cut-out",
            "Mask",
            "Edge and shadow",
            "Colour",
            "Behind it",
            "Sound",
            "Voice",
            "Equaliser",
            "Time",
            "To be filled",
            "Effects",
        ],
        "still": [
            "Framing",
            "Look",
            "Cut-out",
            "Mask",
            "Edge and shadow",
            "Colour",
            "Behind it",
            "Time",
            "To be filled",
            "Effects",
        ],
        "sound": ["Sound", "Voice", "Equaliser", "Under a voice", "Beats", "Time", "To be filled"],
    }


def test_a_format_of_its_own_is_marked_and_can_follow_again(table: Table) -> None:
    for what, name, value, id in (("words", "size", 0.3, "p-size"), ("ridge", "fit", "letterbox", "p-fit")):
        part = selected(table, what)
        table.do(c.Set(items=(part.id,), values={name: value}, format="tall", only=True))
        found = {control.id: control for control in controls(table, what)}
        assert found[id].follow is not None
        assert [key for key, control in found.items() if control.follow] == [id], "nothing else is said to differ"
        table.do(read_command(found[id].follow))
        assert not any(control.follow for control in controls(table, what))
        assert selected(table, what).values_in == {}


def test_what_changes_over_time_shows_its_value_at_the_playhead(table: Table) -> None:
    words = selected(table, "words")
    start = timeline(table.promo).item_span(words).start
    table.do(c.AddPoint(item=words.id, name="opacity", at=start, value=0.2))
    table.do(c.AddPoint(item=words.id, name="opacity", at=start + S, value=0.8))

    def opacity(at: int) -> Control:
        groups = Details(table.promo, SHIPPED["tall"], (selected(table, "words"),), at).groups()
        return next(control for group in groups for control in group.controls if control.id == "p-opacity")

    assert [opacity(start + at).value for at in (0, S // 2, S)] == [20, 50, 80]
    assert [opacity(start + at).over.here for at in (0, S // 2, S)] == [True, False, True]
    assert opacity(start).over.points == (1.0, 2.0)


def test_several_things_show_what_they_share(table: Table) -> None:
    both = (selected(table, "words"), selected(table, "picture"))
    groups = Details(table.promo, SHIPPED["tall"], both).groups()
    found = {control.id: control for group in groups for control in group.controls}
    assert "p-opacity" in found
    assert "p-font" not in found
    assert found["p-size"].mixed
    command = sent(found["p-opacity"])
    table.do(read_command(command))
    assert {part.read("opacity") for part in (selected(table, "words"), selected(table, "picture"))} == {0.95}


def test_the_promo_itself_offers_its_rates(table: Table) -> None:
    rate, ground = promo_controls(table.promo).controls
    table.do(read_command({**ground.command, "values": {"ground": "pattern"}}))
    assert len(promo_controls(table.promo).controls) > 4, "a pattern has colours, an angle and a size"
    assert rate.choices[0][1] == "23.976 frames a second"
    table.do(read_command({**rate.command, "rate": rate.choices[2][0]}))
    assert str(table.promo.rate) == "25"
