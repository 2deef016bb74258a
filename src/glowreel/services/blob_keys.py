"""Where the files of a source lie in the blob store, for the engine."""

from __future__ import annotations

from pathlib import Path

from glowreel.core.derived import Need
from glowreel.core.errors import Missing, Unreadable
from glowreel.engine.makers import made_name
from glowreel.store.blobs import Blobs


def original(source: str) -> str:
    return f"media/{source[:2]}/{source}/original"


def derived(source: str, name: str) -> str:
    """Key of something made from a source: one of `engine.makers.MAKERS`."""
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
            except Missing as error:
                # What somebody sent is never opened in its place here: only what was made of it.
                raise Unreadable(source, "has not been looked at yet") from error
        drawn = derived(source, "picture")
        return self._blobs.local(drawn if self._blobs.has(drawn) else original(source))

    def samples(self, source: str) -> Path:
        return self._blobs.local(derived(source, "samples"))

    def made(self, need: Need, name: str) -> Path:
        return self._blobs.local(derived(need.source, made_name(need, name)))
