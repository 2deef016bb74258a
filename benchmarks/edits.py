"""Every command on promos of 500 and 1,000 items, carried out in memory: the worst of each, in milliseconds."""

from __future__ import annotations

import contextlib
import statistics
import time
from collections.abc import Callable

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.fragment import take
from glowreel.core.media import Media
from glowreel.core.time import Rate, ticks
from glowreel.designs import shipped

SECOND = ticks(1)
FOOTAGE = Media(
    id="shot", kind="footage", name="shot.mp4", hash="a" * 64, length=ticks(20), width=1920, height=1080,
    rate=Rate(num=30, den=1), sounding=True,
)  # fmt: skip
SONG = Media(id="song", kind="sound", name="song.wav", hash="b" * 64, length=ticks(60), sounding=True)
MEDIA = {media.id: media for media in (FOOTAGE, SONG)}


class Desk:
    """A promo of about as many items as wanted: half of them clips, the rest titles and sounds in equal parts."""

    def __init__(self, items: int) -> None:
        self._count = 0
        self.context = c.Context(new_id=self._new_id, media=MEDIA, designs=shipped())
        formats = tuple(SHIPPED[key] for key in ("wide", "square", "tall"))
        self.promo = Promo(id="p", name="Large", formats=formats)
        clips = items // 2
        for first in range(0, clips, 100):
            self.do(c.InsertClips(media=("shot",) * min(100, clips - first)))
        self.do(c.TrimBy(items=tuple(clip.id for clip in self.promo.clips), by=-18 * SECOND))
        for n in range(items // 4):
            self.do(c.AddWords(at=n * 4 * SECOND, length=3 * SECOND, text=f"Title {n}"))
        for n in range(items // 4):
            self.do(c.AddSound(media="song", at=n * 4 * SECOND, track=None))
            self.do(c.Trim(item=self.promo.sounds[-1].items[-1].id, length=3 * SECOND))
        self.do(c.SetAllTransitions(kind="crossfade", length=SECOND // 2))
        self.do(c.AddNote(at=SECOND, text="look"))
        for track in self.promo.layers:
            for item in track.items[::3]:
                self.do(c.AddPoint(item=item.id, name="size", at=0))
                self.do(c.Set(items=(item.id,), values={"text": "Less"}, format="tall", only=True))

    def _new_id(self, prefix: str) -> str:
        self._count += 1
        return f"{prefix}-{self._count}"

    def do(self, command: c.Command) -> None:
        self.promo = c.apply(self.promo, command, self.context).promo

    def commands(self) -> dict[str, c.Command]:
        """One of each, as heavy as it gets: near the beginning, or on everything."""
        promo = self.promo
        clip, title = promo.clips[1].id, promo.layers[0].items[0].id
        everything = (*(clip.id for clip in promo.clips), *(item.id for item in promo.items))
        half = everything[: len(everything) // 2]
        scene, track = promo.scenes[0].id, promo.layers[0].id
        moving = promo.layers[0].items[3].id
        place = {"item": title, "format": "wide", "x": 0.1, "y": 0.1, "width": 0.4, "height": 0.2}
        made = (
            c.InsertClips(media=("shot",) * 200, at=0), c.InsertFiller(at=0), c.MoveClips(clips=(clip,), before=None),
            c.Trim(item=clip, length=SECOND, edge="start"),
            c.SplitAt(at=3 * SECOND // 2), c.Remove(items=half, close=True), c.Overwrite(media="shot", at=SECOND),
            c.Replace(item=clip, media="shot"), c.RollCut(after=clip, by=SECOND // 2),
            c.Slip(item=clip, by=SECOND), c.RemoveRange(start=SECOND, end=60 * SECOND),
            c.CloseGap(track=track), c.SetSpeed(item=clip, speed=2000), c.SetCurve(item=clip, preset="rush"),
            c.Freeze(at=SECOND), c.AddWords(at=0), c.AddPicture(media="shot", at=0),
            c.MoveItem(item=title, at=9 * SECOND), c.TieItem(item=title, to="time"), c.PlaceItem(**place),
            c.Set(items=everything, values={"shown": True, "gain": -6}), c.Reset(items=everything, format="wide"),
            c.CopyLook(source=title, items=everything), c.PinItems(items=everything, format="wide", spot=(1, 0)),
            c.AddPoint(item=title, name="opacity", at=SECOND), c.SetPoint(item=moving, name="size", at=0, ease="in"),
            c.MovePoint(item=moving, name="size", at=0, to=SECOND), c.RemovePoint(item=moving, name="size", at=0),
            c.SetBus(bus="music", gain=-6), c.AddDesign(design="ember-bar"), c.FillPicture(item=title, name="first"),
            c.MarkSlot(item=title, of="text", kind="words", label="Say"), c.UnmarkSlot(slot="q"),
            c.FillSlot(slot="q", text="x"), c.AddEffect(items=everything, effect="blur"),
            c.MoveEffect(item=clip, effect="e", by=1),
            c.RemoveEffect(item=clip, effect="e"), c.AddSound(media="song", at=0),
            c.DetachSound(clip=clip), c.AttachSound(clip=clip),
            c.SetTransition(after=clip), c.SetAllTransitions(kind="blur"), c.RemoveTransition(after=clip),
            c.SetEdge(edge="start", kind="iris"), c.MoveItems(items=everything, by=SECOND),
            c.TrimBy(items=everything, by=-SECOND // 2), c.Group(items=everything),
            c.Paste(fragment=take(promo, set(everything)), at=0), c.Duplicate(items=everything),
            c.SetTrack(track=track, name="Titles"), c.MoveTrack(track=track, by=1), c.RemoveTrack(track=track),
            c.StepTrack(item=title, by=1), c.RenameScene(scene=scene, name="Other"), c.BreakScene(clip=clip),
            c.JoinScene(scene=scene), c.MoveScene(scene=scene), c.InsertScene(beside=scene),
            c.RemoveScene(scene=scene), c.SetSceneLength(scene=scene, length=5 * SECOND), c.AddNote(at=0),
            c.SetNote(note=promo.notes[0].id, text="see"), c.Rename(name="Other"), c.AddFormat(format="cinema"),
            c.RemoveFormat(format="square"), c.Join(item=clip), c.SetRate(rate=Rate(num=25, den=1)),
        )  # fmt: skip
        return {type(command).__name__: command for command in made}


def measure(promo: Promo, context: c.Context, command: c.Command, runs: int = 3) -> float:
    """Median milliseconds of carrying a command out; a refusal counts as long as it took."""
    took = []
    for _ in range(runs):
        fresh = promo.model_copy()
        began = time.perf_counter()
        with contextlib.suppress(Refusal):
            c.apply(fresh, command, context)
        took.append((time.perf_counter() - began) * 1000)
    return statistics.median(took)


def edits(show: Callable[[str, str, str, bool], None] | None = None) -> None:
    """Prints the worst commands at both sizes, and says which command was not measured."""
    for items, budget in ((500, 100), (1000, 200)):
        desk = Desk(items)
        figures = {name: measure(desk.promo, desk.context, it) for name, it in desk.commands().items()}
        missing = {kind.__name__ for kind in c.ALL} - set(figures)
        worst = sorted(figures.items(), key=lambda pair: -pair[1])
        text = ", ".join(f"{name} {took:.0f}" for name, took in worst[:6])
        line = f"worst of {len(figures)}: {text}; median {statistics.median(figures.values()):.0f} ms"
        if missing:
            line += f"; not measured: {', '.join(sorted(missing))}"
        if show is None:
            print(f"{items} items: {line}")
        else:
            show(
                f"every command, {items} items, in memory", line, f"< {budget} ms", worst[0][1] < budget and not missing
            )


if __name__ == "__main__":
    edits()
