"""The letters of files that people write: whichever of the usual encodings they are in."""

from __future__ import annotations


def decoded(data: bytes) -> str:
    """Text of any of the usual encodings: UTF-8 or UTF-16 with their marks, else Western European."""
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            return data.decode(encoding, "replace")
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace")
