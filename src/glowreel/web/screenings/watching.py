"""A screening as whoever has its link watches it: played by the same engine, with notes, without an account."""

from __future__ import annotations

import secrets
from typing import Any

import orjson
from flask import Blueprint, Response, redirect, render_template, request, session, url_for
from flask_login import current_user
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline
from glowreel.services import exports, screenings
from glowreel.services import screening_notes as notes
from glowreel.services.access import Actor
from glowreel.services.screening_notes import Written
from glowreel.store.database import Unit
from glowreel.store.models import Screening
from glowreel.web.exports.routes import film_of
from glowreel.web.extensions import absolute, hand_viewers_to_live, limiter, runtime, transaction
from glowreel.web.preview.routes import number, picture, run_of, sound_of
from glowreel.web.screenings.notes import marks_of

blueprint = Blueprint("watching", __name__, template_folder="templates")

MOST_KEPT, MOST_NOTES = 6, 20
"""So many screenings a browser remembers being let into, and so many notes that it left at each."""


def _kept(made: Screening) -> dict[str, Any]:
    """What this browser is known by at a screening."""
    known = session.get("screenings")
    one = known.get(made.id) if isinstance(known, dict) else None
    return one if isinstance(one, dict) and one.get("turn") == made.turn else {}


def _keep(made: Screening, **more: Any) -> None:
    known = session.get("screenings")
    held = dict(known) if isinstance(known, dict) else {}
    mine = {**_kept(made), "turn": made.turn, **more}
    held.pop(made.id, None)
    session["screenings"] = dict([*held.items(), (made.id, mine)][-MOST_KEPT:])


def _team(made: Screening) -> bool:
    """Whether somebody of the team looks, who needs no password."""
    return bool(current_user.is_authenticated and current_user.team_id == made.team_id)


def _named(made: Screening) -> bool:
    """Whether it is known that this is one of those for whom the screening is."""
    return not made.viewers or _kept(made).get("as") in made.viewers


def _may_watch(made: Screening) -> bool:
    held = _kept(made)
    # A password that was changed lets in nobody who knew the old one.
    known = not made.password or held.get("in") == made.password[-16:]
    return _team(made) or (_named(made) and known)


def _let_in(work: Unit, key: str) -> Screening:
    """The screening, for who may watch it."""
    made = screenings.opened(work.session, key)
    if not _may_watch(made):
        raise Refusal("not-let-in", "This screening asks who you are first.", "Reload the page.")
    return made


def _by(made: Screening) -> Actor:
    """Who asks the engine for something that is still to be made."""
    return Actor.program(made.team_id)


def _shown(work: Unit, made: Screening) -> Promo:
    promo = screenings.shown(work.session, made, number("rev", 0) or None)
    format_id = request.args.get("format")
    if format_id is not None and format_id not in screenings.formats_of(made, promo):
        raise Missing("no-format", "That format is not shown here.", "Reload the page.")
    return promo


def _gate(key: str, made: Screening, problem: str = "", *, asked: bool = False) -> str:
    """Asks whoever comes for their address first, where it is for some only, then for the password."""
    return render_template("screenings/gate.html", key=key, made=made, named=_named(made), asked=asked, problem=problem)


@blueprint.get("/screening/<key>")
@limiter.limit("240/minute")
def page(key: str) -> str | AnyResponse:
    """The page to watch; before, the question who somebody is where that is asked."""
    with transaction() as work:
        made = screenings.opened(work.session, key)
        if request.args.get("way"):
            address = screenings.named_viewer(runtime(), made, request.args.get("as", ""), request.args["way"])
            _keep(made, **{"as": address})
            return redirect(url_for("watching.page", key=key))
        if not _may_watch(made):
            return _gate(key, made)
        if not _team(made) and not _kept(made).get("seen"):
            screenings.count_view(work.session, made)
            _keep(made, seen=True)
        promo = screenings.shown(work.session, made, None)
        shown = set(screenings.formats_of(made, promo))
        films = exports.finished(work.session, made.promo_id) if made.downloads else []
        return render_template(
            "screenings/watch.html", key=key, made=made, promo=promo, versions=screenings.versions(work.session, made),
            formats=[one for one in promo.formats if one.id in shown],
            films=[film for film in films if film.format_id in shown], told=_told(work, made),
            who=_who(made),
        )  # fmt: skip


@blueprint.post("/screening/<key>/enter")
@limiter.limit("10/minute")
@limiter.limit("60/hour")
def enter(key: str) -> str | AnyResponse:
    """Lets in who knows the password, and sends who is named their own link."""
    with transaction() as work:
        made = screenings.opened(work.session, key)
        if not _named(made):
            link = absolute(url_for("watching.page", key=key))
            screenings.send_way_in(runtime(), work, made, request.form.get("address", ""), link)
            return _gate(key, made, asked=True)
        try:
            screenings.let_in(made, request.form.get("password", ""))
        except Refusal as refusal:
            return _gate(key, made, str(refusal))
        _keep(made, **{"in": made.password[-16:]})
    return redirect(url_for("watching.page", key=key))


def _who(made: Screening) -> str:
    if _team(made):
        return str(current_user.name)
    held = _kept(made)
    return str(held.get("who") or held.get("as") or "")


def _told(work: Unit, made: Screening) -> dict[str, Any]:
    """What the page plays: how long each version is, and which is the newest."""
    promo = screenings.shown(work.session, made, number("rev", 0) or None)
    index = timeline(promo)
    return {
        "rev": made.promo.head_id, "fps": promo.rate.num / promo.rate.den, "frames": index.frame_count,
        "ticks": TICKS_PER_SECOND, "formats": screenings.formats_of(made, promo),
        "shapes": {one.id: [one.wide, one.high] for one in promo.formats},
    }  # fmt: skip


