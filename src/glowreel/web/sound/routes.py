"""The mixer and its meters, what gives way and where beats lie, and the library."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path
from typing import Any

import orjson
from flask import Blueprint, Response, render_template, request, send_file
from flask_login import login_required

from glowreel.core.document import Item, Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.film_forms import FILM_FORMS
from glowreel.core.fitting import fit
from glowreel.core.properties.rows.sound import BUSES
from glowreel.core.pulse import pulse_of
from glowreel.core.recipe.sound import MAIN, all_voices, dip_line
from glowreel.core.speaking import spoken_edges
from glowreel.core.time import SAMPLE_RATE, TICKS_PER_SECOND, sample_floor, seconds
from glowreel.core.timeline import timeline
from glowreel.engine.soundfiles import FORMS
from glowreel.library import LICENCE, pieces
from glowreel.services import brands, derivation, library, needed, promos
from glowreel.services.access import authorise
from glowreel.services.library import Wanted
from glowreel.services.shelf import clean_name
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile, PromoRow
from glowreel.web.editor.view import heads_of
from glowreel.web.extensions import actor, runtime, the_preview, transaction

blueprint = Blueprint("sound", __name__, template_folder="templates")
MOST_LISTED = 60
LONGEST_MIX = 420
"""Seconds of a promo whose sound is mixed while somebody waits: to be measured, or to be given alone."""
WORDS = ("sort", "mood", "force", "tempo", "length", "words", "like", "turn")


def _json(data: Any, status: int = 200) -> Response:
    return Response(orjson.dumps(data), status, mimetype="application/json", headers={"Cache-Control": "no-store"})


def _seconds(at: float) -> float:
    return round(at / TICKS_PER_SECOND, 4)


def _newest(work: Unit, promo_id: str) -> Promo:
    return promos.document(work.session, authorise(work.session, PromoRow, promo_id, actor(), "see"))


@blueprint.get("/promos/<promo_id>/heard")
@login_required
def heard(promo_id: str) -> Response:
    """What the timeline draws on sounds besides their waves: by item, the line of what gives way (seconds of the promo,
    dB), and the beats, bars and strong moments of music (seconds). `waits` says that some are still looked for."""
    with transaction() as work:
        promo = _newest(work, promo_id)
        items: dict[str, Any] = {}
        waits = False
        for track in promo.sounds:
            for item in track.items:
                told: dict[str, Any] = {}
                line = dip_line(promo, item)
                if line:
                    told["dips"] = [[_seconds(at), level] for at, level in line]
                edges = spoken_edges(promo, item)
                if edges:
                    told["words"] = [_seconds(at) for at in edges]
                if item.read("bus") == "music" and item.media is not None:
                    facts = _beats(work, promo, item)
                    waits = waits or facts is None
                    told |= _pulse(promo, item, facts)
                if told:
                    items[item.id] = told
    return _json({"items": items, "waits": waits})


def _beats(work: Unit, promo: Promo, item: Item) -> Any:
    """What was found of a piece's beats; looking for them is begun where nobody has."""
    media = promo.media[item.media or ""]
    try:
        row = derivation.want(work, media.id, actor(), "beats")
    except (Missing, Refusal):
        return {}  # The file is gone or not looked at yet: whoever plays it says so.
    return row.facts if row.state == "ready" else {} if row.state in ("failed", "stopped") else None


def _pulse(promo: Promo, item: Item, facts: Any) -> dict[str, Any]:
    if not facts:
        return {}
    pulse = pulse_of(promo, item, facts)
    told: dict[str, Any] = {
        "beats": [_seconds(at) for at in pulse.beats], "bars": [_seconds(at) for at in pulse.bars],
        "strong": [_seconds(at) for at in pulse.strong],
    }  # fmt: skip
    if item.source is not None and item.source.runs == "fitted":
        span = timeline(promo).heard_span(item)
        found = fit(facts, sample_floor(span.length), sample_floor(promo.media[item.source.media].length))
        told["joined"] = found.joined
        # Where one stretch of the piece becomes another.
        at, joints = 0.0, []
        for first, last in found.stretches[:-1]:
            at += (last - first) / found.rate / SAMPLE_RATE
            joints.append(round(_seconds(span.start) + at, 4))
        told["joints"] = joints
    return told


@blueprint.get("/promos/<promo_id>/mixer")
@login_required
def mixer(promo_id: str) -> str:
    """The strips of the mixer: the main track, every sound track, everything of a kind, the whole."""
    with transaction() as work:
        promo = _newest(work, promo_id)
    names = {track.id: name for track, kind, name in heads_of(promo) if kind == "sound"}
    return render_template("sound/mixer.html", promo=promo, names=names, buses=BUSES, main=MAIN)


