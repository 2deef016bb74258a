"""Previews: frames and sound of any revision, drawn from the stand-ins by the same engine as the export."""

from __future__ import annotations

import hashlib
import queue
import threading
from collections.abc import Collection, Iterator
from contextlib import contextmanager
from pathlib import Path

import diskcache
import numpy as np

from glowreel.core.brand import Brand, brand_styles
from glowreel.core.captions.drawing import sample_ops
from glowreel.core.commands import AddDesign, AddShape, AddWords, Context, Set, apply
from glowreel.core.derived import Known, Need, nothing
from glowreel.core.design import Design
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.forms import FORMS
from glowreel.core.layout import Box
from glowreel.core.naming import naming
from glowreel.core.recipe.model import DrawWords, Fill, FrameRecipe, Op, recipe_hash
from glowreel.core.recipe.needs import named_in
from glowreel.core.recipe.picture import find_format, frame_recipe, resting_op
from glowreel.core.recipe.sound import sound_recipe
from glowreel.core.recipe.transitions import transition_ops
from glowreel.core.text_styles import STYLES
from glowreel.core.time import SAMPLE_RATE, TICKS_PER_SECOND
from glowreel.core.timeline import timeline
from glowreel.core.vocabulary import TransitionKind
from glowreel.core.words import Words
from glowreel.engine.draw import Canvas, TooSlow
from glowreel.engine.drawing import digest as drawing
from glowreel.engine.makers import MAKERS
from glowreel.engine.mix import mix, to_pcm
from glowreel.engine.soundfiles import write_sound
from glowreel.engine.sources import Sources
from glowreel.engine.still import encode, encode_loop
from glowreel.engine.typesetting import measure
from glowreel.services.looking import Eyes
from glowreel.services.measuring import Meters
from glowreel.services.setup import Runtime

STRIP_FRAMES = 12
SIZES = (72, 120, 180, 240, 300, 360, 480, 540, 720, 1080)
LOOP_RATE, LOOP_FRAMES = 12, 60
"""Frames a second of a design that plays on its card, and how many at most."""
MAX_RUN = 60
MAX_SPAN = 4 * SAMPLE_RATE
PAINTERS = 2
FRAME_SECONDS = 5.0
"""How long a preview of a frame may take; what takes longer is given up, and that is remembered."""
TOO_LONG = "too long"
TOO_LONG_FOR = 600.0


def _card(colour: str, letter: str) -> list[Op]:
    """A plain card with a letter in the middle, to show a transition with."""
    words = Words(text=letter, colour="#FFFCF6" if letter == "A" else "#23201C")
    width, height = measure(words, 520, 1900)
    box = Box((1920 - width) / 2, (1080 - height) / 2, width, height)
    return [Fill(colour), DrawWords(words, 520, 1900, box)]


class _Painter:
    """Readers and canvases for one drawing at a time."""

    def __init__(self, sources: Sources) -> None:
        self.sources = sources
        self._canvases: dict[tuple[int, int], Canvas] = {}

    def canvas(self, width: int, height: int) -> Canvas:
        key = (width, height)
        if key not in self._canvases:
            if len(self._canvases) > 8:
                self._canvases.clear()
            self._canvases[key] = Canvas(self.sources, width, height)
        return self._canvases[key]


