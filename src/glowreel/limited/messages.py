"""Messages between the client, the server and a child: a length of four bytes, then JSON."""

from __future__ import annotations

import json
import socket
import struct
from typing import Any

from glowreel.core.errors import Fault

HEAD = struct.Struct("<I")


def send(connection: socket.socket, message: dict[str, Any]) -> None:
    data = json.dumps(message).encode()
    connection.sendall(HEAD.pack(len(data)) + data)


def receive(connection: socket.socket, most: int) -> dict[str, Any] | None:
    """The next message; None where the other side is gone. Raises `TimeoutError` where nothing came in time."""
    head = _exactly(connection, HEAD.size)
    if head is None:
        return None
    (length,) = HEAD.unpack(head)
    if length > most:
        raise Fault("a piece of limited work answered with more than it may")
    data = _exactly(connection, length)
    return None if data is None else json.loads(data)


def _exactly(connection: socket.socket, count: int) -> bytes | None:
    parts = bytearray()
    while len(parts) < count:
        try:
            part = connection.recv(min(1 << 20, count - len(parts)))
        except ConnectionError:
            return None
        except TimeoutError:
            if parts:
                continue  # A message has begun: the rest of it is on its way.
            raise
        if not part:
            return None
        parts += part
    return bytes(parts)
