"""The films of the welcome page: the finished demo promo, small, in three formats, as the program itself exports it."""

from __future__ import annotations

import tempfile
from itertools import count
from pathlib import Path

from glowreel.core.formats import SHIPPED
from glowreel.core.time import ticks
from glowreel.demo.scenario import FILES, MEDIA, finished, probed
from glowreel.engine.export import render_file
from glowreel.engine.ingest import make_samples
from glowreel.engine.sources import NothingMade, Sources
from glowreel.engine.still import draw_still, encode

OUT = Path(__file__).parents[2] / "web" / "static" / "welcome"
SHORT_SIDE = 320


class Shipped(NothingMade):
    """The engine's `Library` over the shipped media."""

    def __init__(self, by_hash: dict[str, Path], folder: Path) -> None:
        self._by_hash = by_hash
        self._folder = folder

    def picture(self, source: str) -> Path:
        return self._by_hash[source]

    def samples(self, source: str) -> Path:
        path = self._folder / f"{source}.samples"
        if not path.exists():
            make_samples(self.picture(source), path)
        return path


def films() -> None:
    """Writes a film and a poster for each format."""
    OUT.mkdir(exist_ok=True)
    media = {name: probed(MEDIA / name) for name in FILES}
    numbers = count(1)
    promo = finished(media, lambda prefix: f"{prefix}{next(numbers)}")
    with tempfile.TemporaryDirectory() as folder:
        sources = Sources(Shipped({m.hash: MEDIA / name for name, m in media.items()}, Path(folder)))
        for name in ("wide", "square", "tall"):
            format = SHIPPED[name]
            render_file(promo, format, SHORT_SIDE, sources, OUT / f"{name}.mp4", Path(folder))
            pixels = draw_still(promo, format, ticks(1.5), SHORT_SIDE, sources)
            (OUT / f"{name}.jpg").write_bytes(encode(pixels, ".jpg", 82))
        sources.close()


if __name__ == "__main__":
    films()
