"""Keys in addresses: worked out from the secret of this installation, so that whoever may share one sees it again,
while the database holds its digest alone."""

from __future__ import annotations

import base64
import hashlib
import hmac

BYTES = 24
"""So many bytes of the code are the key: 192 bits."""


def key_of(secret: str, kind: str, thing: str, turn: int = 0) -> str:
    """The key that opens a thing; with another `turn` it is another one, and the old opens nothing any more."""
    code = hmac.new(secret.encode(), f"{kind}:{thing}:{turn}".encode(), hashlib.sha256).digest()
    return base64.urlsafe_b64encode(code[:BYTES]).decode()


def digest(key: str) -> str:
    """What is kept of a key."""
    return hashlib.sha256(key.encode()).hexdigest()


def fits(key: str, kept: str) -> bool:
    """Whether it is the key of which that digest is kept; takes as long for every wrong one."""
    return hmac.compare_digest(digest(key), kept)
