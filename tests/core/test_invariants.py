"""Random edits on random promos: every rule of the document holds after each, and undo is exact."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from glowreel.core import commands as c
from glowreel.core.brand import Brand, Palette
from glowreel.core.captions.designs import CAPTION_DESIGNS
from glowreel.core.captions.shown import cues, spoken_for
from glowreel.core.collage import GRIDS
from glowreel.core.content import KINDS, Seen
from glowreel.core.document import Free, Item, Part, Promo, Tied, Whole
from glowreel.core.effects import EFFECTS
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.forms import FORMS
from glowreel.core.fragment import take
from glowreel.core.history import Chain
from glowreel.core.properties import EASINGS, PROPERTIES, Property
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.recipe.sound import all_voices
from glowreel.core.rules import check_rules
from glowreel.core.slots import SLOT_KINDS
from glowreel.core.speech.heard import heard, silent, voiced_parts
from glowreel.core.speech.transcript import MARKS
from glowreel.core.template import Facts
from glowreel.core.time import RATES, Rate, ticks
from glowreel.core.timeline import timeline
from glowreel.core.vocabulary import TRANSITIONS
from glowreel.designs import shipped
from tests.core.build import Table, measure
from tests.core.values import values_of

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


class Edits(RuleBasedStateMachine):
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

    @rule(media=st.lists(pictures, min_size=1, max_size=3), at=times)
    def insert(self, media: list[str], at: int) -> None:
        self.do(c.InsertClips(media=tuple(media), at=at))

    @rule(n=pick, other_n=pick)
    def move_clip(self, n: int, other_n: int) -> None:
        self.do(c.MoveClips(clips=(self.clip(n),), before=self.clip(other_n) if other_n % 4 else None))

    @rule(n=pick, length=lengths, edge=st.sampled_from(["start", "end"]))
    def trim(self, n: int, length: int, edge: str) -> None:
        self.do(c.Trim(item=self.thing(n), length=length, edge=edge))

    @rule(n=pick, other_n=pick)
    def remove(self, n: int, other_n: int) -> None:
        self.do(c.Remove(items=(self.thing(n), self.thing(other_n))))

    @rule(at=times, length=lengths)
    def words(self, at: int, length: int) -> None:
        self.do(c.AddWords(at=at, length=length))

    @rule(media=pictures, at=times, whole=st.booleans())
    def picture(self, media: str, at: int, whole: bool) -> None:
        self.do(c.AddPicture(media=media, at=at, whole=whole))

    @rule(at=times, whole=st.booleans())
    def sound(self, at: int, whole: bool) -> None:
        self.do(c.AddSound(media="song", at=at, whole=whole))

    @rule(n=pick, at=times, new=st.booleans())
    def move_item(self, n: int, at: int, new: bool) -> None:
        self.do(c.MoveItem(item=self.item(n), at=at, track="new" if new else None))

    @rule(n=pick, to=st.sampled_from(["clip", "time", "whole"]))
    def tie(self, n: int, to: str) -> None:
        self.do(c.TieItem(item=self.item(n), to=to))

    @rule(n=pick, length=lengths, kind=st.sampled_from(["crossfade", "dip-black"]))
    def transition(self, n: int, length: int, kind: str) -> None:
        self.do(c.SetTransition(after=self.clip(n), length=length, kind=kind))

    @rule(n=pick)
    def scene(self, n: int) -> None:
        self.do(c.BreakScene(clip=self.clip(n)))
        if n % 3 == 0 and self.table.promo.scenes:
            scenes = self.table.promo.scenes
            self.do(c.JoinScene(scene=scenes[n % len(scenes)].id))

    @rule(n=pick, at=times)
    def split_and_join(self, n: int, at: int) -> None:
        before = self.table.promo
        thing = self.thing(n)
        self.do(c.SplitAt(item=thing, at=at))
        if self.table.promo is not before:
            assert timeline(self.table.promo).length == timeline(before).length
            assert seen(self.table.promo) == seen(before), "a split is seen"
            self.do(c.Join(item=thing))
            assert self.table.promo == before, "splitting and joining is not the same as nothing"
            if n % 2:
                self.do(c.SplitAt(item=thing, at=at))

    @rule(at=times)
    def split_everything(self, at: int) -> None:
        self.do(c.SplitAt(at=at))

    # ---- cutting ----

    @rule(at=times, length=lengths, media=pictures)
    def overwrite(self, at: int, length: int, media: str) -> None:
        before = timeline(self.table.promo)
        self.do(c.Overwrite(media=media, at=at, length=length))
        after = timeline(self.table.promo)
        assert after.main_length >= before.main_length

    @rule(n=pick, media=pictures, source=times, shorter=st.sampled_from(["slow", "hold", "close"]))
    def replace(self, n: int, media: str, source: int, shorter: str) -> None:
        self.do(c.Replace(item=self.thing(n), media=media, source_in=source, shorter=shorter))

    @rule(n=pick, by=st.integers(-ticks(4), ticks(4)))
    def roll(self, n: int, by: int) -> None:
        before = timeline(self.table.promo)
        self.do(c.RollCut(after=self.clip(n), by=by))
        after = timeline(self.table.promo)
        assert after.main_length == before.main_length
        assert {i: after.item_span(x) for i, x in after.item.items()} == {
            i: before.item_span(x) for i, x in before.item.items()
        }, "rolling a cut moved a layer"

    @rule(n=pick, by=st.integers(-ticks(4), ticks(4)))
    def slip(self, n: int, by: int) -> None:
        self.do(c.Slip(item=self.thing(n), by=by))

    @rule(start=times, length=lengths, music=st.sampled_from(["cut", "stays"]))
    def remove_range(self, start: int, length: int, music: str) -> None:
        before = self.table.promo
        self.do(c.RemoveRange(start=start, end=start + length, music=music))
        if self.table.promo is not before:
            old, new = timeline(before), timeline(self.table.promo)
            first, last = before.rate.snap(start), min(before.rate.snap(start + length), old.length)
            inside = max(0, min(last, old.main_length) - first)
            assert new.main_length == old.main_length - inside, "the main track lost another length than the range"

    @rule(n=pick, speed=st.integers(100, 16000), backwards=st.booleans(), pitch=st.sampled_from(["kept", "follows"]))
    def run_at(self, n: int, speed: int, backwards: bool, pitch: str) -> None:
        self.do(c.SetSpeed(item=self.thing(n), speed=speed, backwards=backwards, pitch=pitch))

    @rule(n=pick)
    def turn_round(self, n: int) -> None:
        self.do(c.SetSpeed(item=self.thing(n), backwards=bool(n % 2)))

    @rule(n=pick, points=st.lists(st.tuples(st.floats(0, 1), st.integers(100, 16000)), min_size=1, max_size=5))
    def curve(self, n: int, points: list[tuple[float, int]]) -> None:
        self.do(c.SetCurve(item=self.thing(n), points=tuple(points)))
        self.do(c.SetCurve(item=self.thing(n + 1), preset="rush" if n % 2 else "ease-both"))

    @rule(at=times, length=lengths)
    def freeze(self, at: int, length: int) -> None:
        self.do(c.Freeze(at=at, length=length))

    # ---- what is said ----

    def said(self, n: int) -> str:
        words = heard(self.table.promo)
        return words[n % len(words)].key if words else "nothing:0"

    @rule(n=pick, other_n=pick, music=st.sampled_from(["cut", "stays"]))
    def cut_by_words(self, n: int, other_n: int, music: str) -> None:
        self.do(c.WriteDown(media=("ridge", "field", "basket", "song")[n % 4]))
        before = timeline(self.table.promo)
        self.do(c.RemoveWords(words=(self.said(n), self.said(n + 1), self.said(other_n)), music=music))
        assert timeline(self.table.promo).length <= before.length
        self.do(c.CutPauses(words=(self.said(other_n),), to=100))
        self.do(c.MoveWords(words=(self.said(n),), before=self.said(other_n), copy_them=bool(n % 2)))
        for gap in silent(self.table.promo)[: n % 2]:
            self.do(c.BringBack(before=gap.before, behind=gap.behind))
        if n % 6 == 0:
            self.do(c.LayVoice(media=("song", "song"), at=ticks(n), by_scene=bool(other_n % 2), instead=n % 4 == 0))
        if n % 5 == 0:
            self.do(c.RoughCut(media="ridge", stretches=((0, 2), (7, 9)), instead=bool(other_n % 2)))

    @rule(n=pick, other_n=pick, start=st.integers(0, 6000))
    def words_otherwise(self, n: int, other_n: int, start: int) -> None:
        media = ("ridge", "field", "basket", "song")[n % 4]
        first = other_n % 11
        self.do(c.CorrectWords(media=media, language="en", first=first, count=1 + n % 3, text="Hollowmere or so"[:n]))
        self.do(c.MarkWords(media=media, language="en", numbers=(first,), mark=list(MARKS)[n % len(MARKS)]))
        self.do(c.TimeWords(media=media, language="en", first=first, count=1, start=start, end=start + 40 * n))
        self.do(c.ReplaceInWords(language="en", find="dawn", by="dusk" if n % 2 else "early dawn"))
        if n % 7 == 0:
            self.do(c.TypeWords(media=media, language="en", text="Dawn flights over every valley. Come with us."))

    def lane(self, n: int) -> str:
        lanes = self.table.promo.captions
        return lanes[n % len(lanes)].id if lanes else "nothing"

    @rule(n=pick, other_n=pick, at=times, length=lengths, design=st.sampled_from(list(CAPTION_DESIGNS)))
    def captions(self, n: int, other_n: int, at: int, length: int, design: str) -> None:
        self.do(c.AddCaptions(design=design))
        self.do(
            c.TakeCues(language=("de", "en")[n % 2], cues=((at, at + length, "Über dem Tal"), (0, at + 1, "[Wind]")))
        )
        lane = self.lane(n)
        self.do(c.SetCaptions(lane=lane, design=design, values={"size": 0.05 + n / 500}, shown=bool(other_n % 3)))
        self.do(c.SetCaptions(lane=lane, format="tall", values={"pin": (0.5, 0.4)}, late=10 * n))
        self.do(c.PlaceCaptions(lane=lane, media="ridge", first=n, last=other_n, height=0.2 if n % 2 else None))
        self.do(c.AddCue(lane=lane, at=at, length=length, text="[laughs]"))
        own = [cue.id for one in self.table.promo.captions if one.id == lane for cue in one.cues] or ["nothing"]
        self.do(c.SetCue(lane=lane, cue=own[n % len(own)], at=at // 2, text="[claps]"))
        if n % 3 == 0:
            self.do(c.RemoveCue(lane=lane, cue=own[other_n % len(own)]))
        named = [cue.name for one in self.table.promo.captions if one.id == lane for cue in cues(self.table.promo, one)]
        text = ("So it\nbegins here", "dawn", "")[n % 3]
        self.do(c.SayCue(lane=lane, cue=named[other_n % len(named)] if named else "nothing:0", text=text))
        if n % 9 == 0:
            self.do(c.RemoveCaptions(lane=lane))

    @invariant()
    def captions_show_what_is_heard(self) -> None:
        """Exactly the words that are heard, in order, each while it is heard: looked up the other way round, from the
        promo's time to the file's."""
        promo = self.table.promo
        index = timeline(promo)
        parts = {part.id: (part, start) for part, start, _ in voiced_parts(promo)}
        for lane in promo.captions:
            shown = [one for cue in cues(promo, lane) for one in cue.words]
            heard_now = spoken_for(promo, lane)
            assert sorted(one.key for one in shown) == sorted(one.key for one in heard_now)
            assert [cue.start for cue in cues(promo, lane)] == sorted(cue.start for cue in cues(promo, lane))
            for key in parts:
                of_part = [[one for one in few if one.part == key] for few in (shown, heard_now)]
                assert of_part[0] == of_part[1], "what one voice says comes in its order"
            if all(a.end <= b.start for a, b in pairwise(heard_now)):
                assert shown == heard_now
            for one in shown:
                part, start = parts[one.part]
                at = part.source.exact(part.into + one.start - start)
                inside = one.start > start and one.end < min(index.length, start + part.length)
                assert not inside or abs(at - one.word.start * ticks(0.001)) <= ticks(0.06)

    @rule(n=pick, at=st.none() | times)
    def close_gaps(self, n: int, at: int | None) -> None:
        self.do(c.CloseGap(track=self.track(n), at=at))

    # ---- tracks and several items ----

    def track(self, n: int) -> str:
        tracks = [*self.table.promo.layers, *self.table.promo.sounds]
        return tracks[n % len(tracks)].id if tracks else "nothing"

    @rule(n=pick, flag=st.booleans(), field=st.sampled_from(["locked", "hidden", "muted", "solo"]))
    def set_track(self, n: int, flag: bool, field: str) -> None:
        self.do(c.SetTrack(track=self.track(n), **{field: flag}))

    @rule(n=pick, by=st.integers(-3, 3))
    def move_track(self, n: int, by: int) -> None:
        self.do(c.MoveTrack(track=self.track(n), by=by))
        self.do(c.StepTrack(item=self.item(n), by=1 if by > 0 else -1))
        if n == 7:
            self.do(c.RemoveTrack(track=self.track(n)))

    @rule(n=pick, other_n=pick, by=st.integers(-ticks(9), ticks(9)))
    def move_and_trim_several(self, n: int, other_n: int, by: int) -> None:
        both = (self.thing(n), self.thing(other_n))
        self.do(c.MoveItems(items=both, by=by))
        self.do(c.TrimBy(items=both, edge="end" if n % 2 else "start", by=by))
        self.do(c.Group(items=both, apart=bool(other_n % 2)))

    @rule(n=pick, other_n=pick, at=times)
    def copies(self, n: int, other_n: int, at: int) -> None:
        both = (self.thing(n), self.thing(other_n))
        self.do(c.Duplicate(items=both))
        if all(key in timeline(self.table.promo).clip or key in timeline(self.table.promo).item for key in both):
            fragment = take(self.table.promo, set(both))
            self.do(c.Paste(fragment=fragment, at=at))

    @rule(moment=times)
    def all_of_it_in_another_promo(self, moment: int) -> None:
        """What is copied is seen there as it was here, part by part, in a format with changes of its own."""
        promo = self.table.promo
        everything = {part.id for part in (*promo.clips, *promo.items)}
        if not everything:
            return
        fragment = take(promo, everything)
        other = Table(promo.rate, family=f"copy{len(self.states)}-")
        other.promo = other.promo.changed(brand=promo.brand)
        try:
            other.do(c.Paste(fragment=fragment))
        except Refusal as refusal:
            assert refusal.code in ("too-long", "too-many", "too-much")
            return
        there = timeline(other.promo)
        # Copies keep the order that they have in the fragment, on tracks that may be others.
        copies = {name: [] for name in KINDS}
        for part in (*fragment.clips, *fragment.items):
            copies[part.kind].append(looks(promo, part, moment))
        for part in (*there.clip.values(), *there.item.values()):
            look = looks(other.promo, part, moment)
            assert look in copies[part.kind], "something looks otherwise where it was pasted"
            copies[part.kind].remove(look)
        assert not any(copies.values())

    @rule(rate=st.sampled_from(RATES), at=times, length=lengths)
    def paste_from_another_rate(self, rate: Rate, at: int, length: int) -> None:
        other = Table(rate, family=f"other{len(self.states)}-")
        other.do(c.InsertClips(media=("field", "still", "ridge")))
        other.do(c.Trim(item=other.promo.clips[0].id, length=length))
        other.do(c.AddWords(at=ticks(3), length=length))
        other.do(c.SetTransition(after=other.promo.clips[0].id, length=length))
        self.do(c.Paste(fragment=take(other.promo, {clip.id for clip in other.promo.clips}), at=at))

    @rule(rate=st.sampled_from(RATES))
    def another_rate(self, rate: Rate) -> None:
        before = timeline(self.table.promo)
        self.do(c.SetRate(rate=rate))
        after = timeline(self.table.promo)
        drift = len(self.table.promo.clips) * self.table.promo.rate.frame
        assert abs(after.main_length - before.main_length) <= max(drift, before.promo.rate.frame)

    @rule(n=pick)
    def detach_and_attach(self, n: int) -> None:
        clip = self.clip(n)
        self.do(c.DetachSound(clip=clip))
        if n % 2:
            self.do(c.AttachSound(clip=clip))

    @rule(n=pick, other_n=pick)
    def close_after_removing(self, n: int, other_n: int) -> None:
        self.do(c.Remove(items=(self.thing(n),), close=True))

    # ---- scenes, transitions, notes ----

    def a_scene(self, n: int) -> str:
        scenes = self.table.promo.scenes
        return scenes[n % len(scenes)].id if scenes else "nothing"

    @rule(n=pick, other_n=pick, at=times, length=lengths)
    def scenes(self, n: int, other_n: int, at: int, length: int) -> None:
        before = timeline(self.table.promo)
        self.do(c.MoveScene(scene=self.a_scene(n), before=self.a_scene(other_n) if other_n % 3 else None))
        self.do(c.BreakScene(at=at))
        assert timeline(self.table.promo).main_length == before.main_length
        scene = self.a_scene(n)
        self.do(c.SetSceneLength(scene=scene, length=length))
        if scene != "nothing":
            wanted = max(self.table.promo.rate.snap(length), ticks(0.1))
            lasts = timeline(self.table.promo).scene_span[scene].length
            assert abs(lasts - wanted) <= self.table.promo.rate.frame
        if other_n % 4 == 0:
            self.do(c.Duplicate(scene=scene))
            self.do(c.InsertScene(beside=scene, side="before", length=length))
        if other_n % 5 == 0:
            self.do(c.RemoveScene(scene=scene))

    @rule(kind=st.sampled_from(PASSINGS), length=lengths, at=times)
    def transitions(self, kind: str, length: int, at: int) -> None:
        before = timeline(self.table.promo).length
        self.do(c.SetTransition(at=at, kind=kind, length=length))
        self.do(c.SetEdge(edge="start" if at % 2 else "end", kind=kind, length=length))
        if length % 3 == 0:
            self.do(c.SetAllTransitions(kind=kind, length=length))
        assert timeline(self.table.promo).length == before

    # ---- properties ----

    def rows(self, key: str) -> list[Property]:
        part = timeline(self.table.promo).find_part(key)
        return [row for row in PROPERTIES.values() if row.of & part.content.traits]

    @rule(n=pick, which=pick, at=st.none() | times, only=st.booleans(), data=st.data())
    def set_a_property(self, n: int, which: int, at: int | None, only: bool, data: st.DataObject) -> None:
        thing = self.thing(n)
        if thing == "nothing":
            return
        rows = self.rows(thing)
        row = rows[which % len(rows)]
        value = data.draw(values_of(row))
        format = "tall" if which % 2 else None
        self.do(c.Set(items=(thing,), values={row.name: value}, format=format, only=only, at=at))
        if n % 4 == 0:
            self.do(c.Reset(items=(thing,), names=(row.name,), format=format))

    @rule(n=pick, which=pick, at=times, to=times, ease=st.sampled_from([*EASINGS, None]))
    def points(self, n: int, which: int, at: int, to: int, ease: str | None) -> None:
        thing = self.thing(n)
        if thing == "nothing":
            return
        rows = [row for row in self.rows(thing) if row.over_time]
        name = rows[which % len(rows)].name
        self.do(c.AddPoint(item=thing, name=name, at=at, only=bool(n % 2), format="tall" if which % 2 else None))
        self.do(c.AddPoint(item=thing, name=name, at=to))
        self.do(c.MovePoint(item=thing, name=name, at=at, to=to + ticks(1)))
        self.do(c.SetPoint(item=thing, name=name, at=to, ease=ease))
        if n % 3 == 0:
            self.do(c.RemovePoint(item=thing, name=name, at=at))

    @rule(n=pick, which=st.sampled_from(list(EFFECTS)), data=st.data())
    def effects(self, n: int, which: str, data: st.DataObject) -> None:
        thing, rows = self.thing(n), EFFECTS[which].parameters
        values = {row.name: data.draw(values_of(row)) for row in rows[: n % 3]}
        self.do(c.AddEffect(items=(thing,), effect=which, values=values))
        part = timeline(self.table.promo).clip.get(thing) or timeline(self.table.promo).item.get(thing)
        if part is not None and part.effects:
            effect = part.effects[n % len(part.effects)]
            row = effect.parameters[n % len(effect.parameters)]
            self.do(c.Set(items=(thing,), values={f"{effect.id}.{row.name}": data.draw(values_of(row))}))
            self.do(c.AddPoint(item=thing, name=f"{effect.id}.{row.name}", at=ticks(n)))
            self.do(c.MoveEffect(item=thing, effect=effect.id, by=1 if n % 2 else -1))
            if n % 3 == 0:
                self.do(c.RemoveEffect(item=thing, effect=effect.id))

    @rule(n=pick, other_n=pick, at=times, which=st.integers(0, 24))
    def arranging(self, n: int, other_n: int, at: int, which: int) -> None:
        few = (self.item(n), self.item(other_n), self.item(n + other_n))
        wide = {"items": few, "format": "wide", "only": n % 2 == 0}
        edges = ("left", "centre", "right", "top", "middle", "bottom")
        self.do((
            c.AlignItems(edge=edges[n % 6], to="frame" if n % 2 else "each-other", at=at, **wide),
            c.SpreadItems(axis="across" if n % 2 else "down", **wide),
            c.SizeItems(how=("fill", "fit", "half", "third")[n % 4], **wide),
            c.OrderItems(items=few, to="front" if n % 2 else "back"),
            c.ToLayer(clip=self.clip(n), format="tall", at=at if other_n % 2 else None),
            c.ToMain(item=self.item(n), at=at if other_n % 2 else None),
            c.PanZoom(items=(self.clip(n),), preset="push-in" if n % 2 else None, format="square", only=n % 3 == 0),
            c.FrameClip(item=self.clip(n), format="tall", x=-n / 9, y=-0.2, width=2.0, height=3.0, turn=n,
            only=n % 2 == 0),
            c.PunchIn(clip=self.clip(n), at=at, toward=(0.2, 0.8) if n % 2 else None),
            c.PutBehind(item=self.clip(n), media="still" if n % 2 else "field"),
            c.AddAdjustment(at=at, scene=self.a_scene(n) if n % 3 == 0 else None, whole=n % 5 == 0),
            c.Balance(items=(self.clip(n),), like=self.clip(other_n) if n % 2 else None),
            c.Stagger(items=few, by=at),
            c.StyleWords(items=few, style=("heading", "price", "small", "")[n % 4]),
            c.KeepStyle(item=self.item(n)),
            c.AddShape(form=list(FORMS)[n % len(FORMS)], at=at, format="tall",
                       box=(n / 9, 0.1, 0.4, 0.2) if n % 2 else None),
            c.DismissCheck(check="size", part=self.item(n), format="tall", reason="" if n % 3 else "It is meant so."),
            c.AddSticker(sticker="party-popper", at=at),
            c.TakeApart(item=self.item(n)),
            c.PlaceCalm(items=few, format="tall" if n % 2 else None),
            c.SwitchBrand(brand=Brand(
                origin=f"b{n % 3}", logos={"logo": "still" if n % 2 else "ridge"}, palettes=DAY_AND_NIGHT[: n % 3],
                styles={"heading": {"font": "heading", "size": 0.1 + n % 4 / 20}} if n % 4 else {},
            )),
            c.WearPalette(palette=("Day", "Night")[n % 2]),
            c.LeaveOut(scene=self.a_scene(n)),
            c.AddFormat(shape=("6:5", "9:1", "1200x628")[n % 3], channel=("", "passerby")[n % 2]),
            c.CopyFormat(format=("tall", "wide")[n % 2], channel=("", "townsquare", "nowhere")[other_n % 3]),
            c.SetFormat(format="square", shape="5:6" if n % 2 else None, name="Card" if other_n % 2 else None),
            c.MoveFormat(format="tall", before=("wide", None, "gone")[n % 3]),
            c.CopyChanges(format="tall", to="wide", items=few if n % 2 else ()),
            c.ToRule(format="tall", items=few if n % 2 else ()),
            c.AimView(item=self.clip(n), format="tall", at=at, focus=(n % 10 / 9, 0.5), only=n % 2 == 0),
            c.SetChannels(channels=(("passerby",), ("marquee", "lobby"), ())[n % 3]),
            c.SwitchDesign(item=self.item(n), design=sorted(shipped())[(n + other_n) % len(shipped())]),
            c.PushOver(item=self.item(n), at=at),
            c.SetTransition(after=self.item(n), kind="iris"),
            c.SetGround(scene=self.a_scene(n) if n % 2 else None, values={"ground": "blurred" if n % 4 else "inherit"}),
        )[which])  # fmt: skip

    @rule(n=pick, which=st.sampled_from(sorted(shipped())), at=times, media=pictures, text=st.text(max_size=30))
    def designs(self, n: int, which: str, at: int, media: str, text: str) -> None:
        self.do(c.AddDesign(design=which, at=at))
        made = [item for item in self.table.promo.items if item.design is not None]
        if made:
            item = made[n % len(made)]
            fields = self.table.promo.designs[item.design].fields
            name = sorted(fields)[n % len(fields)]
            self.do(c.FillPicture(item=item.id, name=name, media=media if n % 3 else None))
            self.do(c.Set(items=(item.id,), values={f"field.{name}": text}, format="tall", only=bool(n % 2)))

    @rule(n=pick, which=st.integers(0, 6), grid=st.sampled_from(sorted(GRIDS)), media=pictures, at=times)
    def collages(self, n: int, which: int, grid: str, media: str, at: int) -> None:
        made = [clip for clip in self.table.promo.clips if clip.cells]
        if not made or (which == 0 and len(made) < 3):
            self.do(c.AddCollage(grid=grid, media=(media, "still"), at=at))
            return
        clip = made[n % len(made)]
        cell, other = clip.cells[n % len(clip.cells)].id, clip.cells[at % len(clip.cells)].id
        self.do((
            c.FillCell(item=clip.id, cell=cell, media=media if n % 4 else None),
            c.FillCell(item=clip.id, cell=cell, words="Now"),
            c.SwapCells(item=clip.id, cell=cell, other=other),
            c.ArrangeCells(item=clip.id, grid=grid),
            c.MoveDivider(item=clip.id, format="tall", after=n % 3, share=n % 11 / 10),
            c.Set(items=(clip.id,), values={f"{cell}.zoom": 2.0, "step": at // 8}, format="tall", only=bool(n % 2)),
            c.FitCollage(item=clip.id) if n % 3 else c.FreeCollage(item=clip.id),
        )[which])  # fmt: skip

    @rule(n=pick, kind=st.sampled_from(sorted(SLOT_KINDS)), media=pictures, text=st.text(max_size=30))
    def slots(self, n: int, kind: str, media: str, text: str) -> None:
        thing = self.thing(n)
        of = ("source", "text", "field.title", "fills.first")[n % 4]
        self.do(c.MarkSlot(item=thing, of=of, kind=kind, label="Fill me", most=n))
        self.do(c.SetFacts(facts=Facts(rule=("free", "exact")[n % 2])))
        if self.table.promo.slots:
            slot = self.table.promo.slots[n % len(self.table.promo.slots)]
            before = timeline(self.table.promo)
            self.do(c.FillSlot(slot=slot.id, text=text, media="song" if kind == "sound" else media))
            after = timeline(self.table.promo)
            assert before.clip_span == after.clip_span, "filling moved something"
            if n % 3 == 0:
                self.do(c.UnmarkSlot(slot=slot.id))

    @rule(n=pick, other_n=pick)
    def looks(self, n: int, other_n: int) -> None:
        self.do(c.CopyLook(source=self.thing(n), items=(self.thing(other_n), self.thing(other_n + 1))))

    @rule(n=pick, length=lengths, gain=st.floats(-60, 12))
    def dress(self, n: int, length: int, gain: float) -> None:
        item, clip = self.item(n), self.clip(n)
        place = {"item": item, "format": "tall", "x": n / 30, "y": 0.1, "width": 0.4, "height": 0.2}
        place |= {"only": bool(n % 2), "at": length}
        format = ["cinema", "portrait", "classic"][n % 3]
        commands = (
            c.InsertFiller(at=length, length=length), c.PlaceItem(**place),
            c.PinItems(items=(item,), format="tall", spot=(1, 0.5), only=bool(n % 3)), c.RemoveTransition(after=clip),
            c.RenameScene(scene=self.a_scene(n), name=f"Scene {n}"), c.Rename(name=f"Promo {n}"),
            c.AddFormat(format=format), c.RemoveFormat(format=format), c.SetTrack(track=self.track(n), gain=gain),
            c.SetBus(bus=("voice", "music", "effects", "ambience")[n % 4], gain=gain),
            c.SetWhole(gain=gain, loudness=(-14, "channels", "mixed")[n % 3]),
        )  # fmt: skip
        for spot in {n % len(commands), (n * 7) % len(commands)}:
            self.do(commands[spot])

    @rule(n=pick, at=times)
    def hear(self, n: int, at: int) -> None:
        item = self.item(n)
        commands = (
            c.RunSound(item=item, runs=("once", "round", "fitted")[n % 3]), c.StepHalf(item=item, at=at),
            c.LayTake(media="song", at=at, into=ticks(n % 3), length=ticks(1)),
            c.LayRecording(screen="ridge", camera="field", at=at, late=ticks(n % 5 - 2)),
            c.ReplaceEverywhere(old=("ridge", "field")[n % 2], media=("basket", "still")[n % 2], shorter="hold"),
            c.LayPages(turns=({"media": "still"}, {"media": "sign", "at": at % ticks(5)}), at=at, camera="field"),
            c.FillMissing(fillers=(item,), media=("basket",)),
            c.LayRoomTone(item=item), c.CutToBeat(music=item, every=("beat", "bar", "two-bars")[n % 3]),
            c.MarkMoments(music=item),
        )  # fmt: skip
        self.do(commands[n % len(commands)])

    @rule(at=times, n=pick)
    def note(self, at: int, n: int) -> None:
        self.do(c.AddNote(at=at, text="look"))
        notes = self.table.promo.notes
        self.do(c.SetNote(note=notes[n % len(notes)].id, at=at))
        if n % 3 == 0:
            self.do(c.Remove(items=(notes[0].id,)))

    @rule()
    def undo(self) -> None:
        chain = self.chain.undone()
        if chain is not None:
            self.chain = chain
            self.table.promo = self.states[chain.head]

    @rule()
    def redo(self) -> None:
        chain = self.chain.redone()
        if chain is not None:
            self.chain = chain
            self.table.promo = self.states[chain.head]

    @invariant()
    def no_state_is_forbidden(self) -> None:
        if hasattr(self, "table"):
            check_rules(self.table.promo)

    @invariant()
    def everything_holds(self) -> None:
        if not hasattr(self, "table"):
            return
        promo = self.table.promo
        index = timeline(promo)
        rate = promo.rate
        now = 0
        for clip in promo.clips:
            assert index.clip_span[clip.id].start == now
            now += clip.length
            assert rate.frame_start(rate.frame_nearest(now)) == now, "cuts lie on the frame grid"
            media = promo.media.get(clip.media or "")
            if media is not None and media.length >= rate.frame:
                first, last = clip.source.range(clip.into, clip.length)
                assert 0 <= first <= last <= media.length, "a clip shows what its media does not have"
        assert index.main_length == now
        for track in (*promo.layers, *promo.sounds):
            assert track.items, "an empty track stayed"
            spans = sorted((index.item_span(i).start, index.item_span(i).end) for i in track.items)
            assert all(a[1] <= b[0] for a, b in zip(spans, spans[1:], strict=False)), "two items meet on a track"
            for item in track.items:
                span = index.item_span(item)
                assert span.start >= 0
                if not item.content.fine and not isinstance(item.anchor, Whole):
                    assert rate.snap(span.start) == span.start, "a layer begins off the frame grid"
                    assert rate.snap(span.length) == span.length, "a layer lasts for part of a frame"
                if isinstance(item.anchor, Tied):
                    assert item.anchor.offset < index.clip[item.anchor.clip].length
                media = promo.media.get(item.media or "")
                if media is not None and media.length:
                    first, last = item.source.range(item.into, index.item_span(item).length)
                    assert 0 <= first <= last <= media.length, "an item shows what its media does not have"
        for note in promo.notes:
            assert not isinstance(note.anchor, Tied) or note.anchor.clip in index.clip
        assert Promo.model_validate_json(promo.model_dump_json()) == promo
        assert set(promo.media) == promo.kept_media()
        assert set(promo.designs) == promo.used_designs()

    @invariant()
    def everything_can_be_drawn_and_heard(self) -> None:
        if not hasattr(self, "table"):
            return
        promo = self.table.promo
        index = timeline(promo)
        for time in {0, index.length // 2, max(0, index.length - 1), *(cut.at for cut in index.cuts[:2])}:
            assert frame_recipe(promo, SHIPPED["tall"], time, measure).ops
        for voice in all_voices(promo):
            assert voice.length > 0
            assert voice.source_at >= 0
            assert voice.fade_in + voice.fade_out <= voice.length or voice.power
            assert [at for at, _ in voice.levels] == sorted({at for at, _ in voice.levels})


def test_the_machine_knows_every_command() -> None:
    written = Path(__file__).read_text()
    assert [kind.__name__ for kind in c.ALL if f"c.{kind.__name__}(" not in written] == []


TestEdits = Edits.TestCase
TestEdits.settings = settings(
    max_examples=60, stateful_step_count=30, deadline=None, suppress_health_check=list(HealthCheck)
)
