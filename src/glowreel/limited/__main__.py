"""`python -m glowreel.limited SOCKET`: the server of limited work."""

from __future__ import annotations

import sys
from pathlib import Path

from glowreel.limited.server import serve

serve(Path(sys.argv[1]))
