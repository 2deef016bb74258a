"""Captions of a promo: the list, the lane on the timeline, and caption files."""

from __future__ import annotations

from flask import Response, render_template, request
from flask_login import login_required

from glowreel.core.captions.designs import CAPTION_DESIGNS
from glowreel.core.captions.shown import cues, find_lane, lane_on_show
from glowreel.core.captions.timed import timed
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.recipe.picture import find_format
from glowreel.core.speech.heard import languages, voiced_parts
from glowreel.core.speech.transcript import MILLISECOND
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.interchange import captions as files
from glowreel.services.access import authorise
from glowreel.services.shelf import clean_name
from glowreel.store.models import PromoRow
from glowreel.web.extensions import actor, the_preview, transaction
from glowreel.web.said.routes import LANGUAGES, blueprint, json_answer, newest
from glowreel.web.said.view import caption_lines


@blueprint.get("/promos/<promo_id>/captions")
@login_required
def listing(promo_id: str) -> str:
    """The cues of a lane, to be corrected, and what can be chosen of how they look."""
    with transaction() as work:
        promo = newest(work, promo_id)
    lane = next((one for one in promo.captions if one.id == request.args.get("lane")), None) or lane_on_show(promo)
    lane = lane or next(iter(promo.captions), None)
    told = {one.language for one in promo.captions}
    return render_template(
        "said/captions.html", promo=promo, lane=lane, lines=caption_lines(promo, lane) if lane else [],
        designs=CAPTION_DESIGNS, languages=LANGUAGES, more=[one for one in languages(promo) if one not in told],
        format=request.args.get("format", ""),
    )  # fmt: skip


@blueprint.get("/promos/<promo_id>/cues")
@login_required
def lane(promo_id: str) -> Response:
    """The captions on show, as the timeline draws them: name, start and end in seconds, text, whether unsure."""
    with transaction() as work:
        promo = newest(work, promo_id)
    shown = lane_on_show(promo)
    found = cues(promo, shown) if shown is not None else ()
    rows = [
        [cue.name, round(cue.start / TICKS_PER_SECOND, 4), round(cue.end / TICKS_PER_SECOND, 4), cue.said, cue.unsure]
        for cue in found
    ]
    return json_answer({"lane": shown.id if shown is not None else "", "cues": rows})


@blueprint.get("/promos/<promo_id>/captions/card/<design>.jpg")
@login_required
def card(promo_id: str, design: str) -> Response:
    """A design of captions in the colours and letters of the promo's brand."""
    if design not in CAPTION_DESIGNS:
        raise Missing("no-design", "There is no such design.")
    with transaction() as work:
        promo = newest(work, promo_id)
    data = the_preview().caption_card(design, promo.brand)
    return Response(data, mimetype="image/jpeg", headers={"Cache-Control": "private, max-age=60"})


@blueprint.post("/promos/<promo_id>/captions/read")
@login_required
def read(promo_id: str) -> Response:
    """What a caption file says, as the command that puts it into the promo, and sentences about what was mended."""
    with transaction() as work:
        authorise(work.session, PromoRow, promo_id, actor(), "edit")
        promo = newest(work, promo_id)
    given = request.files.get("file")
    if given is None or not given.filename:
        raise Refusal("no-file", "No file came.", "Choose a caption file.")
    name = clean_name(given.filename)[0]
    found = files.read(name, given.stream.read(files.MAX_BYTES + 1))
    language = request.form.get("language") or found.language or next(iter(languages(promo)), "en")
    if found.text:
        command = _typed(promo, language, found.text)
    else:
        taken = [[start * MILLISECOND, end * MILLISECOND, text] for start, end, text in found.cues]
        command = {"do": "take-cues", "language": language, "cues": taken, "name": name[:60]}
    return json_answer({"command": command, "notices": list(found.notices)})


def _typed(promo: Promo, language: str, text: str) -> dict[str, object]:
    """A text without times: it is laid on the voice that is heard most."""
    longest: dict[str, int] = {}
    for part, _, length in voiced_parts(promo):
        media = promo.media[part.media or ""]
        if media.speech or media.heard == "voice":
            longest[media.id] = longest.get(media.id, 0) + length
    if not longest:
        raise Refusal("no-voice", "Nobody is heard to speak in this promo.", "Lay a voice in first.")
    return {"do": "type-words", "media": max(longest, key=longest.__getitem__), "language": language, "text": text}


@blueprint.get("/promos/<promo_id>/captions.<form>")
@login_required
def file(promo_id: str, form: str) -> Response:
    """A lane as a caption file, its lines broken as in a format."""
    if form not in ("srt", "vtt"):
        raise Missing("no-file", "There is nothing at this address.")
    with transaction() as work:
        promo = newest(work, promo_id)
    lane = find_lane(promo, request.args["lane"]) if request.args.get("lane") else lane_on_show(promo)
    if lane is None:
        raise Missing("no-captions", "There are no captions in this promo.")
    shape = find_format(promo, request.args["format"]) if request.args.get("format") else None
    text = files.written(timed(promo, lane, shape), form)
    name = f"{clean_name(promo.name)[0]}.{lane.language}.{form}"
    kind = "text/vtt" if form == "vtt" else "application/x-subrip"
    answer = Response(text, mimetype=kind)
    answer.headers.set("Content-Disposition", "attachment", filename=name)
    return answer
