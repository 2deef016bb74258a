"""`./attack [trial …]`: attacks an installation of its own, made for this, and prints what came of it."""

from __future__ import annotations

import shutil
import sys
import tempfile
from pathlib import Path

from attacks.field import Field
from attacks.table import LONG, TRIALS
from attacks.trials import Report


def main() -> None:
    names = sys.argv[1:] or [name for name in TRIALS if name not in LONG]
    unknown = [name for name in names if name not in TRIALS]
    if unknown:
        raise SystemExit(f"There is no trial called {', '.join(unknown)}. Choose from {', '.join(TRIALS)}.")
    folder = Path(tempfile.mkdtemp(prefix="glowreel-attack-"))
    folder.chmod(0o755)
    report = Report()
    try:
        with Field(folder).running() as field:
            for name in names:
                print(f"\n## {name}", flush=True)
                TRIALS[name](field, report)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    if report.wrong:
        raise SystemExit(f"\nWrong: {', '.join(report.wrong)}")
    print("\nNothing gave way.")


main()
