"""Slides as they look, where a program for them (LibreOffice) is installed on the machine: drawn by it into a PDF."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

from glowreel.core.errors import BadMedia

SUFFIXES = (".pptx", ".ppsx", ".pptm")
"""What files of slides are called."""
PROGRAMS = ("soffice", "libreoffice")
SECONDS = 240.0


def program() -> str | None:
    """The program, or None where none is installed."""
    return next((found for name in PROGRAMS if (found := shutil.which(name))), None)


def as_document(path: Path, name: str, folder: Path) -> Path:
    """The slides as a PDF in the folder. Raises `BadMedia` where the program cannot do it."""
    command = program()
    assert command is not None
    copy = folder / "slides.pptx"
    shutil.copyfile(path, copy)
    home = folder / "home"
    home.mkdir(exist_ok=True)
    arguments = [
        command, "--headless", "--norestore", "--nolockcheck", f"-env:UserInstallation=file://{home}",
        "--convert-to", "pdf", "--outdir", str(folder), str(copy),
    ]  # fmt: skip
    try:
        subprocess.run(
            arguments, timeout=SECONDS, check=True, capture_output=True, cwd=folder,
            env={"PATH": os.environ.get("PATH", ""), "HOME": str(home)},
        )  # fmt: skip
    except (OSError, subprocess.SubprocessError) as error:
        raise BadMedia("not-drawn", f"{name} could not be drawn.", "Save it as PDF and add that.") from error
    made = folder / "slides.pdf"
    if not made.is_file():
        raise BadMedia("not-drawn", f"{name} could not be drawn.", "Save it as PDF and add that.")
    return made
