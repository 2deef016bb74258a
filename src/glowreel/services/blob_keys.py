"""Where the files of a source lie in the blob store, for the engine."""

from __future__ import annotations

from pathlib import Path

from glowreel.core.errors import Missing
from glowreel.store.blobs import Blobs


def original(source: str) -> str:
    return f"media/{source[:2]}/{source}/original"


def derived(source: str, name: str) -> str:
    """Key of something made from a source: `proxy`, `samples`, `peaks`, `poster.jpg` or `strip.jpg`."""
    return f"media/{source[:2]}/{source}/{name}"


class BlobLibrary:
    """The engine's `Library`, from originals or from the stand-ins that previews use."""

    def __init__(self, blobs: Blobs, *, stand_ins: bool = False) -> None:
        self._blobs = blobs
        self._stand_ins = stand_ins

    @property
    def for_preview(self) -> BlobLibrary:
        return BlobLibrary(self._blobs, stand_ins=True)

    def picture(self, source: str) -> Path:
        if self._stand_ins:
            try:
                return self._blobs.local(derived(source, "proxy"))
            except Missing:
                pass  # Some sources need none: small pictures and drawings.
        return self._blobs.local(original(source))

    def samples(self, source: str) -> Path:
        return self._blobs.local(derived(source, "samples"))
