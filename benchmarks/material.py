"""Promos and files that the benchmarks measure with."""

from __future__ import annotations

import hashlib
import subprocess
from itertools import count
from pathlib import Path

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.formats import FIRST_CHOICE, SHIPPED
from glowreel.core.media import Media
from glowreel.core.time import ticks
from glowreel.demo.scenario import MEDIA
from glowreel.engine.ingest import make_proxy, make_samples
from glowreel.engine.probe import Facts, probe
from glowreel.engine.sources import NothingMade


class Shop(NothingMade):
    """Files in a folder as the engine's `Library`, from originals or from stand-ins."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.paths: dict[str, Path] = {}
        self.stand_ins: dict[str, Path] = {}
        self.media: dict[str, Media] = {}
        self.preview = False

    def add(self, path: Path, *, stand_in: bool = False) -> Media:
        with path.open("rb") as file:
            digest = hashlib.file_digest(file, "sha256").hexdigest()
        facts = probe(path, path.name)
        self.paths[digest] = path
        if stand_in and facts.kind == "footage":
            out = self.folder / f"{digest[:12]}.proxy.mp4"
            facts, _ = make_proxy(path, facts, out, self.folder / "strip.jpg", lambda share: None)
            self.stand_ins[digest] = out
        media = _media(digest, path, facts)
        self.media[media.id] = media
        return media

    def picture(self, source: str) -> Path:
        return self.stand_ins.get(source, self.paths[source]) if self.preview else self.paths[source]

    def samples(self, source: str) -> Path:
        path = self.folder / f"{source[:12]}.samples"
        if not path.exists():
            make_samples(self.paths[source], path)
        return path


def _media(digest: str, path: Path, facts: Facts) -> Media:
    return Media(
        id=f"m{digest[:12]}", kind=facts.kind, name=path.name, hash=digest, length=facts.length, width=facts.width,
        height=facts.height, rate=facts.rate, sounding=facts.sounding, alpha=facts.alpha,
    )  # fmt: skip


class Maker:
    def __init__(self, shop: Shop) -> None:
        numbers = count(1)
        self.context = c.Context(lambda prefix: f"{prefix}{next(numbers)}", shop.media)
        self.promo = Promo(id="p", name="Bench", formats=tuple(SHIPPED[f] for f in FIRST_CHOICE))

    def do(self, command: c.Command) -> str:
        edit = c.apply(self.promo, command, self.context)
        self.promo = edit.promo
        return edit.select[0] if edit.select else ""

    def clip(self, media: Media, start: float, length: float) -> str:
        clip = self.do(c.InsertClips(media=(media.id,)))
        full = self.promo.clips[-1].length
        if start:
            self.do(c.Trim(item=clip, edge="start", length=full - ticks(start)))
        self.do(c.Trim(item=clip, length=ticks(length)))
        return clip


def camera_footage(folder: Path, seconds: int = 24) -> Path:
    """1080p30 footage with camera-like grain and sound, made with ffmpeg from the demo's."""
    out = folder / f"camera-{seconds}.mp4"
    if not out.exists():
        run = ["ffmpeg", "-v", "error", "-y", "-stream_loop", "-1", "-i", str(MEDIA / "over-the-fields.mp4")]
        run += [
            "-t",
            str(seconds),
            "-vf",
            "fps=30,noise=alls=5:allf=t",
            "-c:v",
            "libx264",
            "-preset",
            "veryfast",
            "-crf",
            "22",
        ]
        run += ["-pix_fmt", "yuv420p", "-colorspace", "bt709", "-color_primaries", "bt709", "-color_trc", "bt709"]
        subprocess.run([*run, "-c:a", "aac", str(out)], check=True)
    return out


def three_layers(shop: Shop) -> Promo:
    """Footage with a title in a box, a logo and a picture in the picture."""
    maker = Maker(shop)
    field, ridge = (shop.add(MEDIA / name, stand_in=True) for name in ("over-the-fields.mp4", "dawn-ridge.mp4"))
    logo, picnic = shop.add(MEDIA / "hollowmere-logo.svg"), shop.add(MEDIA / "picnic.jpg")
    maker.clip(field, 0, 9)
    maker.clip(ridge, 0, 8)
    maker.do(c.SetTransition(after=maker.promo.clips[0].id))
    title = maker.do(c.AddWords(text="Breakfast\nat 600 metres", at=0, length=ticks(17)))
    maker.do(c.Set(items=(title,), values={"box": "#C8430B", "shadow": 0.3}))
    maker.do(c.AddPicture(media=logo.id, whole=True))
    maker.do(c.AddPicture(media=picnic.id, whole=True))
    return maker.promo


def many_items(shop: Shop, clips: int, layers: int) -> Promo:
    """A long promo: clips on the main track, a title on each of many of them."""
    maker = Maker(shop)
    photo = shop.add(MEDIA / "picnic.jpg")
    maker.do(c.InsertClips(media=(photo.id,) * min(200, clips)))
    while len(maker.promo.clips) < clips:
        maker.do(c.InsertClips(media=(photo.id,) * min(200, clips - len(maker.promo.clips))))
    for n in range(layers):
        maker.do(c.AddWords(text=f"Title {n}", at=n * ticks(3) * clips // layers, length=ticks(2)))
    return maker.promo
