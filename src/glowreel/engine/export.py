"""Making files: pieces of picture in several formats at once, and whole exports in one process."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, closing
from dataclasses import dataclass
from pathlib import Path

from glowreel.core.derived import Known, nothing
from glowreel.core.document import Promo
from glowreel.core.film_forms import USUAL_MAKING, Making, as_made
from glowreel.core.formats import Format
from glowreel.core.pieces import Piece, pieces
from glowreel.core.recipe.model import DrawPicture, FrameRecipe, recipe_hash
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.timeline import timeline
from glowreel.engine.drawing import digest as drawing
from glowreel.engine.filming import ENCODINGS, Encoder, Out, options_of, sound_of
from glowreel.engine.filmsound import render_sound
from glowreel.engine.finishing import Parts, finish
from glowreel.engine.sources import Sources
from glowreel.engine.typesetting import measure

Progress = Callable[[int, int], None]
"""Told how many frames of how many are done; may raise to stop the work."""


def plan(promo: Promo, making: Making = USUAL_MAKING) -> list[Piece]:
    """The runs of frames that a film of a promo, as it is made, is encoded in; none for sound alone."""
    form = making.film_form
    if not form.picture:
        return []
    if form.frames:
        last = timeline(promo).frame_count - 1
        return [Piece(min(last, promo.rate.frame_floor(making.at)), form.frames)]
    # What is held to a size is held in every piece: long ones can give to one moment what another does not need.
    return pieces(promo, at_edits=making.megabytes is None)


@dataclass(frozen=True)
class Named:
    """A piece by its name, and what it costs to make beside others: 1 for a frame that is only encoded."""

    key: str
    cost: float


ENCODED, DRAWN, DRAWN_EACH, SAME = 1.0, 1.6, 0.5, 0.5
"""What frames cost beside one another: passed on, drawn, with each thing that is drawn, the same as the one before.
They are estimates; `./bench films` says how far the time that is told by them is off."""


def _cost(recipe: FrameRecipe) -> float:
    first = recipe.ops[0] if recipe.ops else None
    plain = isinstance(first, DrawPicture) and not first.still
    return (ENCODED if plain else DRAWN) + DRAWN_EACH * max(0, len(recipe.ops) - 1)


def name_piece(promo: Promo, format: Format, short_side: int, piece: Piece, making: Making = USUAL_MAKING) -> Named:
    """Names a piece by all it shows and how it is encoded: an equal key means an equal file. `promo` is as it is
    made."""
    digest, cost, last = hashlib.blake2b(digest_size=20), 0.0, ""
    row = ENCODINGS[making.form]
    told = (row.codec, row.piece, row.clear if making.clear else row.pixels, sorted(options_of(promo, making).items()))
    digest.update(repr((drawing(), told, format.size(short_side), promo.rate, piece.count)).encode())
    for n in range(piece.first, piece.first + piece.count):
        recipe = frame_recipe(promo, format, promo.rate.frame_start(n), measure)
        this = recipe_hash(recipe)
        cost += SAME if this == last else _cost(recipe)
        last = this
        digest.update(this.encode())
    return Named(digest.hexdigest() + row.suffix, cost)


def piece_key(promo: Promo, format: Format, short_side: int, piece: Piece, making: Making = USUAL_MAKING) -> str:
    """The name of a piece."""
    return name_piece(promo, format, short_side, piece, making).key


def render_pieces(
    promo: Promo,
    outs: Sequence[Out],
    piece: Piece,
    sources: Sources,
    progress: Progress = lambda done, total: None,
    threads: int = 0,
) -> None:
    """Encodes one piece in several formats, each to a file that starts with a key frame and needs nothing from its
    neighbours. What it shows is decoded once for all of them. `promo` is as it is made."""
    with ExitStack() as stack:
        encoders = [stack.enter_context(closing(Encoder(promo, out, sources, threads))) for out in outs]
        for n in range(piece.count):
            at = promo.rate.frame_start(piece.first + n)
            for encoder in encoders:
                encoder.add(frame_recipe(promo, encoder.format, at, measure), n)
            progress(n + 1, piece.count)
        for encoder in encoders:
            encoder.finish()


def render_piece(
    promo: Promo,
    format: Format,
    short_side: int,
    piece: Piece,
    sources: Sources,
    out: Path,
    progress: Progress = lambda done, total: None,
    threads: int = 0,
) -> None:
    """Encodes one piece in one format."""
    render_pieces(promo, [Out(format, short_side, out)], piece, sources, progress, threads)


def render_file(
    promo: Promo,
    format: Format,
    short_side: int,
    sources: Sources,
    out: Path,
    folder: Path,
    progress: Progress = lambda done, total: None,
    known: Known = nothing,
    making: Making = USUAL_MAKING,
) -> None:
    """The whole export in this process: pieces in turn, sound beside them, then joined. `folder` holds parts."""
    promo = as_made(promo, making)
    code, runs = sound_of(making), plan(promo, making)
    total = sum(run.count for run in runs)
    parts: list[tuple[Path, int]] = []
    sound = folder / "sound.part"
    # The sound has readers of its own and is mixed beside the picture, which keeps the encoder busy meanwhile.
    with ThreadPoolExecutor(1) as beside:
        mixing = beside.submit(render_sound, promo, sources.again(), sound, known=known, code=code) if code else None
        for number, piece in enumerate(runs):
            row = ENCODINGS[making.form]
            path = folder / f"piece-{number:04d}{row.suffix}"
            before = sum(count for _, count in parts)
            one = Out(format, short_side, path, making)
            render_pieces(promo, [one], piece, sources, lambda d, _, b=before: progress(b + d, total))  # type: ignore[misc]
            parts.append((path, piece.count))
        if mixing is not None:
            mixing.result()
    finish(making, Parts(parts, sound if code else None, promo.rate.fraction, promo.name), out)
    for path in (*(p for p, _ in parts), sound):
        path.unlink(missing_ok=True)
