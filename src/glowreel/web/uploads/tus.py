"""The server side of resumable uploads: the tus protocol 1.0.0 with creation (of what is not yet
known how long it becomes too), expiration, checksum and termination.

What a piece of it answers is the same for people of a team and for whoever comes by a link; the routes say who asks.
"""

from __future__ import annotations

import base64
from typing import BinaryIO, cast

from flask import Response, request
from werkzeug.http import http_date

from glowreel.core.errors import Refusal
from glowreel.engine.limits import MAX_BYTES
from glowreel.store.models import Upload

VERSION = "1.0.0"
EXTENSIONS = "creation,creation-defer-length,expiration,checksum,termination"
ALGORITHMS = ("sha256", "sha1", "md5")
"""Of checksums of pieces; the strongest first."""
PIECE = "application/offset+octet-stream"


def capabilities() -> Response:
    """What this server knows of the protocol."""
    response = Response(status=204)
    response.headers["Tus-Version"] = VERSION
    response.headers["Tus-Extension"] = EXTENSIONS
    response.headers["Tus-Max-Size"] = str(MAX_BYTES)
    response.headers["Tus-Checksum-Algorithm"] = ",".join(ALGORITHMS)
    return _marked(response)


def check_version() -> None:
    """Refuses a client of another version of the protocol."""
    if request.headers.get("Tus-Resumable") != VERSION:
        raise WrongVersion("tus-version", "This is not how files are sent here.", "Reload the page.")


class WrongVersion(Refusal):
    """Another version of the protocol."""

    status = 412


def wanted() -> tuple[str, int | None]:
    """The name and size of the file that is to come, from the headers of a creation; None where it is said that the
    size is not known yet."""
    size = None if request.headers.get("Upload-Defer-Length") == "1" else length()
    if size is None and request.headers.get("Upload-Defer-Length") != "1":
        raise Refusal("length", "The upload does not say how large it is.", "Send it again.")
    return _metadata().get("filename") or "Unnamed file", size


def length() -> int | None:
    """How large a file is as a request says it, if it does."""
    size = request.headers.get("Upload-Length", "")
    return int(size) if size.isascii() and size.isdigit() and len(size) <= 15 else None


def _metadata() -> dict[str, str]:
    found = {}
    for pair in request.headers.get("Upload-Metadata", "")[:4000].split(","):
        name, _, value = pair.strip().partition(" ")
        try:
            found[name] = base64.b64decode(value, validate=True).decode()
        except ValueError:
            continue
    return found


def piece() -> tuple[int, BinaryIO, tuple[str, bytes] | None]:
    """Where a piece begins, its bytes, and the checksum that it must have, if one was sent along."""
    offset = request.headers.get("Upload-Offset", "")
    if request.mimetype != PIECE or not offset.isascii() or not offset.isdigit() or len(offset) > 15:
        raise Refusal("piece", "That is no piece of a file.", "Send it again.")
    return int(offset), cast(BinaryIO, request.stream), _checksum()


def _checksum() -> tuple[str, bytes] | None:
    told = request.headers.get("Upload-Checksum", "")
    if not told:
        return None
    algorithm, _, digest = told.partition(" ")
    try:
        if algorithm not in ALGORITHMS:
            raise ValueError(algorithm)
        return algorithm, base64.b64decode(digest, validate=True)
    except ValueError as error:
        raise BadChecksum("checksum", "The checksum of that piece cannot be read.", "Send it again.") from error


class BadChecksum(Refusal):
    """A checksum that is none, or of a kind that is not known here."""

    status = 400


def created(row: Upload, where: str) -> Response:
    """A file may come; its pieces go to `where`."""
    response = Response(status=201)
    response.headers["Location"] = where
    return _marked(response, row, 0)


def standing(row: Upload, arrived: int, status: int = 204) -> Response:
    """How much of a file has come; which one of the Shelf it is once it is whole."""
    response = Response(status=status)
    if row.size:
        response.headers["Upload-Length"] = str(row.size)
    else:
        response.headers["Upload-Defer-Length"] = "1"
    response.headers["Cache-Control"] = "no-store"
    return _marked(response, row, arrived)


def ended() -> Response:
    """The upload is no more."""
    return _marked(Response(status=204))


def _marked(response: Response, row: Upload | None = None, arrived: int = 0) -> Response:
    response.headers["Tus-Resumable"] = VERSION
    if row is not None:
        response.headers["Upload-Offset"] = str(arrived)
        response.headers["Upload-Expires"] = http_date(row.until)
        if row.media_id is not None:
            response.headers["Glow-File"] = row.media_id
            response.headers["Glow-Known"] = "1" if row.known else "0"
    return response
