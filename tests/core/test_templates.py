"""Templates: every shipped one in every shape and brand, slots, logos by ground, newer states, and lengths."""

from __future__ import annotations

from itertools import count

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from glowreel.core import commands as c
from glowreel.core.brand import Brand
from glowreel.core.colour import contrast_of
from glowreel.core.commands.template import Renew, held
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.media import Media
from glowreel.core.recipe.model import Composite, DrawPicture, DrawWords, Op
from glowreel.core.recipe.needs import needs
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.roles import COLOUR_ROLES
from glowreel.core.slots import SLOT_KINDS, SOURCE
from glowreel.core.source import Source
from glowreel.core.template import CATEGORIES, FAMILIES, MOODS, Facts, Pattern
from glowreel.core.template.build import Kit, build, own_brand
from glowreel.core.template.logos import ground_of, with_logos
from glowreel.core.template.manner import made as made_by_rule
from glowreel.core.timeline import timeline
from glowreel.demo.scenario import FILES
from glowreel.designs import shipped
from glowreel.templates import patterns
from tests.core.build import MEDIA, S, Table, coloured, measure, media

KINDS = {"mp4": ("footage", 10), "jpg": ("photo", 0), "svg": ("photo", 0), "m4a": ("sound", 45)}


def sample(name: str) -> Media:
    kind, length = KINDS[name.rsplit(".", 1)[1]]
    facts = {"width": 0, "height": 0, "rate": None} if kind == "sound" else {}
    return media(name, kind, length, **facts)


SAMPLES = {name: sample(name) for name in FILES}
THREE = tuple(SHIPPED[name] for name in FIRST_CHOICE)


def made(key: str, brand: Brand | None = None) -> Promo:
    numbers = count()
    pattern = patterns()[key]
    kit = Kit(SAMPLES, shipped(), lambda prefix: f"{prefix}{next(numbers)}")
    return build(pattern, THREE, brand or own_brand(pattern), kit)


def on_table(promo: Promo) -> Table:
    table = Table()
    table.promo = promo
    table.context = c.Context(table.context.new_id, {**MEDIA, **{m.id: m for m in SAMPLES.values()}}, shipped())
    return table


def words(ops: tuple[Op, ...]) -> list[DrawWords]:
    return [inner for op in ops for inner in (words(op.ops) if isinstance(op, Composite) else [op])
            if isinstance(inner, DrawWords)]  # fmt: skip


def pictures(ops: tuple[Op, ...]) -> list[DrawPicture]:
    return [inner for op in ops for inner in (pictures(op.ops) if isinstance(op, Composite) else [op])
            if isinstance(inner, DrawPicture)]  # fmt: skip


def test_there_are_enough_templates_of_every_kind() -> None:
    found = [pattern.facts for pattern in patterns().values()]
    assert len(found) >= 40
    assert {facts.category for facts in found} == set(CATEGORIES)
    assert {facts.family for facts in found} == set(FAMILIES) - {"own"}
    assert {facts.mood for facts in found} == set(MOODS)
    assert len({pattern.name for pattern in patterns().values()}) == len(found)