@blueprint.get("/promos/<promo_id>/meters")
@login_required
def meters(promo_id: str) -> Response:
    """How loud a promo is, over time and in all; `waits` says that something of it is still being made, `long` that it
    is measured only when it is exported."""
    with transaction() as work:
        promo = _newest(work, promo_id)
        found = needed.look(work.session, promo)
        if found.waiting:
            needed.begin(work, promo, actor())
    heard = {voice.bus for voice in all_voices(promo)}
    always: dict[str, Any] = {
        "kinds": [bus for bus in BUSES if bus in heard], "step": 0.05, "wanted": promo.loudness_wanted,
    }  # fmt: skip
    if seconds(timeline(promo).length) > LONGEST_MIX:
        nothing: dict[str, Any] = dict.fromkeys(("loudness", "range", "peak", "before"))
        lines: dict[str, Any] = {"strips": {}, "momentary": [], "short": []}
        return _json({**always, **nothing, **lines, "louder": 0, "waits": False, "long": True})
    told = the_preview().meters.measured(promo, found.known)
    whole = told.whole
    return _json({
        **always, "strips": told.strips, "momentary": whole.momentary, "short": whole.short,
        "loudness": whole.loudness, "range": whole.range, "peak": whole.peak, "before": told.before,
        "louder": told.louder, "waits": bool(found.waiting),
    })  # fmt: skip


@blueprint.get("/promos/<promo_id>/mix.<form>")
@login_required
def mix_file(promo_id: str, form: str) -> Response:
    """The mix as a WAV or M4A file, or what is heard of one kind (`bus`)."""
    bus = request.args.get("bus", "")
    if f".{form}" not in FORMS or (bus and bus not in BUSES):
        raise Missing("no-file", "There is nothing at this address.")
    with transaction() as work:
        promo = _newest(work, promo_id)
        found = needed.look(work.session, promo)
        if found.waiting:
            needed.begin(work, promo, actor())
    if found.waiting:
        raise Refusal("not-yet", "Something of its sound is still being made.", "Try again in a moment.")
    if seconds(timeline(promo).length) > LONGEST_MIX:
        raise Refusal("too-long", "Sound alone is given of promos up to seven minutes.", "Export the film instead.")
    name = f"{clean_name(promo.name)[0]}{f' - {bus}' if bus else ''}.{form}"
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder) / f"mix.{form}"
        the_preview().sound_file(promo, out, found.known, bus)
        data = out.read_bytes()
    return send_file(io.BytesIO(data), mimetype=FILM_FORMS[form].mimetype, as_attachment=True, download_name=name)


@blueprint.get("/library")
@login_required
def listing() -> str:
    """Pieces of the library that are looked for."""
    asked = request.args
    with transaction() as work:
        marked = library.favourites_of(work.session, actor())
        own = _of_brand(work, asked.get("promo", "")) if not asked.get("like") else []
    said = {name: asked.get(name, "")[:60] for name in WORDS}
    wanted = Wanted(**said, favourites=asked.get("favourites") == "1")
    found = library.find(wanted, marked)
    like = library.piece(wanted.like) if wanted.like else None
    return render_template("sound/pieces.html", found=found[:MOST_LISTED], more=len(found) - MOST_LISTED,
                           marked=marked, like=like, own=own, turn=wanted.turn, licence=LICENCE)  # fmt: skip


def _of_brand(work: Unit, promo_id: str) -> list[MediaFile]:
    """Music and effects of the promo's brand, in the brand's order."""
    if not promo_id:
        return []
    brand = _newest(work, promo_id).brand
    files = (work.session.get(MediaFile, key) for key in brands.material_of(work.session, actor(), brand))
    return [file for file in files if file is not None and file.usable and (file.facts or {}).get("kind") == "sound"]


@blueprint.get("/library/<piece>.ogg")
@login_required
def sound(piece: str) -> Response:
    """A piece, to be heard."""
    return send_file(library.piece(piece).path, mimetype="audio/ogg", conditional=True, max_age=86_400)


@blueprint.post("/library/<piece>/take")
@login_required
def take(piece: str) -> Response:
    """Puts a piece on the team's Shelf; answers with the identifier of its file."""
    return _json({"media": library.take(runtime(), actor(), piece)})


@blueprint.post("/library/<piece>/mark")
@login_required
def mark(piece: str) -> Response:
    """Marks a piece as a favourite, or takes the mark away."""
    with transaction() as work:
        return _json({"marked": library.mark(work.session, actor(), piece)})


def moods() -> dict[str, list[str]]:
    """The moods of music, and the families of effects, in their order."""
    found: dict[str, list[str]] = {"music": [], "effects": []}
    for one in pieces().values():
        held = found["effects" if one.sort == "effect" else "music"]
        if one.mood not in held:
            held.append(one.mood)
    return found
