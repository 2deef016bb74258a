"""Promos from scripts: pictures and music proposed by the words, and the promo made."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import select
from sqlalchemy.orm import Session

from glowreel.core.brand import Brand
from glowreel.core.commands import AddCaptions, AddSound, LayVoice, apply
from glowreel.core.commands.base import Context
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import FIRST_CHOICE, shipped
from glowreel.core.media import Media
from glowreel.core.script.lines import ScriptLine, stemmed
from glowreel.core.script.plan import families, planned
from glowreel.core.template.build import Kit, build
from glowreel.core.time import seconds
from glowreel.designs import shipped as shipped_designs
from glowreel.engine.meaning import nearness
from glowreel.engine.typesetting import measure
from glowreel.interchange.pages import read_text
from glowreel.library import Piece, pieces
from glowreel.outside.fetching import PAGE_BYTES, PAGES, Fetcher
from glowreel.services import library, promos, samples, transcripts
from glowreel.services.access import Actor, listed
from glowreel.services.brand_pages import stand_ins
from glowreel.services.setup import Runtime
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, PromoRow, new_key

CHOICES = 3
"""A proposal and two others."""
MOODS: dict[str, tuple[str, ...]] = {
    "calm": ("quiet", "morning", "rest", "slow", "gentle", "spa", "sleep", "dawn", "nature", "breath"),
    "cheerful": ("party", "summer", "fun", "kids", "birthday", "play", "smile", "friends", "win", "sunday"),
    "energetic": ("fast", "sport", "run", "now", "sale", "launch", "power", "new", "bike", "race"),
    "uplifting": ("home", "family", "coffee", "bread", "love", "thanks", "welcome", "garden", "breakfast"),
}
"""Words that suggest a mood of music."""


@dataclass(frozen=True)
class Picture:
    """A picture that is proposed for a line: which file, what it is called, and whether it is everybody's."""

    media: str
    name: str
    stock: bool


def meaning(runtime: Runtime) -> Path | None:
    """Where the model lies that tells what words mean; None as long as it has not been fetched."""
    return runtime.models.path("meaning") if runtime.models.ready("meaning") else None


def text_at(runtime: Runtime, url: str) -> str:
    """What a web page says, through the checked fetcher."""
    if not url.strip():
        raise Refusal("no-address", "Enter the address of a web page.")
    came = Fetcher(stand_ins(runtime)).get(url.strip()[:2000], PAGES, PAGE_BYTES)
    text = read_text(came.text)
    if len(text.split()) < 8:
        raise Refusal("no-text", "Hardly anything is written on that page.", "Paste the text instead.")
    return text


def pictures(
    session: Session, actor: Actor, lines: Sequence[ScriptLine], brand: Brand | None, model: Path | None = None
) -> list[list[Picture]]:
    """For each line a picture and two others: those whose names share most with its words, and, where there is a model
    for that, mean most nearly the same; what was not shown yet first; the team's own before everybody's. Logos and
    fonts are none."""
    own = list(session.scalars(
        select(MediaFile).where(listed(MediaFile, actor), MediaFile.removed_at.is_(None), MediaFile.usable)
        .order_by(MediaFile.created_at.desc()).limit(300)
    ))  # fmt: skip
    logos = brand.files if brand is not None else frozenset()
    pool = [
        (row.id, row.name, False) for row in own
        if (row.facts or {}).get("kind") in ("footage", "photo") and row.id not in logos
    ]  # fmt: skip
    there = {row.hash for row in own}
    stock = (media for media in samples.by_name(session).values() if media.pictured and media.hash not in there)
    pool += [(media.id, media.name, True) for media in stock]
    pool = [one for one in pool if not {"logo", "mark"} & set(_in_words(one[1]).lower().split())]
    names = [_in_words(name) for _, name, _ in pool]
    near = nearness([line.text for line in lines], names, model) if model is not None else None
    used: dict[str, int] = {}
    made = []
    for place, line in enumerate(lines):
        wanted = {stem for word in line.text.split() if (stem := stemmed(word))}

        def score(n: int, wanted: set[str] = wanted, place: int = place) -> tuple[float, int]:
            key, _, everybodys = pool[n]
            told = {stem for word in names[n].split() if (stem := stemmed(word))}
            meant = float(near[place, n]) if near is not None else 0.0
            return 2.0 * len(wanted & told) + meant - 1.6 * used.get(key, 0) + 0.4 * (not everybodys), -n

        best = [pool[n] for n in sorted(range(len(pool)), key=score, reverse=True)[:CHOICES]]
        for key in (one[0] for one in best[:1]):
            used[key] = used.get(key, 0) + 1
        made.append([Picture(*one) for one in best])
    return made