class Preview:
    """Draws and remembers. One for each process; a few drawings run side by side, the others wait their turn."""

    def __init__(self, runtime: Runtime) -> None:
        limit = runtime.settings.frames_mb * 1024**2
        self._cache = diskcache.Cache(str(Path(runtime.settings.cache) / "frames"), size_limit=limit)
        self._library = runtime.library
        self._free: queue.LifoQueue[_Painter] = queue.LifoQueue()
        for _ in range(PAINTERS):
            self._free.put(_Painter(Sources(runtime.library.for_preview, threads=1)))
        self.eyes = Eyes(self._cache, self._painter)
        self.meters = Meters(self._cache, self._painter)
        self._aside = threading.Lock()
        self._card_painter = _Painter(Sources(runtime.library.for_preview, threads=1))

    @contextmanager
    def _painter(self) -> Iterator[_Painter]:
        painter = self._free.get()
        try:
            yield painter
        finally:
            self._free.put(painter)

    def recipe(
        self, promo: Promo, format_id: str, frame: int, short: int, at_rest: Collection[str] = (), without: str = ""
    ) -> tuple[FrameRecipe, str]:
        """The recipe of a frame (held inside the promo) and the name under which it is remembered."""
        format = find_format(promo, format_id)
        if short not in SIZES:
            raise Refusal("size", "Previews come in fixed sizes.", f"Ask for one of {', '.join(map(str, SIZES))}.")
        at = promo.rate.frame_start(max(0, min(frame, timeline(promo).frame_count - 1)))
        recipe = frame_recipe(promo, format, at, measure, at_rest, without)
        return recipe, recipe_hash(recipe, format.size(short), drawing())

    def waits(self, recipe: FrameRecipe) -> bool:
        """Whether something that a frame names is not made yet, so that it will look otherwise."""

        def there(need: Need) -> bool:
            try:
                for name in MAKERS[need.maker].files:
                    self._library.made(need, name)
            except Missing:
                return False
            return True

        return not all(there(need) for need in named_in(recipe))

    def frame(self, promo: Promo, format_id: str, recipe: FrameRecipe, key: str, short: int) -> bytes:
        """A frame as JPEG, from memory where it has been drawn before. One that waits for something is not kept."""
        waits = self.waits(recipe)
        known = None if waits else self._cache.get(key)
        if known == TOO_LONG:
            raise TooSlow()
        if isinstance(known, bytes):
            return known
        size = find_format(promo, format_id).size(short)
        try:
            with naming(promo), self._painter() as painter:
                data = encode(painter.canvas(*size).draw(recipe, within=FRAME_SECONDS))
        except TooSlow:
            # Remembered for a while, so that looking at it again costs nothing.
            self._cache.set(key, TOO_LONG, expire=TOO_LONG_FOR)
            raise
        if not waits:
            self._cache.set(key, data)
        return data

    def pair(self, promo: Promo, format_id: str, times: tuple[int, int], short: int) -> bytes:
        """Two frames side by side, as JPEG: what is on either side of a cut that is being moved."""
        format = find_format(promo, format_id)
        halves = []
        with naming(promo), self._painter() as painter:
            canvas = painter.canvas(*format.size(short))
            for time in times:
                frame = promo.rate.frame_start(promo.rate.frame_floor(max(0, time)))
                halves.append(canvas.draw(frame_recipe(promo, format, frame, measure)).copy())
        gap = np.zeros((halves[0].shape[0], max(2, short // 60), 4), np.uint8)
        return encode(np.hstack([halves[0], gap, halves[1]]))

    def transition_strip(self, kind: TransitionKind) -> bytes:
        """A kind of transition at small size, as a row of frames in one JPEG: drawn as in a promo, of two cards."""
        key = f"passing-{kind}-{drawing()}-{STRIP_FRAMES}"
        known = self._cache.get(key)
        if isinstance(known, bytes):
            return known
        format = SHIPPED["wide"]
        before, behind = _card("#2F6F87", "A"), _card("#F6B73C", "B")
        with self._painter() as painter:
            canvas = painter.canvas(*format.size(72))
            frames = []
            for n in range(STRIP_FRAMES):
                ops = transition_ops(kind, before, behind, n / (STRIP_FRAMES - 1), format.canon)
                frames.append(canvas.draw(FrameRecipe(*format.canon, tuple(ops))).copy())
        data = encode(np.hstack(frames))
        self._cache.set(key, data)
        return data

    @staticmethod
    def _carded(design: Design, brand: Brand | None = None) -> Promo:
        """A promo of nothing but a design on a plain ground; with a brand, on its own."""
        context = Context(lambda prefix: f"{prefix}-card", designs={design.id: design}, measure=measure)
        ground = brand.colour("ground") if brand is not None else "#5B6B86"
        promo = Promo(id="card", name="Card", formats=(SHIPPED["wide"],), background=ground, brand=brand or Brand())
        promo = apply(promo, AddDesign(design=design.id), context).promo
        middle = {"pin": (0.5, 0.5), "place": (0.0, 0.0), "size": 1.2}
        return apply(promo, Set(items=(promo.items[0].id,), values=middle), context).promo

    def design_loop(self, design: Design) -> bytes:
        """A design coming, staying and going, as a small animated WebP that runs round and round."""
        promo = self._carded(design)
        step, last = round(promo.rate.num / promo.rate.den / LOOP_RATE), timeline(promo).frame_count
        frames_of_it = range(0, min(last, LOOP_FRAMES * step), step)
        recipes, keys = zip(*(self.recipe(promo, "wide", n, 120) for n in frames_of_it), strict=True)
        key = f"loop {hashlib.blake2b(''.join(keys).encode(), digest_size=20).hexdigest()}"
        known = self._cache.get(key)
        if known is None:
            # Cards are drawn aside, one at a time: the stage does not wait for them.
            with self._aside:
                canvas = self._card_painter.canvas(*SHIPPED["wide"].size(120))
                frames = [canvas.draw(recipe, within=FRAME_SECONDS).copy() for recipe in recipes]
            known = encode_loop(frames, 1000 // LOOP_RATE)
            self._cache.set(key, known)
        return bytes(known)

    def design_card(self, design: Design, brand: Brand | None = None) -> bytes:
        """A design by itself on a plain ground, as it is when all of it has come; as a brand has it."""
        promo = self._carded(design, brand)
        recipe, key = self.recipe(promo, "wide", 0, 180, [item.id for item in promo.items])
        return self.frame(promo, "wide", recipe, key, 180)

    def style_card(self, style: str, brand: Brand) -> bytes:
        """A text style as a brand has it, said by its name, on the ground that it is read on."""
        values = brand_styles(brand)[style]
        ground = brand.reading(f"on-{values.get('colour', 'ink')}")
        ground = "ground" if ground == "dark" else "paper"
        promo = Promo(
            id="card", name="Card", formats=(SHIPPED["cinema"],), background=brand.colour(ground), brand=brand
        )
        context = Context(lambda prefix: f"{prefix}-card", measure=measure)
        promo = apply(promo, AddWords(text=STYLES[style].label, at=0, length=TICKS_PER_SECOND), context).promo
        middle = {"pin": (0.5, 0.5), "place": (0.0, 0.0), "wrap": 2.2, "style": style}
        shown = {**values, "size": min(0.62, max(0.24, values["size"] * 3)), **middle}
        promo = apply(promo, Set(items=(promo.items[0].id,), values=shown), context).promo
        recipe, name = self.recipe(promo, "cinema", 0, 120, [item.id for item in promo.items])
        return self.frame(promo, "cinema", recipe, name, 120)

    def caption_card(self, design: str, brand: Brand) -> bytes:
        """A design of captions as it looks while a word is said, on a ground of the brand."""
        format = SHIPPED["cinema"]
        ops = (Fill("#5B6B86"), *sample_ops(design, brand, format, measure))
        recipe = FrameRecipe(*format.canon, ops)
        promo = Promo(id="card", name="Card", formats=(format,), brand=brand)
        return self.frame(promo, "cinema", recipe, f"caption {recipe_hash(recipe, drawing())} 120", 120)

    def form_card(self, key: str) -> bytes:
        """A form by itself on a plain ground."""
        context = Context(lambda prefix: f"{prefix}-card", measure=measure)
        promo = Promo(id="card", name="Card", formats=(SHIPPED["wide"],), background="#EFE6D6")
        promo = apply(promo, AddShape(form=key), context).promo
        values = {"size": 0.6 if FORMS[key].ratio < 2 else 1.2, "stroke": 0.05 if FORMS[key].open else 0.0,
                  "stroke_colour": "second", "ink": "second"}  # fmt: skip
        promo = apply(promo, Set(items=(promo.items[0].id,), values=values), context).promo
        recipe, name = self.recipe(promo, "wide", 0, 180, [item.id for item in promo.items])
        return self.frame(promo, "wide", recipe, name, 180)

    def run(
        self, promo: Promo, format_id: str, first: int, count: int, short: int, step: int = 1
    ) -> Iterator[tuple[str, bytes]]:
        """Frames in a row, `step` apart, with their names; one that looks like the one before comes as no bytes."""
        last = ""
        for n in range(first, first + min(count, MAX_RUN) * step, step):
            recipe, key = self.recipe(promo, format_id, n, short)
            yield key, b"" if key == last else self.frame(promo, format_id, recipe, key, short)
            last = key

    def sound(self, promo: Promo, start: int, length: int, known: Known = nothing) -> tuple[bytes, tuple[Need, ...]]:
        """A span of the mix as interleaved 16-bit stereo at 48 kHz, and what was not known yet when it was mixed."""
        if start < 0 or not 0 < length <= MAX_SPAN:
            raise Refusal("span", "Sound comes in spans of at most four seconds.")
        found = self.meters.known(promo, known) if promo.loudness_wanted is not None else None
        with naming(promo), self._painter() as painter:
            recipe = sound_recipe(promo, start, length, known, found.louder if found is not None else None)
            return to_pcm(mix(recipe, painter.sources)).tobytes(), recipe.waits

    def sound_file(self, promo: Promo, out: Path, known: Known, bus: str = "") -> None:
        """The mix, or what is heard of a kind, as a file of the form that its name ends in."""
        louder = self.meters.measured(promo, known).louder if promo.loudness_wanted is not None else None
        with naming(promo), self._painter() as painter:
            write_sound(promo, painter.sources, out, known, bus, louder)

    def sprite(self, promo: Promo, format_id: str, item_id: str, short: int) -> bytes:
        """One layer at rest, by itself on nothing, as PNG the size of the frame."""
        format = find_format(promo, format_id)
        item = timeline(promo).find_item(item_id)
        op = resting_op(promo, format, item, measure, item.into)
        if op is None or short not in SIZES:
            raise Missing("no-sprite", "That item has no picture.")
        width, height = format.canon
        recipe = FrameRecipe(width, height, (op,))
        with naming(promo), self._painter() as painter:
            return encode(painter.canvas(*format.size(short)).draw(recipe), ".png")
