"""Plays a mail server on this machine, which delivers nothing: `python -m glowreel.outside.mail SOCKET FOLDER`.

Letters lie in the folder, one of each `Message-ID`; addresses that begin with `nobody` are refused.
"""

from __future__ import annotations

import asyncio
import socket
import sys
from email import message_from_bytes
from email.message import EmailMessage
from email.policy import SMTP as POLICY
from pathlib import Path

from aiosmtpd.smtp import SMTP, Envelope, Session

from glowreel.outside.mail.port import Folder

MOST_BYTES = 2 * 1024**2
UNKNOWN = "nobody"


class Sink:
    """Keeps what comes."""

    def __init__(self, folder: Path) -> None:
        self._folder = Folder(folder)

    async def handle_RCPT(
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        if address.startswith(UNKNOWN):
            return "550 no such person here"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:
        sent = envelope.content or b""
        raw = sent if isinstance(sent, bytes) else sent.encode()
        letter = message_from_bytes(raw, _class=EmailMessage, policy=POLICY)
        self._folder.send(letter)
        return "250 OK"


async def main(bound: socket.socket, folder: Path) -> None:
    loop = asyncio.get_running_loop()
    server = await loop.create_server(
        lambda: SMTP(Sink(folder), data_size_limit=MOST_BYTES, hostname="mail.example"), sock=bound
    )
    await server.serve_forever()


if __name__ == "__main__":
    asyncio.run(main(socket.socket(fileno=int(sys.argv[1])), Path(sys.argv[2])))
