"""The transcript of a promo: written down, read along, cut by words."""

from __future__ import annotations

import io
import wave
from typing import Any

import numpy as np
import orjson
from flask import Blueprint, Response, render_template, request
from flask_login import login_required

from glowreel.core.commands import CutPauses, RemoveWords, apply
from glowreel.core.commands.base import Context
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.speech.cutting import between, ranges_of, shortened
from glowreel.core.speech.heard import heard
from glowreel.core.time import SAMPLE_RATE, TICKS_PER_SAMPLE
from glowreel.engine.soundcopy import stored_samples
from glowreel.services import derivation, following, needed, promos, transcripts
from glowreel.services.access import authorise
from glowreel.services.blob_keys import derived
from glowreel.store.database import Unit
from glowreel.store.models import PromoRow
from glowreel.web.extensions import actor, limiter, runtime, the_preview, transaction, user_id
from glowreel.web.said.view import listed, paragraphs, sentences

blueprint = Blueprint("said", __name__, template_folder="templates")
JOIN_SAMPLES = int(2.4 * SAMPLE_RATE)
"""How much is heard of a join."""
MOST_HEARD = 60.0
LANGUAGES: dict[str, str] = {
    "en": "English", "de": "German", "fr": "French", "es": "Spanish", "it": "Italian", "nl": "Dutch",
    "pt": "Portuguese", "pl": "Polish", "cs": "Czech", "da": "Danish", "sv": "Swedish", "no": "Norwegian",
    "fi": "Finnish", "tr": "Turkish", "el": "Greek", "ru": "Russian", "uk": "Ukrainian", "ar": "Arabic",
    "hi": "Hindi", "ja": "Japanese", "ko": "Korean", "zh": "Chinese",
}  # fmt: skip
"""Languages that are offered by name."""


def json_answer(data: Any) -> Response:
    return Response(orjson.dumps(data), mimetype="application/json", headers={"Cache-Control": "no-store"})


def newest(work: Unit, promo_id: str) -> Promo:
    """A promo as it is, for who may see it."""
    return promos.document(work.session, authorise(work.session, PromoRow, promo_id, actor(), "see"))


@blueprint.get("/promos/<promo_id>/transcript")
@login_required
def transcript(promo_id: str) -> str:
    """What is said in the promo as it is cut, and the voices of which that is not known yet."""
    with transaction() as work:
        promo = newest(work, promo_id)
        voices = transcripts.voices(work.session, runtime(), promo, actor())
    slips, pauses = listed(promo)
    return render_template(
        "said/transcript.html", promo=promo, voices=voices, paragraphs=paragraphs(promo), slips=slips, pauses=pauses,
        models=list(transcripts.models(runtime())), languages=LANGUAGES,
    )  # fmt: skip


@blueprint.post("/promos/<promo_id>/transcript/<media_id>/ask")
@login_required
def ask(promo_id: str, media_id: str) -> Response:
    """Has it written down what is said in a file."""
    language, model = request.form.get("language", ""), request.form.get("model", "")
    if language and language not in LANGUAGES:
        raise Refusal("no-language", "That language is not known here.", "Let it be found.")
    if model and model not in {name for name, _, _ in transcripts.models(runtime())}:
        raise Refusal("no-model", "There is no model of that name.", "Choose another one.")
    with transaction() as work:
        authorise(work.session, PromoRow, promo_id, actor(), "edit")
        transcripts.ask(work, media_id, actor(), language, model, request.form.get("careful") == "1")
    return json_answer({})


@blueprint.post("/promos/<promo_id>/transcript/<int:derived_id>/stop")
@login_required
def stop(promo_id: str, derived_id: int) -> Response:
    """Stops writing down what is said."""
    with transaction() as work:
        authorise(work.session, PromoRow, promo_id, actor(), "edit")
        derivation.cancel(work.session, derived_id, actor())
    return json_answer({})


