"""The program from a terminal, as a shell runs it."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path


def test_a_shell_completes_commands() -> None:
    """A real shell reads what the program writes for it, and asks the program as the tab key does."""
    script = (
        'eval "$(glowreel completion bash)"; COMP_WORDS=(glowreel re); COMP_CWORD=1; _glowreel_completion glowreel;'
        ' echo "${COMPREPLY[@]}"'
    )
    path = f"{Path(sys.executable).parent}:{os.environ['PATH']}"
    told = subprocess.run(["bash", "-c", script], env={**os.environ, "PATH": path}, capture_output=True, text=True)
    assert set(told.stdout.split()) == {"render", "restore"}
