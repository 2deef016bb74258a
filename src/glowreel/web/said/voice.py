"""Voice from text, in the editor: lines are spoken by a voice and laid in."""

from __future__ import annotations

import orjson
from flask import Response, render_template, request
from flask_login import login_required

from glowreel.core.commands.transcript import spoken_by_voices
from glowreel.core.errors import Refusal
from glowreel.core.speech.voices import VOICES, spoken_seconds
from glowreel.services import speaking
from glowreel.services.access import authorise
from glowreel.store.models import PromoRow, Spoken
from glowreel.web.extensions import actor, runtime, transaction
from glowreel.web.said.routes import blueprint, json_answer, newest


@blueprint.get("/promos/<promo_id>/voice")
@login_required
def voice(promo_id: str) -> str:
    """The sheet in which a text is written that is to be spoken, with what was spoken before."""
    with transaction() as work:
        promo = newest(work, promo_id)
        items = spoken_by_voices(promo)
        said = speaking.texts_of(work.session, actor(), [item.media or "" for item in items])
    lines = [said[item.media or ""] for item in items if item.media in said]
    there = {name: not row.model or runtime().models.ready(row.model) for name, row in VOICES.items()}
    pronounced = "\n".join(f"{word} = {read}" for word, read in promo.pronounced.items())
    return render_template(
        "said/voice.html", promo=promo, lines=lines, voices=VOICES, there=there, pronounced=pronounced
    )  # fmt: skip


@blueprint.post("/promos/<promo_id>/voice")
@login_required
def speak(promo_id: str) -> Response:
    """Has lines spoken; answers with a number for each, under which it is told how far it is."""
    try:
        speed = float(request.form.get("speed", "1"))
        says = orjson.loads(request.form.get("says", "{}"))
        if not isinstance(says, dict) or len(says) > 200:
            raise ValueError
        plain = {str(word)[:60]: str(said)[:60] for word, said in says.items()}
    except ValueError as error:
        raise Refusal("bad-voice", "That cannot be spoken.", "Try it again.") from error
    lines = request.form.get("text", "")[:40_000].splitlines()
    with transaction() as work:
        authorise(work.session, PromoRow, promo_id, actor(), "edit")
        rows = speaking.want(work, actor(), lines, request.form.get("voice", ""), speed, plain)
        return json_answer(told_of(rows))


@blueprint.get("/voices/state")
@login_required
def state() -> Response:
    """How far lines of the team are."""
    with transaction() as work:
        return json_answer(told_of(speaking.find(work.session, actor(), numbers(request.args.get("lines", "")))))


def numbers(text: str) -> list[int]:
    """Numbers of lines as the page sends them, by commas."""
    return [int(key) for key in text.split(",")[:60] if key.isascii() and key.isdigit() and len(key) < 18]


def told_of(rows: list[Spoken]) -> list[dict[str, object]]:
    """How far lines are, as the page is told."""
    return [
        {
            "line": row.id, "state": row.state, "error": row.error, "media": row.media_id,
            "waits": row.state == "queued" and _fetching(row),
        }
        for row in rows
    ]  # fmt: skip


def _fetching(row: Spoken) -> bool:
    model = VOICES[row.said["voice"]].model
    return bool(model) and not runtime().models.ready(model)


@blueprint.get("/voices/lasts")
@login_required
def lasts() -> Response:
    """How long lines take to be said, roughly, in seconds."""
    lines = request.args.get("text", "")[:20_000].splitlines()
    return json_answer([spoken_seconds(line) if line.strip() else 0 for line in lines])