@blueprint.get("/promos/<promo_id>/transcript/<media_id>/sentences")
@login_required
def recording(promo_id: str, media_id: str) -> str:
    """A whole recording in sentences, to choose the good ones."""
    with transaction() as work:
        promo = newest(work, promo_id)
    if media_id not in promo.media:
        raise Missing("gone", "That recording is not in the promo any more.")
    return render_template("said/sentences.html", media=promo.media[media_id], found=sentences(promo, media_id))


@blueprint.get("/promos/<promo_id>/transcript/<media_id>/heard.wav")
@login_required
def heard_there(promo_id: str, media_id: str) -> Response:
    """A stretch of a recording as it came, from `at` on `for` so many seconds."""
    with transaction() as work:
        promo = newest(work, promo_id)
    media = promo.media.get(media_id)
    if media is None or not media.sounding:
        raise Missing("gone", "That recording is not in the promo any more.")
    try:
        at, lasts = float(request.args.get("at", "0")), float(request.args.get("for", "5"))
    except ValueError as error:
        raise Refusal("no-time", "That is no time.") from error
    if not (0 <= at <= 8 * 3600 and 0 < lasts <= MOST_HEARD):
        raise Refusal("no-time", f"At most {MOST_HEARD:g} seconds are heard at once.")
    samples = stored_samples(runtime().blobs.local(derived(media.hash, "samples")))
    first = int(at * SAMPLE_RATE)
    return Response(_wave(np.asarray(samples[first : first + int(lasts * SAMPLE_RATE)]).tobytes()),
                    mimetype="audio/wav", headers={"Cache-Control": "private, max-age=600"})  # fmt: skip


@blueprint.get("/promos/<promo_id>/join.wav")
@login_required
def join(promo_id: str) -> Response:
    """How it sounds where words went, or a pause got shorter: the mix around it, as it would be."""
    keys = tuple(request.args.get("words", "").split(","))[:200]
    to = request.args.get("to", "")
    with transaction() as work:
        promo = newest(work, promo_id)
        found = needed.look(work.session, promo)
    words = heard(promo)
    try:
        command = CutPauses(words=keys, to=int(to)) if to else RemoveWords(words=keys)
    except ValueError as error:
        raise Refusal("no-words", "Those are no words of this promo.") from error
    if isinstance(command, CutPauses):
        ranges = shortened(promo.rate, between(words, set(keys)), command.to)
    else:
        ranges = ranges_of(promo, words, set(keys))
    if not ranges:
        raise Refusal("no-range", "Nothing would be cut there.")
    numbers = iter(range(10_000))
    tried = apply(promo, command, Context(lambda prefix: f"{prefix}-tried-{next(numbers)}")).promo
    start = max(0, ranges[0][0] // TICKS_PER_SAMPLE - JOIN_SAMPLES // 2)
    data, _ = the_preview().sound(tried, start, JOIN_SAMPLES, found.known)
    return Response(_wave(data), mimetype="audio/wav", headers={"Cache-Control": "no-store"})


@blueprint.post("/promos/<promo_id>/said-now")
@login_required
@limiter.limit("90/minute", key_func=user_id)
def said_now(promo_id: str) -> Response:
    """Which word of a text comes next for whoever reads it aloud, by the last seconds that were heard."""
    with transaction() as work:
        authorise(work.session, PromoRow, promo_id, actor(), "edit")
    sound = request.files.get("sound")
    before = request.form.get("before", "0", str)
    if sound is None or not before.isdecimal() or len(before) > 6:
        raise Refusal("no-sound", "There is nothing to listen to.")
    heard = sound.read(following.MOST_BYTES + 1)
    return json_answer({"next": following.place(runtime(), heard, request.form.get("text", ""), int(before))})


def _wave(data: bytes) -> bytes:
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(2)
        file.setsampwidth(2)
        file.setframerate(SAMPLE_RATE)
        file.writeframes(np.frombuffer(data, np.int16).tobytes())
    return out.getvalue()
