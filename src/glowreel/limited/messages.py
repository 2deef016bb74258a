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


class Incoming:
    """The messages that come over a connection, none longer than `most` bytes.

    What has come of a message is kept while its rest is waited for, so that whoever stops in the middle of one is given
    up like whoever says nothing.
    """

    def __init__(self, connection: socket.socket, most: int) -> None:
        self._connection, self._most = connection, most
        self._buffer = bytearray()

    def receive(self) -> dict[str, Any] | None:
        """The next message; None where the other side is gone. Raises `TimeoutError` where it is not there in time."""
        while (message := self._whole()) is None:
            try:
                part = self._connection.recv(1 << 20)
            except ConnectionError:
                return None
            if not part:
                return None
            self._buffer += part
        return message

    def _whole(self) -> dict[str, Any] | None:
        if len(self._buffer) < HEAD.size:
            return None
        (length,) = HEAD.unpack_from(self._buffer)
        if length > self._most:
            raise Fault("a piece of limited work answered with more than it may")
        end = HEAD.size + length
        if len(self._buffer) < end:
            return None
        data = bytes(self._buffer[HEAD.size : end])
        del self._buffer[:end]
        return dict(json.loads(data))
