"""Conventions that are kept by failing."""

import ast
import re
import sys
from dataclasses import fields
from pathlib import Path
from typing import Annotated, get_args, get_origin, get_type_hints

import pytest
from pydantic.fields import FieldInfo

from glowreel.core.commands import ALL, Remove
from glowreel.core.commands.roles import Role, fields_of, named
from glowreel.core.errors import GlowReelError
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.services.setup import Settings
from glowreel.web.errors import SENTENCES

ROOT = Path(__file__).parent.parent.parent


def test_every_command_has_a_name_of_its_own_and_says_what_it_does() -> None:
    names = [command.model_fields["do"].default for command in ALL]
    assert len(set(names)) == len(names)
    for command in ALL:
        assert command.__doc__, command.__name__


def test_every_command_is_sketched_before_and_after_in_its_module() -> None:
    for command in ALL:
        family = sys.modules[command.__module__].__doc__ or ""
        sketch = "".join(family.split("```")[1::2])
        assert command.__name__ in sketch, f"sketch {command.__name__} in the docstring of its module"
        assert "→" in sketch or "⇄" in sketch, f"{command.__module__} has no sketch of what its commands do"


SHORT_NAMES = set("xywhnab_tuS")
"""Axes, sizes, counts, pairs, a formula's time, and seconds in tests; anything else has a word."""


class LongLived(ast.NodeVisitor):
    """One-letter names that outlive a comprehension or lambda."""

    def __init__(self) -> None:
        self.found: list[str] = []

    def visit_short(self, node: ast.AST) -> None:
        """Inside these a letter is near enough to what it stands for."""

    visit_ListComp = visit_SetComp = visit_DictComp = visit_GeneratorExp = visit_Lambda = visit_short

    def visit_Name(self, node: ast.Name) -> None:
        if isinstance(node.ctx, ast.Store) and len(node.id) == 1 and node.id not in SHORT_NAMES:
            self.found.append(f"{node.id} in line {node.lineno}")

    def visit_arg(self, node: ast.arg) -> None:
        if len(node.arg) == 1 and node.arg not in SHORT_NAMES:
            self.found.append(f"{node.arg} in line {node.lineno}")


@pytest.mark.parametrize("folder", ["src", "tests", "tools", "benchmarks"])
def test_names_are_words(folder: str) -> None:
    for path in (ROOT / folder).rglob("*.py"):
        if "generate" in path.parts:
            continue  # Drawing is full of points, angles and radii.
        finder = LongLived()
        finder.visit(ast.parse(path.read_text()))
        assert not finder.found, f"{path.relative_to(ROOT)}: {', '.join(finder.found)}"


def test_the_length_of_a_second_in_ticks_stands_once() -> None:
    number = str(TICKS_PER_SECOND)
    files = [p for p in (ROOT / "src").rglob("*") if p.suffix in (".py", ".js", ".html") and "vendor" not in p.parts]
    places = [p.name for p in files if number in p.read_text().replace("_", "")]
    assert places == ["time.py"]


def test_every_setting_is_in_the_docs() -> None:
    text = (ROOT / "docs" / "settings.md").read_text()
    for field in fields(Settings):
        assert f"`GLOWREEL_{field.name.upper()}`" in text, f"describe {field.name} in docs/settings.md"


def test_the_tree_of_errors_is_drawn_where_it_is_defined() -> None:
    drawn = (ROOT / "src/glowreel/core/errors.py").read_text()

    def walk(kind: type) -> None:
        assert re.search(rf"[├└│─ ]*{kind.__name__}\b", drawn)
        for child in kind.__subclasses__():
            if child.__module__ == "glowreel.core.errors":
                walk(child)

    walk(GlowReelError)
    assert all(sentence.endswith(".") for sentence in SENTENCES.values())


def test_pictures_in_the_readme_are_all_there_and_all_linked() -> None:
    linked = set(re.findall(r"docs/screenshots/([\w-]+\.png)", (ROOT / "README.md").read_text()))
    assert linked == {path.name for path in (ROOT / "docs" / "screenshots").glob("*.png")}


def test_nobody_asks_which_kind_a_part_is_but_the_kinds_themselves() -> None:
    """What differs between kinds is said by the kind, so that a new one is one module. Old documents are plain data."""
    ladder = re.compile(r"\b(part|clip|item|one|old|new|held)\.kind (==|!=|in\b|not in\b)|isinstance\([^)]*\.content")
    for path in (ROOT / "src" / "glowreel").rglob("*.py"):
        if path.parent.name != "content" and path.name != "upgrade.py":
            found = [line for line in path.read_text().splitlines() if ladder.search(line)]
            assert not found, f"{path.relative_to(ROOT)}: {found[0].strip()}"


def test_what_is_shipped_from_elsewhere_has_its_licence_beside_it() -> None:
    static = ROOT / "src/glowreel/web/static"
    for name in ("bootstrap", "bootstrap-icons", "htmx"):
        assert (static / "vendor" / f"{name}.LICENSE").exists()
    models = ROOT / "src/glowreel/engine/models"
    assert all(path.with_suffix(".LICENSE").exists() for path in models.glob("*.tflite"))
    fonts = ROOT / "src/glowreel/engine/fonts"
    assert len(list(fonts.glob("OFL-*.txt"))) == len({path.name.split("_")[0] for path in fonts.glob("*.ttf")})


def _bare_identifiers(annotation: object) -> bool:
    """Whether a type holds an identifier that does not say what it names."""
    if get_origin(annotation) is Annotated:
        inner, *metadata = get_args(annotation)
        fields = [part for part in metadata if isinstance(part, FieldInfo)]
        pattern = any(getattr(rule, "pattern", None) for field in fields for rule in field.metadata)
        return pattern and inner is str and not any(isinstance(part, Role) for part in metadata)
    return any(_bare_identifiers(part) for part in get_args(annotation))


def test_commands_say_what_their_identifiers_name() -> None:
    for command in ALL:
        hints = get_type_hints(command, include_extras=True)
        bare = [name for name in command.model_fields if hints[name] is not str and _bare_identifiers(hints[name])]
        # Colours, languages, and words, which are named by where they are heard.
        values = {"colour", "box", "language", "words", "before"}
        assert not set(bare) - values, (command.__name__, bare)
    paste = next(command for command in ALL if command.__name__ == "Replace")
    assert fields_of(paste) == {"item": frozenset({"target"}), "media": frozenset({"media"})}
    several = Remove(items=("a", "b"))
    assert named(several, "target") == {"a", "b"}
    assert named(several, "media") == frozenset()
