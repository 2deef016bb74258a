"""The templates that are shipped: one JSON file each, as a designer writes them. `docs/templates.md` says how."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from pathlib import Path

from glowreel.core.template import Pattern

FOLDER = Path(__file__).parent


@cache
def patterns() -> Mapping[str, Pattern]:
    """Every shipped template by its identifier, which is the name of its file."""
    found = {path.stem: Pattern.model_validate_json(path.read_bytes()) for path in sorted(FOLDER.glob("*.json"))}
    strange = [key for key, pattern in found.items() if pattern.id != key]
    if strange:
        raise ValueError(f"the template in {strange[0]}.json is called otherwise in it")
    return found
