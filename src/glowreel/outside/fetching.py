"""Fetching what somebody names by its address, without letting that reach what only this machine may reach.

Every hop is decided anew: the address is taken apart, its name resolved, and the connection made to the very address
that was allowed (by ssrfguard). Private addresses, redirects into them, other ports and schemes are refused in a
sentence; so is what is too large, too slow or of another kind. A host that a stand-in plays is led there, and nowhere
else.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from ipaddress import ip_network
from typing import BinaryIO
from urllib.parse import urljoin, urlsplit

import requests
from ssrfguard import Policy, Resolver, SSRFGuardError
from ssrfguard.requests import Session

from glowreel.core.errors import Refusal

HOPS = 5
SECONDS = 12.0
"""How long a fetch may take in all, with every redirect."""
CONNECT, READ = 4.0, 6.0
CHUNK = 1 << 16
PAGE_BYTES = 4 * 1024**2
PICTURE_BYTES = 10 * 1024**2
PAGES = ("text/html", "application/xhtml+xml")
STYLES = ("text/css",)
PICTURES = ("image/",)
MATERIAL = ("video/", "audio/", "image/", "application/pdf", "application/ogg")
"""What may come on the Shelf by its address."""


@dataclass(frozen=True)
class Fetched:
    """What came, from which address in the end, and as what it was sent."""

    url: str
    kind: str
    data: bytes

    @property
    def text(self) -> str:
        return self.data.decode("utf-8", "replace")


@dataclass(frozen=True)
class Saved:
    """What was written to a file: from which address in the end, as what it was sent, and what was said of its name."""

    url: str
    kind: str
    named: str


Tell = Callable[[int], None]


class Fetcher:
    """Fetches for one piece of work: all of it together takes no longer than `SECONDS`.

    `stand_ins` says which hosts are played on this machine, and on which port; `resolver` asks for names instead of the
    machine's own.
    """

    def __init__(
        self, stand_ins: Mapping[str, int] | None = None, resolver: Resolver | None = None, seconds: float = SECONDS
    ) -> None:
        self._stand_ins = dict(stand_ins or {})
        self._end = time.monotonic() + seconds
        self._public = Session(policy=Policy(), resolver=resolver)

    def get(self, url: str, kinds: tuple[str, ...], most: int) -> Fetched:
        """What stands at an address. Raises `Refusal` with a sentence for what may not or cannot be had."""
        with self._reached(url) as (answer, where, kind):
            _check_kind(kind, kinds)
            return Fetched(where, kind, b"".join(self._chunks(answer, most)))

    def kind(self, url: str) -> tuple[str, str]:
        """As what something at an address is sent, and where that is in the end; nothing of it is read."""
        with self._reached(url) as (_, where, kind):
            return kind, where

    def save(self, url: str, file: BinaryIO, kinds: tuple[str, ...], most: int, tell: Tell) -> Saved:
        """Writes what stands at an address to a file. `tell` is called with how much there is in all, 0 where that is
        not said, before it comes and whenever some of it has."""
        with self._reached(url) as (answer, where, kind):
            _check_kind(kind, kinds)
            told = answer.headers.get("Content-Length", "")
            size = int(told) if told.isdigit() and len(told) < 16 else 0
            if size > most:
                raise too_large(most)
            tell(size)
            for chunk in self._chunks(answer, most):
                file.write(chunk)
                tell(size)
            named = answer.headers.get("Content-Disposition", "")
        return Saved(where, kind, named)

    def post(self, url: str, body: bytes, headers: Mapping[str, str]) -> None:
        """Sends something to an address. Raises `Refusal` where that may not be, or is not taken (by a 2xx); leads
        nowhere else."""
        with self._ask(url, body, headers) as answer:
            if not 200 <= answer.status_code < 300:
                raise Refusal("not-taken", f"{_host(url)} answered {answer.status_code}.")

    @contextmanager
    def _reached(self, url: str) -> Iterator[tuple[requests.Response, str, str]]:
        """The answer that stands at an address in the end, where that is, and as what it is sent."""
        wanted = url if "//" in url else f"https://{url}"
        for _ in range(HOPS):
            with self._ask(wanted) as answer:
                if answer.is_redirect or answer.is_permanent_redirect:
                    wanted = urljoin(wanted, answer.headers.get("Location", ""))
                    continue
                if answer.status_code != 200:
                    raise Refusal("not-there", f"There is nothing at {_host(wanted)} under that address.", "Check it.")
                yield answer, wanted, answer.headers.get("Content-Type", "").split(";")[0].strip().lower()
                return
        raise Refusal("hops", "That address leads from one to the next without an end.", "Try another address.")

    def _ask(self, url: str, body: bytes | None = None, headers: Mapping[str, str] | None = None) -> requests.Response:
        try:
            parts = urlsplit(url)
        except ValueError as error:
            raise Refusal("no-address", "That is no address of a web page.", "Check it.") from error
        port = self._stand_ins.get((parts.hostname or "").lower())
        left = self._end - time.monotonic()
        if left <= 0:
            raise Refusal("slow", "The page takes too long to come.", "Try again, or save it and bring in the file.")
        try:
            if port is not None:
                path = parts.path or "/"
                here = f"http://127.0.0.1:{port}{path}" + (f"?{parts.query}" if parts.query else "")
                session, url = Session(policy=_only(port)), here
            else:
                session = self._public
            method = "GET" if body is None else "POST"
            timeout = (min(CONNECT, left), min(READ, left))
            return session.request(
                method, url, data=body, headers=headers, stream=True, allow_redirects=False, timeout=timeout
            )
        except SSRFGuardError as error:
            raise Refusal("private", "That address is not one of the open web.", "Enter that of a web page.") from error
        except (requests.RequestException, ValueError) as error:
            sentence = f"{_host(url)} cannot be reached."
            raise Refusal(
                "unreachable", sentence, "Check the address, or save the page and bring in the file."
            ) from error

    def _chunks(self, answer: requests.Response, most: int) -> Iterator[bytes]:
        size = 0
        try:
            for chunk in answer.iter_content(CHUNK):
                size += len(chunk)
                if size > most:
                    raise too_large(most)
                if time.monotonic() > self._end:
                    raise Refusal("slow", "It takes too long to come.", "Save it and bring in the file.")
                yield chunk
        except requests.RequestException as error:
            raise Refusal("cut-off", "It did not come in whole.", "Try again.") from error


def _check_kind(kind: str, kinds: tuple[str, ...]) -> None:
    if not kind.startswith(kinds):
        raise Refusal("other-kind", f"What stands there is {kind or 'of no kind'}.", "Try another address.")


def too_large(most: int) -> Refusal:
    """What is said of something that is larger than so many bytes."""
    return Refusal("too-large", f"What stands there is larger than {most // 1024**2} MB.", "Bring in a smaller copy.")


def _only(port: int) -> Policy:
    """The way to a stand-in: this machine's own address at one port, no redirects beyond it."""
    return Policy(allowed_networks=(ip_network("127.0.0.1/32"),), allowed_ports=frozenset({port}))


def _host(url: str) -> str:
    try:
        return urlsplit(url).hostname or "that address"
    except ValueError:
        return "that address"