@blueprint.get("/screening/<key>/state")
def state(key: str) -> Response:
    with transaction() as work:
        return Response(orjson.dumps(_told(work, _let_in(work, key))), mimetype="application/json")


@blueprint.get("/screening/<key>/frame.jpg")
def frame(key: str) -> Response:
    with transaction() as work:
        made = _let_in(work, key)
        promo = _shown(work, made)
    return picture(promo, _by(made))


@blueprint.get("/screening/<key>/run")
def run(key: str) -> Response:
    with transaction() as work:
        promo = _shown(work, _let_in(work, key))
    return run_of(promo)


@blueprint.get("/screening/<key>/sound")
def sound(key: str) -> Response:
    with transaction() as work:
        made = _let_in(work, key)
        promo = _shown(work, made)
    return sound_of(promo, _by(made))


@blueprint.get("/screening/<key>/events")
def events(key: str) -> Response:
    """A stream that says when the promo or its notes are others."""
    with transaction() as work:
        made = _let_in(work, key)
    if not _kept(made).get("viewer"):
        _keep(made, viewer=secrets.token_hex(6))
    return hand_viewers_to_live(made.promo_id, str(_kept(made)["viewer"]))


@blueprint.get("/screening/<key>/film/<file_id>")
def film(key: str, file_id: str) -> Response:
    """A finished film of the promo, where the screening lets it be taken along."""
    with transaction() as work:
        made = _let_in(work, key)
        found = exports.finished(work.session, made.promo_id) if made.downloads else []
        shown = {one.id: one for one in found if not made.formats or one.format_id in made.formats}
        if file_id not in shown:
            raise Missing("no-film", "There is no such film here.")
        return film_of(shown[file_id], attached=True)


def _notes(work: Unit, made: Screening) -> str:
    promo = screenings.shown(work.session, made, number("rev", 0) or None)
    shown = notes.of_promo(work.session, made.promo, promo, made.id)
    return render_template(
        "screenings/viewer_notes.html", key=(request.view_args or {})["key"], notes=shown,
        mine=set(_kept(made).get("notes", [])), who=_who(made), team=_team(made),
        standing=notes.standing(work.session, made.promo),
        marks=marks_of(shown),
    )  # fmt: skip


@blueprint.get("/screening/<key>/notes")
def listed(key: str) -> str:
    with transaction() as work:
        return _notes(work, _let_in(work, key))


def _writer(made: Screening) -> Written:
    """Who writes; somebody without an account is asked once how they are called."""
    if _team(made):
        return Written(current_user.name, current_user.id)
    who = notes.clean_name(request.form.get("who") or _who(made))
    _keep(made, who=who)
    return Written(who)


def _stroked() -> object:
    try:
        return orjson.loads(request.form.get("strokes") or "[]")
    except ValueError as error:
        raise Refusal("strokes", "What was drawn cannot be read.", "Draw it once more.") from error


def _number(name: str) -> int:
    text = request.form.get(name, "")
    return int(text) if text.isdigit() and len(text) < 17 else 0


@blueprint.post("/screening/<key>/notes")
@limiter.limit("30/minute")
@limiter.limit("300/hour")
def write(key: str) -> str:
    with transaction() as work:
        made = _let_in(work, key)
        revision = _number("revision") or made.promo.head_id
        screenings.shown(work.session, made, revision)
        row = notes.write(
            work.session, made.promo, _writer(made), request.form.get("text", ""), revision=revision,
            format_id=request.form.get("format", ""), at=_number("at"), lasts=_number("lasts"), strokes=_stroked(),
            screening=made,
        )  # fmt: skip
        _keep(made, notes=[*_kept(made).get("notes", []), row.id][-MOST_NOTES:])
        return _notes(work, made)


def _own(made: Screening, work: Unit, note_id: str) -> None:
    """Refuses notes that were left elsewhere."""
    if notes.note(work.session, made.promo, note_id).screening_id != made.id:
        raise Missing("no-note", "That note is gone.", "Reload the page.")


@blueprint.post("/screening/<key>/notes/<note_id>/answer")
@limiter.limit("30/minute")
def answer(key: str, note_id: str) -> str:
    with transaction() as work:
        made = _let_in(work, key)
        _own(made, work, note_id)
        row = notes.answer(work.session, made.promo, _writer(made), note_id, request.form.get("text", ""))
        _keep(made, notes=[*_kept(made).get("notes", []), row.id][-MOST_NOTES:])
        return _notes(work, made)


@blueprint.post("/screening/<key>/notes/<note_id>/remove")
@limiter.limit("30/minute")
def remove(key: str, note_id: str) -> str:
    with transaction() as work:
        made = _let_in(work, key)
        _own(made, work, note_id)
        mine = note_id in _kept(made).get("notes", [])
        notes.remove(work.session, made.promo, Written(_who(made)), note_id, any_of_them=mine)
        return _notes(work, made)


@blueprint.post("/screening/<key>/verdict")
@limiter.limit("20/hour")
def decide(key: str) -> str:
    with transaction() as work:
        made = _let_in(work, key)
        revision = _number("revision") or made.promo.head_id
        screenings.shown(work.session, made, revision)
        notes.decide(
            work.session, made.promo, _writer(made), revision, approved=request.form.get("approved") == "1",
            text=request.form.get("text", ""), screening=made,
        )  # fmt: skip
        return _notes(work, made)
