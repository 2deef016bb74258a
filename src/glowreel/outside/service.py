"""Asking a service outside that was set up by whoever runs the program: its answers are limited in time and size, and
whatever goes wrong is one sentence."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from typing import Any, BinaryIO, TypeVar
from urllib.parse import quote

import orjson
import requests
from pydantic import BaseModel, ValidationError

from glowreel.core.errors import Refusal
from glowreel.outside.fetching import CHUNK, Fetched, too_large

CONNECT, READ = 3.0, 12.0
TEXT_BYTES = 4 * 1024**2
FILE_SECONDS = 1200.0
USUAL_WAIT, LONGEST_WAIT = 30.0, 3600.0
"""Seconds until a service is asked again that wants to be left alone, where it does not say how long; and at most."""

Model = TypeVar("Model", bound=BaseModel)


class Later(Refusal):
    """A service that wants to be asked again, after so many seconds."""

    def __init__(self, name: str, seconds: float) -> None:
        super().__init__("later", f"{name} takes nothing more just now.", "It is tried again by itself.")
        self.seconds = seconds


class Service:
    """A service at an address, called by its name in sentences. `token` is whoever's connection to it, if it needs
    one."""

    def __init__(self, address: str, name: str, token: str = "") -> None:
        self._address = address.rstrip("/")
        self.name = name
        self._headers = {"Authorization": f"Bearer {token}"} if token else {}
        if not address:
            raise Refusal("not-set-up", f"{name} is not set up here.", "Whoever runs this program can connect it.")

    def ask(
        self, path: str, params: Mapping[str, Any] | None = None, *, body: Mapping[str, Any] | None = None,
        missing: str = "There is no such thing any more.",
    ) -> Any:  # fmt: skip
        """What is answered, as JSON brings it; `body` is sent along and changes something there. Raises `Refusal`."""
        with self._asked("GET" if body is None else "POST", path, params, body, missing) as answer:
            try:
                return orjson.loads(self._read(answer, TEXT_BYTES))
            except ValueError as error:
                raise self._broken() from error

    def told(self, model: type[Model], path: str, params: Mapping[str, Any] | None = None, **more: Any) -> Model:
        """What is answered, as a value of that kind; see `ask`."""
        try:
            return model.model_validate(self.ask(path, params, **more))
        except ValidationError as error:
            raise self._broken() from error

    def send(self, path: str, data: bytes, params: Mapping[str, Any]) -> Any:
        """Sends a piece of a file; what is answered, as JSON brings it. Raises `Refusal`."""
        with self._asked("PUT", path, params, data, "There is no such file any more.") as answer:
            try:
                return orjson.loads(self._read(answer, TEXT_BYTES))
            except ValueError as error:
                raise self._broken() from error

    def file(self, path: str, kinds: tuple[str, ...], most: int, params: Mapping[str, Any] | None = None) -> Fetched:
        """A small file as it is sent."""
        with self._asked("GET", path, params, None, "There is no such file any more.") as answer:
            kind = answer.headers.get("Content-Type", "").split(";")[0].strip().lower()
            if not kind.startswith(kinds):
                raise self._broken()
            return Fetched(path, kind, self._read(answer, most))

    def save(
        self, path: str, file: BinaryIO, most: int, tell: Callable[[int], None],
        params: Mapping[str, Any] | None = None,
    ) -> None:  # fmt: skip
        """Writes a file as it comes. `tell` is called with how much there is in all, as `Fetcher.save` does."""
        with self._asked("GET", path, params, None, "There is no such file any more.") as answer:
            told = answer.headers.get("Content-Length", "")
            size = int(told) if told.isdigit() and len(told) < 16 else 0
            if size > most:
                raise too_large(most)
            come, end = 0, time.monotonic() + FILE_SECONDS
            tell(size)
            try:
                for chunk in answer.iter_content(CHUNK):
                    come += len(chunk)
                    if come > most:
                        raise too_large(most)
                    if time.monotonic() > end:
                        raise Refusal("slow", f"{self.name} takes too long.", "Try again later.")
                    file.write(chunk)
                    tell(size)
            except requests.RequestException as error:
                raise Refusal("cut-off", "It did not come in whole.", "Try again.") from error
            if size and come != size:
                raise Refusal("cut-off", "It did not come in whole.", "Try again.")

    def _asked(
        self, method: str, path: str, params: Mapping[str, Any] | None, body: Mapping[str, Any] | bytes | None,
        missing: str,
    ) -> requests.Response:  # fmt: skip
        carried: dict[str, Any] = {}
        if isinstance(body, bytes):
            carried["data"] = body
        elif body is not None:
            carried["json"] = dict(body)
        try:
            answer = requests.request(
                method, self._address + quote(path), params=dict(params or {}), **carried,
                headers=self._headers, timeout=(CONNECT, READ), stream=True, allow_redirects=False,
            )  # fmt: skip
        except requests.RequestException as error:
            raise Refusal("no-service", f"{self.name} cannot be reached.", "Try again in a moment.") from error
        if answer.status_code in (200, 201, 202):
            return answer
        with answer:
            if answer.status_code == 401:
                raise Refusal("not-connected", f"{self.name} is not connected any more.", "Connect it again.")
            if answer.status_code == 402:
                raise Refusal("no-licence", "That needs a licence.", "Take one first.")
            if answer.status_code == 404:
                raise Refusal("gone", missing)
            if answer.status_code in (409, 422):
                raise self._refused(answer)
            if answer.status_code == 429:
                told = answer.headers.get("Retry-After", "")
                raise Later(self.name, min(float(told), LONGEST_WAIT) if told.isdigit() else USUAL_WAIT)
        raise self._broken()

    def _refused(self, answer: requests.Response) -> Refusal:
        """Why the service does not do it, in its own words where it says them."""
        try:
            told = orjson.loads(self._read(answer, TEXT_BYTES))
        except (ValueError, Refusal):
            return self._broken()
        sentence = told.get("sentence") if isinstance(told, dict) else None
        if not isinstance(sentence, str) or not sentence.isprintable():
            return self._broken()
        return Refusal("refused-there", f"{self.name} says: {sentence[:300]}")

    def _read(self, answer: requests.Response, most: int) -> bytes:
        parts, come = [], 0
        try:
            for chunk in answer.iter_content(CHUNK):
                come += len(chunk)
                if come > most:
                    raise too_large(most)
                parts.append(chunk)
        except requests.RequestException as error:
            raise Refusal("cut-off", f"{self.name} broke off.", "Try again.") from error
        return b"".join(parts)

    def _broken(self) -> Refusal:
        return Refusal("odd-answer", f"{self.name} gave an answer that cannot be used.", "Try again later.")
