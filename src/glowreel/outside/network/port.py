"""The port to a network: somebody allows the program to publish for an account there; films are sent in parts and
posted, each under a key by which the network knows that it has it already."""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Sequence
from typing import Literal
from urllib.parse import urlencode

from pydantic import BaseModel, ConfigDict, Field

from glowreel.outside.service import Service

PART_BYTES = 4 * 1024**2
"""So much of a film is sent at once."""


class Told(BaseModel):
    """Anything that a network says."""

    model_config = ConfigDict(frozen=True)


class Granted(Told):
    """What somebody allowed: a token that lasts so many seconds, what brings the next one, and whose account it is."""

    token: str = Field(min_length=8, max_length=400)
    refresh: str = Field(min_length=8, max_length=400)
    lasts: float = Field(gt=0)
    account: str = Field(max_length=200)


class Arrived(Told):
    """A film that is being sent: its key there, and how many bytes have come."""

    id: str = Field(max_length=100)
    received: int = Field(ge=0)


class Standing(Told):
    """A post: being processed, live at an address, or failed for a reason."""

    id: str = Field(max_length=100)
    state: Literal["processing", "live", "failed"]
    reason: str = Field(default="", max_length=400)
    address: str = Field(default="", max_length=500)


def challenge(verifier: str) -> str:
    """What is shown of a secret of ours when somebody is sent to a network (RFC 7636, S256)."""
    return base64.urlsafe_b64encode(hashlib.sha256(verifier.encode()).digest()).rstrip(b"=").decode()


def ask_at(address: str, back: str, state: str, verifier: str) -> str:
    """Where somebody is sent to allow the program to publish; they come back to `back` with a code and the state."""
    asked = {"back": back, "state": state, "challenge": challenge(verifier)}
    return f"{address.rstrip('/')}/allow?{urlencode(asked)}"


class Network:
    """A network at an address, as an account that allowed it."""

    def __init__(self, address: str, name: str, token: str = "") -> None:
        self._service = Service(address, name, token)

    def granted(self, code: str, verifier: str) -> Granted:
        """What a code stands for that somebody came back with; it can be used once, soon, and by whoever sent them."""
        body = {"code": code, "verifier": verifier}
        return self._service.told(Granted, "/token", body=body, missing="That took too long.")

    def renewed(self, refresh: str) -> Granted:
        """The next token, when one has run out. Raises `Refusal` where it was ended there."""
        return self._service.told(Granted, "/token", body={"refresh": refresh}, missing="It was ended there.")

    def begin(self, key: str, size: int) -> Arrived:
        """A film of so many bytes to be sent under a key; what has come of it, where it was begun before."""
        return self._service.told(Arrived, "/films", body={"key": key, "size": size})

    def send(self, film: str, at: int, part: bytes) -> Arrived:
        """Sends bytes of a film, from the byte `at` on."""
        return Arrived.model_validate(self._service.send(f"/films/{film}", part, {"at": at}))

    def post(
        self, key: str, film: str, title: str, text: str, tags: Sequence[str], still: float, instead: str = ""
    ) -> Standing:
        """Posts a film that has come, or what was posted under this key before; in the place of the post `instead`,
        where one is named. `still` is the second of it that is shown before it plays."""
        body = {"key": key, "film": film, "title": title, "text": text, "tags": list(tags), "still": still,
                "instead": instead}  # fmt: skip
        return self._service.told(Standing, "/posts", body=body, missing="That post is gone.")

    def standing(self, post: str) -> Standing:
        return self._service.told(Standing, f"/posts/{post}", missing="That post is gone.")

    def take_down(self, post: str) -> None:
        """Removes a post; nothing where it is gone already."""
        self._service.ask(f"/posts/{post}/remove", body={}, missing="That post is gone.")

    def leave(self) -> None:
        """Ends what was allowed."""
        self._service.ask("/leave", body={})
