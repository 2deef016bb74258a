"""Templates on a real database: started from in a brand, kept by a team, filled by whoever may, brought up to date."""

from __future__ import annotations

import pytest

from glowreel.core.commands import AddWords, FillSlot, InsertClips, MarkSlot, RenameScene, Trim
from glowreel.core.commands.template import held
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import FIRST_CHOICE
from glowreel.core.template import Facts
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from glowreel.services import brands, promos, samples, templates
from glowreel.services.access import Actor, allow
from glowreel.services.setup import Runtime
from glowreel.store.models import MediaFile, PromoRow
from tests.conftest import by
from tests.services.test_promos import new_team


@pytest.fixture
def team(runtime: Runtime) -> str:
    return new_team(runtime)


def words_slot(promo: Promo) -> str:
    return next(slot.id for slot in promo.slots if slot.kind == "words")


def test_a_promo_is_started_from_a_shipped_template_in_a_brand(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        known = samples.by_name(unit.session)
        ours = {"logos": {"logo": known["envelope.jpg"].id}, "palettes": [{"colours": {"accent": "#3355FF"}}]}
        brand = brands.snapshot(brands.add(unit.session, by(team), "Ours", ours))
        row = templates.start(
            unit.session, by(team), "front-page-offer", name="  June   offer ", formats=("tall", "cinema"), brand=brand
        )
        promo = promos.document(unit.session, row)
        assert (row.name, [format.id for format in promo.formats]) == ("June offer", ["tall", "cinema"])
        assert promo.brand.colour("accent") == "#3355FF"
        logo = held(promo, next(slot for slot in promo.slots if slot.kind == "logo"))
        assert logo.media == known["envelope.jpg"].id, "the brand's own logo stands in its slot"
        assert promo.origin is not None
        assert promo.origin.name == "Front page offer"
        assert templates.cards(unit.session, by(team))[0].key == "front-page-offer", "what was used last comes first"
        names = [scene.id for scene in promo.scenes]
        part = templates.start(unit.session, by(team), "front-page-offer", scenes=names[:2])
        assert len(promos.document(unit.session, part).scenes) == 2
        with pytest.raises(Refusal, match="at least one scene"):
            templates.start(unit.session, by(team), "front-page-offer", scenes=["none of them"])
        with pytest.raises(Refusal, match="exact length"):
            key = templates.find(unit.session, "sixty-seconds", by(team))[1].scenes[0].id
            templates.start(unit.session, by(team), "sixty-seconds", scenes=[key])


def kept(runtime: Runtime, team: str) -> str:
    """A team's own template: a promo of five seconds with one slot for words."""
    with runtime.database.unit() as unit:
        row = promos.create(unit.session, by(team), "Weekly tip", FIRST_CHOICE)
        sample = samples.by_name(unit.session)["dawn-ridge.mp4"].id
        _, done = promos.edit(unit.session, row.id, by(team), InsertClips(media=(sample,)))
        promos.edit(unit.session, row.id, by(team), Trim(item=done.select[0], length=ticks(5)))
        _, done = promos.edit(unit.session, row.id, by(team), AddWords(text="Our tip", at=0, length=ticks(4)))
        ask = MarkSlot(item=done.select[0], of="text", kind="words", label="The tip", most=20)
        promos.edit(unit.session, row.id, by(team), ask)
        facts = Facts(category="tips", rule="exact")
        return templates.save(unit.session, by(team), row.id, "Tip of the week", facts).id


def test_a_promo_is_kept_as_a_template_and_filled_by_somebody_who_may_not_edit(runtime: Runtime, team: str) -> None:
    key = kept(runtime, team)
    helper = Actor("person", team, "contributor")
    with runtime.database.unit() as unit:
        assert key not in [row.id for row in promos.list_promos(unit.session, by(team))], "it is no promo"
        assert templates.cards(unit.session, by(team))[0].key == key, "the team's own come first"
        made = promos.document(unit.session, templates.find(unit.session, key, by(team))[0].row)
        assert made.facts is not None
        assert made.facts.length == ticks(5)
        row = templates.start(unit.session, Actor.program(team), key)
        slot = words_slot(promos.document(unit.session, row))
        promos.edit(unit.session, row.id, helper, FillSlot(slot=slot, text="Look up first"))
        with pytest.raises(Refusal, match="may not change"):
            promos.edit(unit.session, row.id, helper, AddWords(text="More"))
        filled = promos.document(unit.session, row)
        assert held(filled, filled.slots[0]) == "Look up first"
        assert timeline(filled).length == ticks(5)
        with pytest.raises(Missing):
            templates.find(unit.session, key, by(new_team(runtime)))


def test_a_promo_is_brought_to_the_newest_state_of_its_template(runtime: Runtime, team: str) -> None:
    key = kept(runtime, team)
    with runtime.database.unit() as unit:
        row = templates.start(unit.session, by(team), key)
        slot = words_slot(promos.document(unit.session, row))
        promos.edit(unit.session, row.id, by(team), FillSlot(slot=slot, text="Look up"))
        assert templates.behind(unit.session, [row]) == set()
        scene = promos.document(unit.session, row).scenes[0].id
        promos.edit(unit.session, key, by(team), RenameScene(scene=scene, name="The tip"))
        assert templates.behind(unit.session, [row]) == {row.id}
        opened, outcome = templates.renew(unit.session, row.id, by(team))
        assert outcome.sentence == "Took the newest state of “Tip of the week”"
        assert opened.promo.scenes[0].name == "The tip"
        assert held(opened.promo, opened.promo.slots[0]) == "Look up"
        assert templates.behind(unit.session, [row]) == set()
        promos.step(unit.session, row.id, by(team), back=True)
        assert promos.document(unit.session, row).scenes[0].name == "Scene 1", "one undo"


def test_a_retired_template_makes_no_new_promos_and_comes_back(runtime: Runtime, team: str) -> None:
    key = kept(runtime, team)
    with runtime.database.unit() as unit:
        promo = templates.start(unit.session, by(team), key)
        with pytest.raises(Missing, match="no template"):
            templates.retire(unit.session, promo.id, by(team))
        templates.retire(unit.session, key, by(team))
        assert key not in [card.key for card in templates.cards(unit.session, by(team))]
        assert [row.id for row in templates.retired(unit.session, by(team))] == [key]
        with pytest.raises(Refusal, match="is retired"):
            templates.start(unit.session, by(team), key)
        templates.retire(unit.session, key, by(team), back=True)
        assert templates.start(unit.session, by(team), key).name == "Tip of the week"
        card, promo = templates.find(unit.session, "the-tour", by(team))
        own = templates.copied(unit.session, by(team), card, promo)
        assert (own.kind, own.name) == ("template", "The tour")
        piece = templates.piece(unit.session, by(team), "the-tour", promo.scenes[1].id)
        assert [scene.name for scene in piece.scenes] == ["First stop"]
        assert [card.key for card, _ in templates.scenes(unit.session, by(team), "voucher pictures")] == [
            "gift-of-a-morning"
        ]


def test_samples_are_seen_by_every_team_and_changed_by_none(runtime: Runtime, team: str) -> None:
    with runtime.database.unit() as unit:
        row = unit.session.get_one(MediaFile, samples.by_name(unit.session)["picnic.jpg"].id)
        allow(by(team), "see", row)
        for verb in ("edit", "remove", "add"):
            with pytest.raises(Missing):
                allow(by(team), verb, row)
        with pytest.raises(Missing):
            allow(Actor.link("another thing", team), "see", row)
        assert unit.session.get(PromoRow, "front-page-offer") is None, "shipped ones are files, not rows"
