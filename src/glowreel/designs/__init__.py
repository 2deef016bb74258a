"""The designs that are shipped: one JSON file each, as a designer writes them. `docs/designs.md` says how."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from pathlib import Path

from glowreel.core.design import Design

FOLDER = Path(__file__).parent


@cache
def shipped() -> Mapping[str, Design]:
    """Every shipped design by its identifier, which is the name of its file."""
    found = {path.stem: Design.model_validate_json(path.read_bytes()) for path in sorted(FOLDER.glob("*.json"))}
    strange = [key for key, design in found.items() if design.id != key]
    if strange:
        raise ValueError(f"the design in {strange[0]}.json is called otherwise in it")
    return found
