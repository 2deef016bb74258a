"""High dynamic range and wide gamut brought to BT.709, as everything is held here.

What is stored becomes light: by the perceptual quantiser (SMPTE ST 2084) or hybrid log-gamma (ARIB STD-B67), both in
ITU-R BT.2100-2, or by the plain curve of a screen (BT.1886). A diffuse white has 203 cd/m² (ITU-R BT.2408-5, 2.2) and
becomes white; what is brighter is held back softly, up to 1,000 cd/m². Colours outside BT.709 go to its edge.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt

from glowreel.engine.drawing import part

Floats = npt.NDArray[np.float32]

PQ, HLG = 16, 18
"""Transfer characteristics (ITU-T H.273, table 3)."""
WHITE, PEAK = 203.0, 1000.0
KNEE = 0.6
"""Up to here, in shares of a diffuse white, light stays as it is."""
SCREEN = 2.4
"""The exponent of a screen (BT.1886)."""
LEVELS = 4096

FROM_2020: Floats = np.array(
    [[1.660491, -0.587641, -0.072850], [-0.124550, 1.132900, -0.008349], [-0.018151, -0.100579, 1.118730]], np.float32
)
"""From the primaries of BT.2020 to those of BT.709, in light (ITU-R BT.2407-0, 2.2)."""
FROM_P3: Floats = np.array(
    [[1.224940, -0.224940, 0.0], [-0.042057, 1.042057, 0.0], [-0.019638, -0.078636, 1.098274]], np.float32
)
"""From the primaries of P3 with the white of D65 (SMPTE RP 431-2, EG 432-1), worked out from their chromaticities."""
GAMUTS: dict[int, Floats] = {9: FROM_2020, 11: FROM_P3, 12: FROM_P3}
"""By the number of colour primaries (ITU-T H.273, table 2)."""
BRIGHT: Floats = np.array([0.2126, 0.7152, 0.0722], np.float32)


def wide(frame: Any) -> bool:
    """Whether a frame has more brightness or other colours than BT.709 can hold."""
    return int(frame.color_trc) in (PQ, HLG) or int(frame.color_primaries) in GAMUTS


@lru_cache(maxsize=4)
def light_of(transfer: int) -> Floats:
    """Light for each of 65,536 stored levels: 1 is a diffuse white. Of hybrid log-gamma, light of the scene."""
    stored = np.linspace(0, 1, 65_536)
    if transfer == PQ:
        m1, m2, c1, c2, c3 = 0.1593017578125, 78.84375, 0.8359375, 18.8515625, 18.6875
        power = stored ** (1 / m2)
        nits = 10_000 * (np.maximum(power - c1, 0) / (c2 - c3 * power)) ** (1 / m1)
        return (nits / WHITE).astype(np.float32)
    if transfer == HLG:
        # The constants a, b and c of table 5.
        steep, below, along = 0.17883277, 0.28466892, 0.55991073
        scene = np.where(stored <= 0.5, stored**2 / 3, (np.exp((stored - along) / steep) + below) / 12)
        return scene.astype(np.float32)
    return (stored**SCREEN).astype(np.float32)


@lru_cache(maxsize=1)
def _stored() -> npt.NDArray[np.uint8]:
    """The byte of an amount of light whose root is so many 4,096ths."""
    light = np.linspace(0, 1, LEVELS) ** 2
    return np.rint(255 * light ** (1 / SCREEN)).astype(np.uint8)


@part()
def held(light: Floats) -> Floats:
    """Brightness, of which all above the knee is held back so that the brightest becomes white. It begins as steeply as
    it was (after Reinhard et al., 2002, equation 4)."""
    above = np.maximum(light - KNEE, 0) / (1 - KNEE)
    most = (PEAK / WHITE - KNEE) / (1 - KNEE)
    soft = above * (1 + above / most**2) / (1 + above)
    made: Floats = np.minimum(light, KNEE) + np.minimum(1, soft) * np.float32(1 - KNEE)
    return made


@part()
def toned(stored: npt.NDArray[np.uint16], transfer: int, primaries: int) -> npt.NDArray[np.uint8]:
    """Pixels of 16 bits (height, width, 3: red first) as BGRA of 8 bits in BT.709."""
    light: Any = np.take(light_of(transfer), stored)
    if transfer == HLG:
        # From the scene to the screen: brighter things gain (system gamma 1.2 at 1,000 cd/m²).
        scene: Any = cv2.transform(light, np.array([[0.2627, 0.6780, 0.0593]], np.float32))
        light *= (np.maximum(scene, 1e-6) ** 0.2 * np.float32(PEAK / WHITE)).reshape(*light.shape[:2], 1)
    if primaries in GAMUTS:
        light = np.maximum(cv2.transform(light, GAMUTS[primaries]), 0)
    if transfer in (PQ, HLG):
        bright: Any = cv2.transform(light, BRIGHT[None])
        bright = np.maximum(bright.reshape(light.shape[:2]), 1e-6)
        light *= (held(bright) / bright)[:, :, None]
    roots = (np.sqrt(np.clip(light, 0, 1)) * np.float32(LEVELS - 1) + np.float32(0.5)).astype(np.uint16)
    made: npt.NDArray[np.uint8] = np.empty((*stored.shape[:2], 4), np.uint8)
    made[:, :, 2::-1] = np.take(_stored(), roots)
    made[:, :, 3] = 255
    return made
