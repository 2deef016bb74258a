"""A property, an effect or a kind of content added in one place appears everywhere by itself."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from glowreel import tables
from glowreel.core import commands as c
from glowreel.core.content import KINDS, Drawn, Kind
from glowreel.core.differences import differences
from glowreel.core.document import Item
from glowreel.core.effects import EFFECTS, EffectKind
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.layout import Box
from glowreel.core.properties import PROPERTIES, Property
from glowreel.core.reading import read_document
from glowreel.core.recipe.model import Composite, Fill
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.timeline import timeline
from glowreel.web.editor.details import Details
from glowreel.web.editor.rows import item_row
from tests.core.build import S, Table, measure, sets
from tests.core.values import values_of

TILT = Property(
    "tilt", "Tilt", "how far it leans to one side", "number", 0.0, frozenset({"placed"}), "look", unit="°", low=-45,
    high=45, digits=1, over_time=True, per_format=True, look=True,
)  # fmt: skip


@pytest.fixture
def tilt(monkeypatch: pytest.MonkeyPatch) -> Property:
    monkeypatch.setitem(PROPERTIES, TILT.name, TILT)
    return TILT


@pytest.fixture
def table() -> Table:
    table = Table()
    table.do(c.InsertClips(media=("ridge", "field")))
    table.do(c.AddWords(text="Fly", at=S))
    table.do(c.AddPicture(media="still", at=2 * S))
    return table


def words_of(table: Table) -> Item:
    return next(item for item in table.promo.items if item.kind == "words")


def test_a_property_is_checked_set_compared_joined_copied_kept_and_shown(tilt: Property, table: Table) -> None:
    before, words = table.promo, words_of(table)
    outcome = table.do(sets(words.id, tilt=12))
    assert outcome.sentence == "Set tilt of “Fly” to 12°"
    assert differences(before, table.promo) == ["“Fly”: tilt is 12°, before 0°."]
    with pytest.raises(Refusal, match="tilt goes from -45° to 45°"):
        table.do(sets(words.id, tilt=46))
    with pytest.raises(Refusal, match="no tilt"):
        table.do(sets(table.promo.clips[0].id, tilt=1))
    table.do(c.Set(items=(words.id,), values={"tilt": 3}, format="tall", only=True))
    assert (words_of(table).read("tilt"), words_of(table).read("tilt", "tall")) == (12, 3)
    # Split and joined, it is what it was; on another value there is nothing to join.
    whole = table.promo
    second = table.do(c.SplitAt(item=words.id, at=2 * S)).select[0]
    table.do(c.Join(item=words.id))
    assert table.promo == whole
    second = table.do(c.SplitAt(item=words.id, at=2 * S)).select[0]
    table.do(sets(second, tilt=1))
    with pytest.raises(Refusal, match="does not go on"):
        table.do(c.Join(item=words.id))
    picture = next(item for item in table.promo.items if item.kind == "picture")
    table.do(c.CopyLook(source=words.id, items=(picture.id,)))
    copied = timeline(table.promo).item[picture.id]
    assert (copied.read("tilt"), copied.read("tilt", "tall")) == (12, 3)
    assert read_document(table.promo.model_dump(mode="json")) == table.promo


def test_a_property_over_time_has_a_control_points_and_a_lane(tilt: Property, table: Table) -> None:
    words = words_of(table)
    for at, value in ((S, 0), (3 * S, 10)):
        table.do(c.AddPoint(item=words.id, name="tilt", at=at, value=value))
    words = words_of(table)
    groups = Details(table.promo, SHIPPED["wide"], (words,), 2 * S).groups()
    control = next(control for group in groups for control in group.controls if control.id == "p-tilt")
    assert (control.value, control.low, control.high, control.unit) == (5, -45, 45, "°")
    assert control.over is not None
    (lane,) = item_row(timeline(table.promo), words)["curves"]
    assert (lane["label"], [at for at, _ in lane["points"]]) == ("Tilt", [0, 2])


def test_a_property_is_in_the_tables(tilt: Property) -> None:
    row = next(row for row in tables.TABLES["properties"].rows() if row["name"] == "tilt")
    assert row["values"] == "-45° to 45°"
    assert row["of"] == "words, shape, sticker, picture layer, design"
    assert "tilt" in tables.as_document()
    assert any(row["name"] == "tilt" for row in tables.TABLES["copied"].rows())


@settings(max_examples=30)
@given(st.data())
@pytest.mark.long
def test_the_random_editor_makes_values_of_any_row(data: st.DataObject) -> None:
    for row in (TILT, *PROPERTIES.values()):
        value = data.draw(values_of(row))
        stored = row.check(value)
        assert row.check(json.loads(json.dumps(stored, default=lambda curve: curve.model_dump()))) == stored
        assert row.say(stored)


@pytest.fixture
def hue(monkeypatch: pytest.MonkeyPatch) -> EffectKind:
    amount = replace(EFFECTS["blur"].parameters[0], name="angle", label="Angle", low=0, high=360, scale=1, unit="°")
    kind = EffectKind("hue", "Hue", "turns its colours round", (amount,))
    monkeypatch.setitem(EFFECTS, "hue", kind)
    return kind


def test_an_effect_is_put_on_set_moved_over_time_shown_and_documented(hue: EffectKind, table: Table) -> None:
    clip = table.promo.clips[0].id
    before = table.promo
    table.do(c.AddEffect(items=(clip,), effect="hue", values={"angle": 90}))
    assert differences(before, table.promo) == ["ridge has the effects hue."]
    effect = table.promo.clips[0].effects[0].id
    table.do(sets(clip, **{f"{effect}.angle": 40}))
    table.do(c.AddPoint(item=clip, name=f"{effect}.angle", at=0))
    table.do(c.AddPoint(item=clip, name=f"{effect}.angle", at=2 * S, value=80))
    (shown,) = [op for op in frame_recipe(table.promo, SHIPPED["wide"], S, measure).ops if isinstance(op, Composite)]
    assert [(effect.kind, effect.values) for effect in shown.effects] == [("hue", (("angle", 60.0),))]
    groups = Details(table.promo, SHIPPED["wide"], (table.promo.clips[0],), S).groups()
    assert next(control.value for group in groups if group.title == "Hue" for control in group.controls) == 60
    assert any(row["name"] == "hue" for row in tables.TABLES["effects"].rows())
    with pytest.raises(Refusal, match="angle goes from"):
        table.do(sets(clip, **{f"{effect}.angle": 400}))
    assert read_document(table.promo.model_dump(mode="json")) == table.promo


PANEL = Kind(
    "panel", "Panel", "a plain panel over the picture", "layer", frozenset({"seen", "placed", "filler"}), frozenset(),
    lambda part, media: "a panel",
    lambda seen: Drawn((Fill(seen.colour("fill")),), Box(0, 0, *seen.format.canon)),
)  # fmt: skip


@pytest.fixture
def panel(monkeypatch: pytest.MonkeyPatch) -> Kind:
    monkeypatch.setitem(KINDS, "panel", PANEL)
    return PANEL


def test_a_kind_of_content_is_laid_cut_drawn_called_and_documented(panel: Kind, table: Table) -> None:
    made = Item(id="p1", kind="panel", anchor=words_of(table).anchor, length=2 * S, values={"fill": "#C8430B"})
    front = table.promo.layers[0]
    table.promo = table.promo.changed(layers=(front.changed(id="panels", items=(made,)), *table.promo.layers))
    table.do(c.SplitAt(item="p1", at=2 * S))
    table.do(c.Join(item="p1"))
    assert table.last is not None
    assert table.last.sentence == "Joined a panel"
    (fill,) = [op for op in frame_recipe(table.promo, SHIPPED["tall"], S, measure).ops if "#C8430B" in str(op)]
    assert fill.opacity == 1
    groups = Details(table.promo, SHIPPED["wide"], (timeline(table.promo).item["p1"],)).groups()
    assert "p-fill" in {control.id for group in groups for control in group.controls}
    assert any(row["name"] == "panel" for row in tables.TABLES["kinds"].rows())
    with pytest.raises(ValueError, match="needs no material"):
        Item.model_validate({**made.model_dump(), "source": {"media": "ridge"}})
