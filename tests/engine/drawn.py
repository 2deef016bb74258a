"""What draws, as it was when its version was given: `python -m tests.engine.drawn` writes it down anew."""

from __future__ import annotations

import ast
import hashlib
import inspect
import json
import textwrap
from pathlib import Path

from glowreel.engine import draw  # noqa: F401  (registers what draws)
from glowreel.engine.drawing import everything

LEDGER = Path(__file__).with_suffix(".json")


def code_of(function: object) -> str:
    """A hash of what a function does: its code without comments, docstring and layout."""
    tree = ast.parse(textwrap.dedent(inspect.getsource(inspect.unwrap(function))))  # type: ignore[arg-type]
    made = tree.body[0]
    assert isinstance(made, ast.FunctionDef)
    made.decorator_list = []
    if ast.get_docstring(made) is not None:
        made.body = made.body[1:]
    return hashlib.blake2b(ast.dump(made).encode(), digest_size=8).hexdigest()


def now() -> dict[str, list[object]]:
    """Each with its version and code."""
    return {name: [drawn.version, code_of(drawn.function)] for name, drawn in sorted(everything().items())}


if __name__ == "__main__":
    LEDGER.write_text(json.dumps(now(), indent=1) + "\n")