def _in_words(name: str) -> str:
    """The name of a file as words: `mist-valley.mp4` is “mist valley”."""
    bare = name.rsplit(".", 1)[0]
    return " ".join("".join(letter if letter.isalnum() else " " for letter in bare).split()) or name


def music(lines: Sequence[ScriptLine], model: Path | None = None) -> list[Piece]:
    """A piece of music and two others, by the mood of the words: those that suggest one, or, where there is a model
    for that, what they mean."""
    songs = [one for one in pieces().values() if one.sort != "effect"]
    if model is not None and songs:
        text = " ".join(line.text for line in lines)[:600]
        near = nearness([text], [f"{one.mood} music, {one.words}" for one in songs], model)[0]
        return [songs[n] for n in sorted(range(len(songs)), key=lambda n: -float(near[n]))[:CHOICES]]
    stems = [stemmed(word) for line in lines for word in line.text.split()]
    counts = {mood: sum(stems.count(stemmed(word)) for word in words) for mood, words in MOODS.items()}
    order = sorted(counts, key=lambda mood: -counts[mood])

    def rank(one: Piece) -> int:
        told = f"{one.mood} {one.words} {one.force}".lower()
        return next((n for n, mood in enumerate(order) if mood in told), len(order))

    return sorted(songs, key=rank)[:CHOICES]


@dataclass(frozen=True)
class Made:
    """What a promo is made of: its lines, a picture for each, a family of designs, a song, and spoken lines."""

    lines: tuple[ScriptLine, ...]
    shown: tuple[str, ...]
    family: str
    song: str = ""
    voice: tuple[str, ...] = ()
    captions: bool = False
    link: str = ""
    formats: tuple[str, ...] = FIRST_CHOICE
    name: str = ""


def document(session: Session, actor: Actor, made: Made, brand: Brand | None) -> Promo:
    """The promo of a script, without sound: what its preview is drawn from as well."""
    designs = shipped_designs()
    if made.family not in families(designs):
        raise Missing("no-family", "There is no such family of designs.", "Choose another one.")
    wanted = {key for key in (*made.shown, *made.voice) if key}
    known = promos.team_media(session, actor, wanted)
    shown = [key if key in known and known[key].pictured else "" for key in made.shown]
    spoken = [seconds(known[key].length) if key in known else 0.0 for key in made.voice]
    pattern = planned(made.lines, made.family, designs, shown, spoken, made.link)
    kit = Kit(known, designs, new_key)
    promo = build(pattern, tuple(shipped(one) for one in made.formats), brand or Brand(), kit)
    if brand is not None:
        promo = promo.changed(media={**promo.media, **promos.team_media(session, actor, set(brand.files))})
    return promo.changed(origin=None, facts=None, slots=(), name=made.name[:120] or made.lines[0].key[:120])


def make(unit: Unit, actor: Actor, made: Made, brand: Brand | None, song: str) -> PromoRow:
    """Makes the promo of a script, with voice, captions and music, and puts it on the Desk."""
    promo = document(unit.session, actor, made, brand)

    def found(promo: Promo, part: object, maker: str) -> object:
        media = promo.media.get(getattr(part, "media", None) or "")
        return transcripts.facts_for(unit.session, actor, media.hash) if media is not None else None

    media: dict[str, Media] = promos.team_media(unit.session, actor, {*made.voice, song} - {""})
    context = Context(new_key, media=media, designs=shipped_designs(), measure=measure, found=found)  # type: ignore[arg-type]
    if made.voice:
        promo = apply(promo, LayVoice(media=made.voice, by_scene=True, pause=200), context).promo
    if made.captions and promo.transcripts:
        promo = apply(promo, AddCaptions(), context).promo
    if song:
        promo = apply(promo, AddSound(media=song, whole=True), context).promo
    return promos.adopt(unit.session, actor, promo, "Made from a script")


def song_on_shelf(runtime: Runtime, actor: Actor, key: str) -> str:
    """A piece of the library as a file of the team's; nothing where none is wanted."""
    return library.take(runtime, actor, key) if key else ""
