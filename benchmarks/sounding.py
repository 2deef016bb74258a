"""Sound: mixing with everything on, whether playing starves, noise, beats, and loudness of a whole promo."""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from benchmarks.material import Shop
from glowreel.core import commands as c
from glowreel.core.derived import Need
from glowreel.core.document import Promo
from glowreel.core.equaliser import PRESETS
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.sound import sound_length, sound_recipe
from glowreel.core.time import ticks
from glowreel.engine.beats import find_beats
from glowreel.engine.meters import measure
from glowreel.engine.mix import mix
from glowreel.engine.sources import Sources
from glowreel.engine.speech import listen
from glowreel.engine.voicing import make_voice, take_noise_out
from glowreel.library import pieces

Show = Callable[[str, str, str, bool], None]
RATE = 48_000
SECONDS = 40
TRACKS = 12


class _Made(Shop):
    """A shop in which copies of sounds are made as well."""

    def made(self, need: Need, name: str) -> Path:
        path = self.folder / f"{need.source[:12]}.{need.maker}.{name}"
        if not path.exists():
            make_voice(self.samples(need.source), None, dict(need.settings), path, lambda share: None)
        return path


def _dressed(shop: _Made) -> tuple[Promo, Callable[[Need], dict[str, object] | None]]:
    """Twelve tracks: songs that give way to three voices, equalisers, gains over time, fades, sides; −14 LUFS."""
    songs = [piece for piece in pieces().values() if piece.sort == "song"][:TRACKS]
    found = [shop.add(piece.path) for piece in songs]
    spoken = tuple((n * 400, n * 400 + 250) for n in range(10))
    voices = {media.id for media in found[:3]}
    found = [
        media.changed(heard="voice" if media.id in voices else "music", speech=spoken if media.id in voices else ())
        for media in found
    ]
    numbers = iter(range(10_000))
    context = c.Context(lambda prefix: f"{prefix}{next(numbers)}", {media.id: media for media in found})
    promo = Promo(id="p", name="Sound", formats=(SHIPPED["wide"],))
    bands = list(PRESETS.values())
    for number, media in enumerate(found):
        done = c.apply(promo, c.AddSound(media=media.id), context)
        item = done.select[0]
        values = {
            "bands": bands[number % len(bands)][1], "fade_in": ticks(1), "fade_out": ticks(1), "pan": (number - 6) / 8,
            **({"clear": 0.6} if media.id in voices else {"dip_band": "speech" if number % 2 else "all"}),
        }  # fmt: skip
        promo = c.apply(done.promo, c.Set(items=(item,), values=values), context).promo
        for at in (5, 15):
            promo = c.apply(promo, c.AddPoint(item=item, name="gain", at=ticks(at), value=-at / 3), context).promo
    promo = c.apply(promo, c.SetWhole(loudness=-14), context).promo
    return promo, lambda need: {}


def _timed(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def sounding(folder: Path, show: Show) -> None:
    shop = _Made(folder)
    promo, known = _dressed(shop)
    sources, length = Sources(shop), SECONDS * RATE
    step = 4 * RATE

    def mixed() -> None:
        for start in range(0, length, step):
            mix(sound_recipe(promo, start, step, known, 3.0), sources)

    mixed()
    took = statistics.median(_timed(mixed) for _ in range(3))
    pace = SECONDS / took
    show(f"mixing {TRACKS} tracks with all of it on", f"{pace:.0f} x real time", "> 40 x", pace > 40)
    spans = []
    for start in range(0, length, RATE):
        spans.append(_timed(lambda at=start: mix(sound_recipe(promo, at, RATE, known, 3.0), sources)))  # type: ignore[misc]
    worst = max(spans)
    show("playing it: the slowest span of a second", f"{worst * 1000:.0f} ms", "< 1000 ms, ahead", worst < 0.5)
    took = _timed(lambda: measure(promo, sources, known))
    lasts = sound_length(promo) / RATE
    show("loudness of the whole, with every strip", f"{lasts / took:.0f} x real time", "-", True)
    speech = folder / "speech"
    chance = np.random.default_rng(1)
    line = (chance.standard_normal(SECONDS * RATE) * 2000 * (np.arange(SECONDS * RATE) // 24_000 % 2)).astype(np.int16)
    np.repeat(line[:, None], 2, axis=1).tofile(speech)
    took = _timed(lambda: take_noise_out(speech, folder / "quiet", lambda share: None))
    show("taking noise out of a voice", f"{SECONDS / took:.1f} x real time", "> 5 x", SECONDS / took > 5)
    took = _timed(lambda: make_voice(speech, None, {"clear": 0.6, "evened": 0.5}, folder / "clear", lambda share: None))
    show("a clear voice", f"{SECONDS / took:.0f} x real time", "-", True)
    took = _timed(lambda: listen(speech))
    show("finding speech", f"{SECONDS / took:.0f} x real time", "-", True)
    song = next(piece for piece in pieces().values() if piece.length > 55)
    with tempfile.TemporaryDirectory() as beside:
        samples = _Made(Path(beside))
        media = samples.add(song.path)
        took = _timed(lambda: find_beats(samples.samples(media.hash), lambda share: None))
    show(f"beats of a song of {song.length:.0f} s", f"{took:.2f} s", "< 6 s", took < 6)
