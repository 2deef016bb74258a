"""What is being said while somebody is recorded, so that a teleprompter goes along: a page sends the last seconds, a
worker listens, the page waits for the answer. It is only ever needed now: it goes through Redis and is kept nowhere.
"""

from __future__ import annotations

import json
import secrets
from functools import lru_cache

import redis

from glowreel.core.errors import Refusal
from glowreel.core.speech.following import in_english, next_word
from glowreel.engine.listening import LONGEST, words_in
from glowreel.engine.transcript import RATE
from glowreel.services.setup import Runtime

MOST_BYTES = int(LONGEST * RATE) * 2
LONGEST_TEXT = 20_000
ENGLISH = "speech-english"
PATIENT = 8
"""Seconds after which an answer is of no use any more."""
KEY = "glowreel:said:"


def place(runtime: Runtime, sound: bytes, text: str, before: int) -> int | None:
    """The word of a text that comes next for whoever speaks, by the last seconds of what is heard: samples of 16 bits,
    one channel, 16 kHz. `before` is where it was; None where it is not to be told. Raises `Refusal` where no model is
    there, or nobody has the time to listen."""
    if len(sound) > MOST_BYTES or len(text) > LONGEST_TEXT:
        raise Refusal("too-long", f"At most {LONGEST:g} seconds and {LONGEST_TEXT:,} letters are followed at once.")
    model, language = _model(runtime, text)
    name = KEY + secrets.token_hex(8)
    try:
        connection = _connection(runtime.settings.redis)
        connection.set(name, sound, ex=PATIENT)
        with runtime.database.unit() as unit:
            unit.later("glowreel.listen", name, model, language)
        answer = connection.blpop([f"{name}:words"], timeout=PATIENT)
    except redis.RedisError as error:
        raise _late() from error
    if answer is None:
        raise _late()
    return next_word(text, json.loads(answer[1]), before)


def _late() -> Refusal:
    return Refusal("late", "Nobody can listen just now.", "The teleprompter goes on at its speed.")


def _model(runtime: Runtime, text: str) -> tuple[str, str]:
    """The quick model where it understands the text, else the one for all languages."""
    english = in_english(text)
    found = [name for name in ((ENGLISH,) if english else ()) + (runtime.settings.speech_model,)
             if runtime.models.ready(name)]  # fmt: skip
    if not found:
        raise Refusal("no-model", "What understands speech has not been fetched yet.", "It goes on at its speed.")
    return found[0], "en" if english else ""


def listen(runtime: Runtime, name: str, model: str, language: str) -> None:
    """Tells the words of what a page sent, where it still waits for them."""
    connection = _connection(runtime.settings.redis)
    sound = connection.getdel(name)
    if not isinstance(sound, bytes):
        return
    words = words_in(sound, runtime.models.path(model), language or None)
    with connection.pipeline() as pipe:
        pipe.rpush(f"{name}:words", json.dumps(words))
        pipe.expire(f"{name}:words", PATIENT)
        pipe.execute()


@lru_cache(maxsize=4)
def _connection(address: str) -> redis.Redis:
    return redis.Redis.from_url(address, socket_timeout=PATIENT + 2)
