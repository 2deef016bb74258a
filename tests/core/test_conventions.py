"""Conventions that are kept by failing."""

import re
from dataclasses import fields
from pathlib import Path

from glowreel.core.commands import ALL
from glowreel.core.errors import GlowReelError
from glowreel.services.setup import Settings
from glowreel.web.errors import SENTENCES

ROOT = Path(__file__).parent.parent.parent


def test_every_command_has_a_name_of_its_own_and_says_what_it_does() -> None:
    names = [command.model_fields["do"].default for command in ALL]
    assert len(set(names)) == len(names)
    for command in ALL:
        assert command.edit.__doc__ or command.__doc__, command.__name__


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


def test_what_is_shipped_from_elsewhere_has_its_licence_beside_it() -> None:
    static = ROOT / "src/glowreel/web/static"
    for name in ("bootstrap", "bootstrap-icons", "htmx"):
        assert (static / "vendor" / f"{name}.LICENSE").exists()
    fonts = ROOT / "src/glowreel/engine/fonts"
    assert len(list(fonts.glob("OFL-*.txt"))) == len({path.name.split("_")[0] for path in fonts.glob("*.ttf")})
