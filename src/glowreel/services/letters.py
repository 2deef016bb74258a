"""Letters to people: written as files in a folder, from where a mail program takes them.

Without a mail program they stay there, and whoever runs this installation can read them.
"""

from __future__ import annotations

import secrets
from email.message import EmailMessage
from email.policy import SMTP
from pathlib import Path

from glowreel.services.setup import Runtime

SENDER = "Glow Reel <no-reply@glowreel.example>"
MOST = 2000


def write(runtime: Runtime, to: str, subject: str, text: str) -> Path:
    """Puts a letter into the folder, whole or not at all."""
    folder = Path(runtime.settings.letters)
    folder.mkdir(parents=True, exist_ok=True, mode=0o750)
    letter = EmailMessage(policy=SMTP)
    letter["From"], letter["To"], letter["Subject"] = SENDER, to, subject
    letter.set_content(text)
    path = folder / f"{secrets.token_hex(8)}.eml"
    part = path.with_suffix(".part")
    part.write_bytes(letter.as_bytes())
    part.replace(path)
    for old in sorted(folder.glob("*.eml"), key=lambda p: p.stat().st_mtime)[:-MOST]:
        old.unlink(missing_ok=True)
    return path
