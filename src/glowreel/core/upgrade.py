"""Documents of earlier versions as ones of this version.

Each step is a pure function from one version's plain data to the next one's, and they are chained. A golden file for
every version ever released lies beside the tests. A document of a newer program is refused in a sentence.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glowreel.core.document import VERSION
from glowreel.core.errors import Refusal

Data = dict[str, Any]


def _speeds_and_tracks(data: Data) -> Data:
    """1 to 2: fields and kinds were added; an older document is one that does not use them."""
    return data


def _rate_of_first_footage(data: Data) -> Data:
    """2 to 3: the rate follows the first footage. What was made before keeps the rate it was cut at."""
    return {**data, "rate_chosen": True}


STEPS: dict[int, Callable[[Data], Data]] = {1: _speeds_and_tracks, 2: _rate_of_first_footage}
"""The step that leads on from each version."""


def upgrade(data: object) -> Data:
    """A document of any version there was as one of this version; the input is untouched.

    Raises `Refusal` for what is no document, and for one of a newer program.
    """
    if not isinstance(data, dict):
        raise Refusal("no-document", "This is not a promo document.")
    version = data.get("version")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise Refusal("no-version", "This is not a promo document: it does not say its version.")
    if version > VERSION:
        raise Refusal("newer", "This promo was made with a newer Glow Reel.", "Update this one to open it.")
    for step in range(version, VERSION):
        data = STEPS[step](data)
    return {**data, "version": VERSION}
