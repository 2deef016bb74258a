"""Files of the voices that texts are spoken with: how each sounds, for the model that speaks (Apache 2.0)."""

from pathlib import Path

FOLDER = Path(__file__).parent
