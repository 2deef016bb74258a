"""The text of a timeline, looked at before any library parses it."""

from __future__ import annotations

import json
from typing import Any

from glowreel.core.errors import Refusal

KEY = "glowreel"
"""Under which a timeline of ours carries its document along."""
MAX_TEXT = 64 * 1024**2
MAX_DEPTH = 200
MAX_VALUES = 3_000_000


def check_text(text: str) -> Any:
    """The decoded JSON of a timeline. Refuses what is too long, nested too deeply, or holds too much."""
    if len(text) > MAX_TEXT:
        raise Refusal("too-large", "That timeline file is larger than 64 MB.")
    try:
        data = json.loads(text)
    except RecursionError as error:
        raise Refusal("too-deep", "That timeline is nested too deeply.") from error
    except ValueError as error:
        raise Refusal("not-otio", "That is not an OpenTimelineIO file.", "Export it as .otio or .otioz.") from error
    level, depth, count = [data], 0, 0
    while level:
        depth += 1
        count += len(level)
        if depth > MAX_DEPTH:
            raise Refusal("too-deep", "That timeline is nested too deeply.")
        if count > MAX_VALUES:
            raise Refusal("too-large", "That timeline holds more than can be read.")
        level = [part for value in level for part in _parts(value)]
    return data


def _parts(value: Any) -> Any:
    if isinstance(value, dict):
        return value.values()
    return value if isinstance(value, list) else ()
