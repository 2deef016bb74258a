"""High dynamic range and wide gamut, as they are shown."""

import struct
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from PIL import Image

from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.picture import frame_recipe
from glowreel.engine.footage import Footage
from glowreel.engine.frames import FrameMaker
from glowreel.engine.hdr import FROM_2020, FROM_P3, HLG, PQ, held, light_of, toned
from glowreel.engine.photo import load_photo, plain_colours
from glowreel.engine.sources import Sources
from tests.conftest import Folder
from tests.core.build import measure
from tests.engine.build import promo_of


def level(transfer: int, light: float) -> int:
    """The stored level of 16 bits that comes nearest to an amount of light."""
    return int(np.argmin(np.abs(light_of(transfer) - light)))


def shown(transfer: int, primaries: int, *levels: int) -> np.ndarray:
    """A pixel as it is shown: red, green, blue."""
    return toned(np.full((2, 2, 3), levels, np.uint16), transfer, primaries)[0, 0, 2::-1].astype(int)


def test_the_perceptual_quantiser_says_how_bright_things_are() -> None:
    # Values of the curve from ITU-R BT.2100-2: 100 cd/m² are stored as 0.5081, 1,000 as 0.7518.
    for stored, nits in ((0.5081, 100), (0.7518, 1000)):
        assert light_of(PQ)[round(stored * 65_535)] * 203 == pytest.approx(nits, rel=0.01)
    assert light_of(HLG)[round(0.5 * 65_535)] == pytest.approx(1 / 12, rel=1e-3)


def test_middle_grey_stays_and_what_is_brighter_than_white_is_held_back() -> None:
    grey = level(PQ, 0.18)
    assert shown(PQ, 1, grey, grey, grey) == pytest.approx(255 * 0.18 ** (1 / 2.4), abs=2)
    steps = [shown(PQ, 1, *[level(PQ, light)] * 3)[0] for light in (0.6, 1.0, 2.0, 4.0, 4.9)]
    assert steps == sorted(steps)
    assert 220 < steps[1] < 245, "a diffuse white leaves room above it"
    assert steps[-1] >= 253
    white = round(0.75 * 65_535)
    assert shown(HLG, 1, white, white, white) == pytest.approx(232, abs=8)
    assert float(held(np.array([0.3], np.float32))[0]) == pytest.approx(0.3)


def test_colours_outside_go_to_the_edge_and_white_stays_white() -> None:
    full = 65_535
    assert shown(1, 9, 0, full, 0).tolist() == [0, 255, 0]
    assert (shown(1, 12, full, full, full) >= 254).all()
    for matrix in (FROM_2020, FROM_P3):
        assert matrix.sum(axis=1) == pytest.approx([1, 1, 1], abs=2e-3)
    dull, vivid = shown(1, 1, 40_000, 20_000, 20_000), shown(1, 12, 40_000, 20_000, 20_000)
    assert vivid[0] > dull[0]
    assert vivid[1] < dull[1]


def bright_footage(path: Path, transfer: int) -> None:
    """A second of even light: a diffuse white in the perceptual quantiser, in the primaries of BT.2020."""
    with av.open(str(path), "w") as out:
        options = {"x265-params": "log-level=none:colorprim=bt2020:transfer=smpte2084:colormatrix=bt2020nc", "crf": "8"}
        stream = out.add_stream("libx265", rate=25, options=options)
        stream.width, stream.height, stream.pix_fmt = 320, 180, "yuv420p10le"
        context = stream.codec_context
        context.color_trc, context.color_primaries, context.colorspace = transfer, 9, 9
        stored = np.full((180, 320, 3), level(PQ, 1.0), np.uint16)
        whole = av.VideoFrame.from_ndarray(stored, format="rgb48le")
        for n in range(12):
            frame = whole.reformat(format="yuv420p10le", dst_colorspace=9, dst_color_range=1)
            frame.pts, frame.time_base = n, Fraction(1, 25)
            frame.color_trc, frame.color_primaries, frame.colorspace = transfer, 9, 9
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))


def test_footage_of_high_range_is_shown_and_exported_alike(tmp_path: Path, library: Folder) -> None:
    bright_footage(tmp_path / "bright.mp4", PQ)
    with Footage(tmp_path / "bright.mp4") as footage:
        pixels = footage.bgra(footage.frame(0), 320, 180)
    assert pixels[90, 160, :3].astype(int) == pytest.approx([232] * 3, abs=4)
    media = library.add(tmp_path / "bright.mp4")
    promo = promo_of(media)
    frame = FrameMaker(Sources(library), 320, 180).make(frame_recipe(promo, SHIPPED["wide"], 0, measure))
    back = frame.reformat(format="bgr24", src_colorspace=1, src_color_range=1).to_ndarray(format="bgr24")
    assert back[90, 160].astype(int) == pytest.approx([232] * 3, abs=5)
    assert int(frame.colorspace) == 1


def display_profile() -> bytes:
    """An ICC profile (version 2) of a screen with the primaries of P3 and a gamma of 2.2."""

    def fixed(*numbers: float) -> bytes:
        return b"XYZ " + bytes(4) + b"".join(struct.pack(">i", round(number * 65_536)) for number in numbers)

    curve = b"curv" + bytes(4) + struct.pack(">IHxx", 1, round(2.2 * 256))
    tags = {
        b"desc": b"desc" + bytes(4) + struct.pack(">I", 7) + b"Screen\0" + bytes(79),
        b"wtpt": fixed(0.9642, 1.0, 0.8249),
        b"rXYZ": fixed(0.51512, 0.24120, -0.00105), b"gXYZ": fixed(0.29198, 0.69225, 0.04189),
        b"bXYZ": fixed(0.15710, 0.06657, 0.78407), b"rTRC": curve, b"gTRC": curve, b"bTRC": curve,
    }  # fmt: skip
    begin, table, data = 128 + 4 + 12 * len(tags), struct.pack(">I", len(tags)), b""
    for name, content in tags.items():
        content += bytes(-len(content) % 4)
        table += name + struct.pack(">II", begin + len(data), len(content))
        data += content
    head = struct.pack(">I4sI4s4s4s", begin + len(data), bytes(4), 0x02100000, b"mntr", b"RGB ", b"XYZ ")
    head += bytes(12) + b"acsp" + bytes(28) + struct.pack(">iii", 63190, 65536, 54061)
    return head + bytes(128 - len(head)) + table + data


def test_photos_of_a_wide_gamut_are_shown_in_their_own_colours(tmp_path: Path) -> None:
    image = Image.new("RGB", (8, 8), (200, 60, 60))
    image.save(tmp_path / "plain.png")
    image.save(tmp_path / "wide.png", icc_profile=display_profile())
    assert load_photo(tmp_path / "plain.png")[4, 4, 2::-1].tolist() == [200, 60, 60]
    red, green, _ = load_photo(tmp_path / "wide.png")[4, 4, 2::-1].astype(int)
    # In light: FROM_P3 times the colour, by the exponent of its own profile.
    light = FROM_P3 @ (np.array([200, 60, 60]) / 255) ** 2.2
    assert red == pytest.approx(255 * light[0] ** (1 / 2.2), abs=3)
    assert green < 45
    image.info["icc_profile"] = b"nonsense"
    assert plain_colours(image) is image, "what cannot be read changes nothing"
