"""Random edits of what things look and sound like: properties, effects, designs, collages, slots."""

from __future__ import annotations

from hypothesis import strategies as st
from hypothesis.stateful import rule

from glowreel.core import commands as c
from glowreel.core.brand import Brand
from glowreel.core.collage import GRIDS
from glowreel.core.effects import EFFECTS
from glowreel.core.forms import FORMS
from glowreel.core.properties import EASINGS, PROPERTIES, Property
from glowreel.core.slots import SLOT_KINDS
from glowreel.core.template import Facts
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from glowreel.designs import shipped
from tests.core.edits.base import (
    DAY_AND_NIGHT,
    lengths,
    pick,
    pictures,
    times,
)
from tests.core.edits.tracks import Tracks
from tests.core.values import values_of


class Looks(Tracks):
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
