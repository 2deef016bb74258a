"""The colours that pictures are made of."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np

SIDE = 48
"""Pictures are looked at as small as this: their colours stay."""
CLUSTERS = 8


def palette_of(jpeg: bytes) -> list[tuple[str, float]]:
    """The colours of a picture, each with the share of it that it covers; nothing where it cannot be read. Found by
    k-means in CIELAB from fixed beginnings, so that the same picture has the same colours."""
    pixels = cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR)
    if pixels is None:
        return []
    small = cv2.resize(pixels, (SIDE, SIDE), interpolation=cv2.INTER_AREA)
    lab: Any = cv2.cvtColor(small.astype(np.float32) / 255, cv2.COLOR_BGR2Lab).reshape(-1, 3)
    cv2.setRNGSeed(1)
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 20, 0.5)
    _, labels, centres = cv2.kmeans(lab, CLUSTERS, np.zeros(0, np.int32), stop, 2, cv2.KMEANS_PP_CENTERS)
    counts = np.bincount(labels.ravel(), minlength=CLUSTERS) / labels.size
    bgr: Any = cv2.cvtColor(centres.reshape(1, -1, 3), cv2.COLOR_Lab2BGR)[0]
    values = np.clip(np.rint(bgr * 255), 0, 255).astype(int)
    return [(f"#{red:02X}{green:02X}{blue:02X}", float(share))
            for (blue, green, red), share in zip(values, counts, strict=True) if share > 0]  # fmt: skip