@pytest.mark.parametrize("key", patterns())
def test_a_shipped_template_is_right_in_every_shape(key: str) -> None:
    promo, pattern = made(key), patterns()[key]
    index = timeline(promo)
    assert [scene.name for scene in promo.scenes] == [scene.name for scene in pattern.scenes]
    assert len(promo.scenes) >= 2
    for format in THREE:
        for scene in promo.scenes:
            at = promo.rate.snap(index.scene_span[scene.id].start + index.scene_span[scene.id].length * 7 // 10)
            for op in words(frame_recipe(promo, format, at, measure).ops):
                assert op.box.x >= -1, (scene.name, format.id, op.words.text)
                assert op.box.x + op.box.width <= format.canon[0] + 1, (scene.name, format.id, op.words.text)
                assert op.box.y + op.box.height <= format.canon[1] + 1, (scene.name, format.id, op.words.text)
    for slot in promo.slots:
        part = index.find_part(slot.part)
        said = held(promo, slot)
        assert said is not None or slot.kind in ("picture", "logo", "words"), slot
        if SLOT_KINDS[slot.kind].holds == "words":
            assert not slot.most or len(str(said or "")) <= slot.most
        if slot.of == SOURCE and part.content.lane == "main":
            assert slot.least == part.length
    if pattern.facts.rule == "exact":
        assert index.length == pattern.facts.length
    assert not any(value.startswith("#") for scene in pattern.scenes for layer in scene.layers
                   for value in layer.says.values()), "roles, not colours"  # fmt: skip


@given(
    key=st.sampled_from(sorted(patterns())),
    fills=st.lists(
        st.tuples(st.integers(0, 40), st.sampled_from(["still", "ridge", "song"]), st.text(max_size=12)), max_size=6
    ),
)
def test_filling_never_moves_anything(key: str, fills: list[tuple[int, str, str]]) -> None:
    table = on_table(made(key))
    before, length = timeline(table.promo).clip_span, timeline(table.promo).length
    passing = table.promo.transitions
    for n, name, text in fills:
        slot = table.promo.slots[n % len(table.promo.slots)]
        try:
            table.do(c.FillSlot(slot=slot.id, text=text, media=name))
        except Refusal as refusal:
            assert refusal.code in ("too-long", "too-short", "no-picture", "no-fit"), refusal
    assert (timeline(table.promo).clip_span, table.promo.transitions) == (before, passing)
    assert timeline(table.promo).length == length


def test_what_reads_best_on_a_role_is_chosen_by_contrast() -> None:
    brand = coloured({"accent": "#101010", "second": "#FFEE88"})
    for role in ("accent", "second", "ground", "paper"):
        other = {"ink": "dark", "dark": "ink"}[brand.reading(f"on-{role}")]
        below = brand.colour(role)
        assert contrast_of(brand.colour(f"on-{role}"), below) >= contrast_of(brand.colour(other), below)
    assert (brand.colour("on-accent"), brand.reading("#123456")) == (brand.colour("ink"), "#123456")


LOGOS = {"logo": "still", "logo-on-light": "sign"}


def logo_in(promo: Promo) -> set[str]:
    fills = [held(promo, slot) for slot in promo.slots if slot.kind == "logo"]
    return {fill.media for fill in fills if isinstance(fill, Source)}


@pytest.mark.parametrize(("key", "ground", "logo"), [
    ("front-page-offer", "paper", "sign"), ("gift-of-a-morning", "dark", "still"),
])  # fmt: skip
def test_a_slot_for_a_logo_has_the_one_that_suits_its_ground(key: str, ground: str, logo: str) -> None:
    promo = made(key, Brand(name="Ours", logos=LOGOS))
    design = next(promo.designs[item.design] for item in promo.items if item.design and "close" in item.design)
    assert ground_of(design, "logo") == ground
    branded = with_logos(promo, MEDIA)
    assert logo_in(branded) == {logo}
    assert all(slot.filled for slot in branded.slots if slot.kind == "logo")
    assert with_logos(made(key), MEDIA) == made(key), "a brand without a logo leaves the sample"


def test_a_layer_that_is_a_slot_for_a_logo_shows_the_brands() -> None:
    table = Table()
    table.do(c.InsertClips(media=("ridge",)))
    layer = table.do(c.AddPicture(media="still", at=0)).select[0]
    table.do(c.MarkSlot(item=layer, kind="logo", label="The logo"))
    table.do(c.SwitchBrand(brand=Brand(name="Ours", origin="b-1", logos={"logo": "sign", "mark": "still"})))
    assert next(item for item in table.promo.items if item.id == layer).media == "still", "it is one of the brand's"
    table.do(c.SwitchBrand(brand=Brand(name="Theirs", origin="b-2", logos={"logo": "sign"})))
    assert next(item for item in table.promo.items if item.id == layer).media == "sign"
    assert table.promo.slots[0].filled


def test_another_brand_changes_logos_in_designs_too_and_fills_the_slots() -> None:
    table = on_table(made("front-page-offer"))
    table.do(c.SwitchBrand(brand=Brand(name="Ours", origin="b-1", version=1, logos=LOGOS)))
    assert logo_in(table.promo) == {"sign"}
    newer = Brand(name="Ours", origin="b-1", version=2, logos={**LOGOS, "logo-on-light": "ridge"})
    table.do(c.SwitchBrand(brand=newer))
    assert logo_in(table.promo) == {"ridge"}


def test_a_newer_state_of_a_template_is_filled_as_the_promo_was() -> None:
    template = made("the-tour")
    table = on_table(template)
    title, picture = (next(s for s in template.slots if s.kind == kind) for kind in ("words", "picture"))
    table.do(c.FillSlot(slot=title.id, text="Our tour"))
    table.do(c.FillSlot(slot=picture.id, media="still"))
    out = next(scene for scene in template.scenes if scene.name == "Third stop")
    table.do(c.RemoveScene(scene=out.id))
    newer = on_table(template)
    newer.do(c.RenameScene(scene=template.scenes[0].id, name="Where we begin"))
    newer.do(c.SetSceneLength(scene=template.scenes[0].id, length=5 * S))
    done = table.do(Renew(template=newer.promo, version=2))
    promo = table.promo
    assert done.sentence == "Took the newest state of “The tour”"
    assert promo.scenes[0].name == "Where we begin"
    assert [scene.name for scene in promo.scenes].count("Third stop") == 0
    assert held(promo, next(s for s in promo.slots if s.id == title.id)) == "Our tour"
    assert promo.clips[0].media == "still"
    assert promo.origin is not None
    assert promo.origin.version == 2
    with pytest.raises(Refusal, match="not made from a template"):
        Table().do(Renew(template=template, version=1))


def test_a_picture_is_cropped_about_the_point_that_was_chosen() -> None:
    table = on_table(made("front-page-offer"))
    opening = next(slot for slot in table.promo.slots if slot.kind == "picture")

    def left(focus: tuple[float, float]) -> float:
        table.do(c.FillSlot(slot=opening.id, media="still", focus=focus))
        frame = frame_recipe(table.promo, SHIPPED["wide"], 2 * S, measure)
        ops = [op for group in frame.ops for op in pictures((group,))]
        return ops[0].box.x

    assert left((0.0, 0.5)) > left((0.5, 0.5)) > left((1.0, 0.5))
    first = table.promo.clips[0]
    behind = on_table(made("the-tour"))
    slot = next(slot for slot in behind.promo.slots if slot.of == SOURCE)
    behind.do(c.FillSlot(slot=slot.id, media="still", focus=(0.25, 0.5)))
    assert behind.promo.clips[0].read("focus") == (0.25, 0.5)
    assert first.kind == "filler"


def test_a_template_may_be_as_long_as_its_sound_or_exactly_so_long() -> None:
    table = on_table(made("good-to-know"))
    table.do(c.SetFacts(facts=Facts(rule="sound")))
    song = next(slot for slot in table.promo.slots if slot.kind == "sound")
    firsts = [timeline(table.promo).clip_span[clip.id] for clip in table.promo.clips[:-1]]
    table.do(c.FillSlot(slot=song.id, media="song"))
    assert timeline(table.promo).length == 30 * S
    assert [timeline(table.promo).clip_span[clip.id] for clip in table.promo.clips[:-1]] == firsts
    long = on_table(made("sixty-seconds"))
    long.do(c.SetFacts(facts=Facts(rule="sound")))
    with pytest.raises(Refusal, match="before the last scene begins"):
        long.do(c.FillSlot(slot=next(s.id for s in long.promo.slots if s.kind == "sound"), media="song"))
    table.do(c.SetFacts(facts=Facts(rule="exact")))
    assert table.promo.facts is not None
    assert table.promo.facts.length == 30 * S


@pytest.mark.parametrize(("change", "sentence"), [
    ({"scenes": []}, "at least 1"), ({"facts": {"mood": "loud"}}, "no mood called"),
    ({"scenes": [{"name": "One", "lasts": 2}, {"name": "One", "lasts": 2}]}, "same name"),
    ({"scenes": [{"name": "One", "lasts": 2, "leaves": "explode"}]}, "no transition called"),
])  # fmt: skip
def test_what_is_wrong_with_a_template_is_said(change: dict, sentence: str) -> None:
    good = {"id": "one", "name": "One", "facts": {}, "scenes": [{"name": "One", "lasts": 2}]}
    Pattern.model_validate(good)
    with pytest.raises(ValueError, match=sentence):
        Pattern.model_validate({**good, **change})


PHOTOS, SONGS = ("dawn-ridge.mp4", "picnic.jpg", "landing.mp4"), ("slow-ascent.m4a",)


def of_manner(seed: int, brand: Brand) -> Promo:
    numbers = count()
    pattern, own = made_by_rule(seed, brand, shipped(), PHOTOS, SONGS)
    kit = Kit(SAMPLES, {**shipped(), **own}, lambda prefix: f"{prefix}{next(numbers)}")
    return build(pattern, THREE, brand, kit)


@given(seed=st.integers(0, 2**31 - 1), accent=st.integers(0, 0xFFFFFF), ground=st.integers(0, 0xFFFFFF))
@settings(max_examples=25)
def test_a_seed_brings_the_same_design_back_in_the_brands_own_colours(seed: int, accent: int, ground: int) -> None:
    brand = coloured({"accent": f"#{accent:06X}", "ground": f"#{ground:06X}"}, name="Ours")
    promo = of_manner(seed, brand)
    assert promo == of_manner(seed, brand)
    allowed = {brand.colour(role) for role in COLOUR_ROLES} | {"#FFFFFF", "#2A2723"}
    for format in THREE:
        for scene in promo.scenes:
            span = timeline(promo).scene_span[scene.id]
            frame = frame_recipe(promo, format, promo.rate.snap(span.start + span.length * 7 // 10), measure)
            for op in words(frame.ops):
                assert op.words.colour in allowed
                assert op.box.x >= -1
                assert op.box.x + op.box.width <= format.canon[0] + 1


def test_seeds_look_unlike_one_another_and_a_seed_that_is_none_is_refused() -> None:
    brand = Brand(name="Ours")
    looks = {promo.designs[promo.items[0].design or ""].model_dump_json(exclude={"id"})
             for promo in (of_manner(seed, brand) for seed in range(24))}  # fmt: skip
    assert len(looks) >= 20
    for seed in (-1, 2**31):
        with pytest.raises(ValueError, match="seed"):
            of_manner(seed, brand)


def test_a_photo_that_is_cut_out_in_a_design_is_needed_and_stands_on_its_place() -> None:
    table = on_table(made("two-days-only"))
    opening = next(slot for slot in table.promo.slots if slot.kind == "picture")
    assert not needs(table.promo)
    table.do(c.FillSlot(slot=opening.id, media="still", cut=True))
    assert [(need.maker, need.source) for need in needs(table.promo)] == [("things", MEDIA["still"].hash)]
    ops = pictures(frame_recipe(table.promo, SHIPPED["wide"], 2 * S, measure).ops)
    assert ops[0].matte is not None
    assert not ops[0].opaque
    table.do(c.FillSlot(slot=opening.id, media="ridge", cut=True))
    assert not needs(table.promo), "footage is shown whole"
