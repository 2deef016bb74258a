"""What every random edit goes through: it is done or refused in a sentence, and touches nothing locked."""

from __future__ import annotations

from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize

from glowreel.core import commands as c
from glowreel.core.brand import Palette
from glowreel.core.content import Seen
from glowreel.core.document import Free, Item, Part, Promo, Whole
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.history import Chain
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import Rate, ticks
from glowreel.core.timeline import timeline
from glowreel.core.vocabulary import TRANSITIONS
from tests.core.build import Table, measure

PASSINGS = list(TRANSITIONS)
times = st.integers(0, ticks(60))
lengths = st.integers(1, ticks(20))
pictures = st.sampled_from(["ridge", "field", "basket", "still"])
pick = st.integers(0, 30)


def at_rest(item: Item) -> Item:
    """An item without where it lies: what is on a locked track still rides on its clips."""
    return item.changed(anchor=Free(at=0))


def seen(promo: Promo) -> list[object]:
    """What is seen at a few moments of a promo, in a format with changes of its own. Coming and going are left out:
    they belong to the ends of a part, of which a split makes new ones."""
    length = timeline(promo).length
    ids = [item.id for item in promo.items]
    return [frame_recipe(promo, SHIPPED["tall"], length * n // 7, measure, ids) for n in range(7)]


def looks(promo: Promo, part: Part, moment: int) -> object:
    """What a part draws and sounds like at a moment of its own time, wherever it lies."""
    seen = Seen(promo, part, SHIPPED["tall"], moment, measure)
    drawn = part.content.draws(seen)
    # What lasts for the whole promo is as long as that, whatever its own length.
    whole = isinstance(part, Item) and isinstance(part.anchor, Whole)
    heard = (part.source, part.into, None if whole else part.length, part.values, part.effects)
    return drawn and drawn.ops, heard


def locked_items(promo: Promo) -> dict[str, Item]:
    tracks = (*promo.layers, *promo.sounds)
    return {item.id: at_rest(item) for track in tracks if track.locked for item in track.items}


DAY_AND_NIGHT = (Palette(name="Day", colours={"accent": "#2F6F87"}), Palette(name="Night", others=("#101428",)))


class Editing(RuleBasedStateMachine):
    """A promo on a table, its history, and one command after another."""

    @initialize(rate=st.sampled_from([Rate(num=30, den=1), Rate(num=30000, den=1001), Rate(num=24, den=1)]))
    def start(self, rate: Rate) -> None:
        self.table = Table(rate)
        self.table.do(c.InsertClips(media=("ridge", "field", "still", "basket")))
        for at in (2, 5, 9):
            self.table.do(c.AddWords(at=ticks(at), length=ticks(2)))
            self.table.do(c.AddSound(media="song", at=ticks(3 * at)))
        self.chain = Chain.begun("r0")
        self.states: dict[str, Promo] = {"r0": self.table.promo}

    def clip(self, n: int) -> str:
        clips = self.table.promo.clips
        return clips[n % len(clips)].id if clips else "nothing"

    def thing(self, n: int) -> str:
        things = [*(clip.id for clip in self.table.promo.clips), *(item.id for item in self.table.promo.items)]
        return things[n % len(things)] if things else "nothing"

    def item(self, n: int) -> str:
        items = self.table.promo.items
        return items[n % len(items)].id if items else "nothing"

    def do(self, command: c.Command) -> None:
        before = self.table.promo.model_dump_json()
        old = self.table.promo
        locked = locked_items(old)
        try:
            self.table.do(command)
        except Refusal as refusal:
            assert refusal.sentence.endswith(".")
            assert refusal.code != "not-allowed", f"{command} made a promo that is not valid: {refusal}"
            assert self.table.promo is old
        else:
            name = f"r{len(self.states)}"
            self.states[name] = self.table.promo
            self.chain = self.chain.edited(name)
            # The rate and the brand are those of the whole promo.
            if not isinstance(command, c.SetRate | c.SwitchBrand):
                now = {item.id: at_rest(item) for item in self.table.promo.items}
                assert {key: now.get(key) for key in locked} == locked, f"{command} changed what is on a locked track"
        assert old.model_dump_json() == before, "an edit touched its input"
