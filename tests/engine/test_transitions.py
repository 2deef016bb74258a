"""Transitions, layers that come and go, and footage that runs backwards, seen in the pixels."""

import cv2
import numpy as np
import pytest

from glowreel.core.commands import AddPicture, Context, SetEdge, SetSpeed, SetTransition, Trim, apply
from glowreel.core.document import Promo
from glowreel.core.formats import SHIPPED
from glowreel.core.time import ticks
from glowreel.core.vocabulary import MOTIONS, TRANSITIONS
from glowreel.engine.sources import Sources
from glowreel.engine.still import draw_still
from tests.conftest import Files, Folder
from tests.core.build import numbered, sets
from tests.engine.build import promo_of

WIDE = SHIPPED["wide"]
RED, BLUE = (200, 20, 20), (20, 20, 200)
SIDES = {
    "left": np.s_[60:120, 4:40],
    "right": np.s_[60:120, -40:-4],
    "up": np.s_[4:30, 120:200],
    "down": np.s_[-30:-4, 120:200],
}
OPPOSITE = {"left": "right", "right": "left", "up": "down", "down": "up"}
MIDDLE, CORNER = np.s_[85:95, 150:170], np.s_[:4, :4]


def colour(pixels: np.ndarray, part=np.s_[:, :]) -> np.ndarray:
    """Mean RGB of a part."""
    return pixels[part].reshape(-1, 4).mean(axis=0)[2::-1]


@pytest.fixture
def pair(files: Files, library: Folder) -> tuple[Promo, Sources]:
    """A second of red, then a second of blue."""
    media = [library.add(files.footage(f"{n}.mp4", lambda _, c=c: c)) for n, c in (("red", RED), ("blue", BLUE))]
    return promo_of(*media), Sources(library)


def at_half(pair: tuple[Promo, Sources], kind: str) -> np.ndarray:
    """The frame after the cut: just past the middle of a transition."""
    promo, sources = pair
    edit = apply(promo, SetTransition(after=promo.clips[0].id, kind=kind, length=ticks(0.8)), Context(numbered("y")))
    return draw_still(edit.promo, WIDE, promo.rate.frame_start(30), 180, sources).copy()


@pytest.mark.parametrize("way", list(OPPOSITE))
@pytest.mark.parametrize("name", ["push", "wipe", "slide"])
def test_the_next_clip_comes_from_the_other_side(pair, name: str, way: str) -> None:
    pixels = at_half(pair, f"{name}-{way}")
    assert np.allclose(colour(pixels, SIDES[way]), RED, atol=4), "the one before leaves this way"
    assert np.allclose(colour(pixels, SIDES[OPPOSITE[way]]), BLUE, atol=4)


def test_an_iris_opens_from_the_middle_and_a_dip_goes_through_its_colour(pair) -> None:
    pixels = at_half(pair, "iris")
    assert np.allclose(colour(pixels, MIDDLE), BLUE, atol=4)
    assert np.allclose(colour(pixels, CORNER), RED, atol=4)
    assert colour(at_half(pair, "dip-black")).max() < 20
    assert colour(at_half(pair, "dip-white")).min() > 235


@pytest.mark.parametrize("kind", ["crossfade", "blur", "zoom", "spin"])
def test_what_mixes_has_something_of_both_in_the_middle(pair, kind: str) -> None:
    red, _, blue = colour(at_half(pair, kind), MIDDLE)
    assert 70 < red < 150
    assert 70 < blue < 150


@pytest.mark.parametrize("kind", list(TRANSITIONS))
def test_every_kind_begins_with_one_picture_and_ends_with_the_other(pair, kind: str) -> None:
    promo, sources = pair
    edit = apply(promo, SetTransition(after=promo.clips[0].id, kind=kind, length=ticks(0.8)), Context(numbered("y")))

    def frame(n: int) -> np.ndarray:
        return colour(draw_still(edit.promo, WIDE, promo.rate.frame_start(n), 180, sources), MIDDLE)

    assert np.allclose(frame(17), RED, atol=4)
    assert np.allclose(frame(42), BLUE, atol=4)


def test_the_promo_opens_from_its_background_and_closes_to_it(pair) -> None:
    promo, sources = pair
    for edge, near, far in (("start", 0, 29), ("end", 59, 31)):
        edit = apply(promo, SetEdge(edge=edge, kind="crossfade", length=ticks(0.5)), Context(numbered("y")))
        frame = [draw_still(edit.promo, WIDE, promo.rate.frame_start(n), 180, sources).copy() for n in (near, far)]
        assert colour(frame[0]).max() < 20
        assert colour(frame[1]).max() > 190
    edit = apply(promo, SetEdge(edge="end", kind="dip-white", length=ticks(0.5)), Context(numbered("y")))
    assert colour(draw_still(edit.promo, WIDE, promo.rate.frame_start(59), 180, sources)).min() > 230


@pytest.mark.parametrize("motion", [m for m in list(MOTIONS) if m != "none"])
def test_a_layer_comes_from_nothing_and_goes_to_nothing(files: Files, library: Folder, motion: str) -> None:
    white = library.add(files.footage("white.mp4", lambda n: (240, 240, 240), frames=60))
    context = Context(numbered(), {white.id: white})
    edit = apply(promo_of(), AddPicture(media=white.id), context)
    item, sources = edit.select[0], Sources(library)
    command = sets(item, arrives=motion, leaves=motion, arrive_length=ticks(0.5), leave_length=ticks(0.5), opacity=1)
    promo = apply(edit.promo, command, context).promo
    whole = draw_still(promo, WIDE, ticks(1), 180, sources)[:, :, 0].astype(int)
    rest = whole.sum()

    def at(frame: int) -> np.ndarray:
        return draw_still(promo, WIDE, promo.rate.frame_start(frame), 180, sources)[:, :, 0].astype(int)

    def share(frame: int) -> float:
        return at(frame).sum() / rest

    assert share(0) < 0.02
    assert share(45) == pytest.approx(1)
    if motion in ("shrink", "pop", "drop"):
        # These are larger than themselves on the way, swing beyond, or fall as they are.
        assert all(np.abs(at(frame) - whole).sum() / rest > 0.03 for frame in (2, 6, 58, 59))
        return
    if not motion.startswith("slide"):  # What slides across the whole frame is soon seen whole.
        assert 0.03 < share(2) < 0.99
        assert 0.005 < share(58) < 0.75
    assert share(59) < 0.85
    arriving = [share(n) for n in (0, 4, 8, 15)]
    assert all(later > earlier - 0.05 for earlier, later in zip(arriving, arriving[1:], strict=False))


def test_going_backwards_reads_the_same_pictures_few_times(files: Files, library: Folder) -> None:
    """From a file with one key frame, and each frame asked for twice, as an export may."""
    long = library.add(files.footage("long.mp4", lambda n: (n, n, n), frames=240))
    reader = Sources(library).footage(long.hash)
    decoded = 0
    step = reader._step

    def counted() -> None:
        nonlocal decoded
        decoded += 1
        step()

    reader._step = counted
    for n in range(239, -1, -1):
        for _ in range(2):
            reader.frame(long.rate.frame_start(n))
    assert decoded < 4 * 240


def test_frames_going_backwards_are_the_same_as_going_forwards(files: Files, library: Folder) -> None:
    grey = library.add(files.footage("grey.mp4", lambda n: (4 * n + 10,) * 3, frames=60))
    promo, sources = promo_of(grey), Sources(library)

    def frames(of: Promo) -> list[float]:
        return [float(colour(draw_still(of, WIDE, of.rate.frame_start(n), 90, sources))[0]) for n in range(60)]

    forwards = frames(promo)
    back = apply(promo, SetSpeed(item=promo.clips[0].id, backwards=True), Context(numbered("y"))).promo
    assert frames(back) == forwards[::-1]
    assert all(b > a for a, b in zip(forwards, forwards[1:], strict=False))
    # And forwards again, from the middle: what is remembered from going back must not get in the way.
    at = [30, 29, 28, 31, 40, 39, 41]
    assert [float(colour(draw_still(promo, WIDE, promo.rate.frame_start(n), 90, sources))[0]) for n in at] == [
        forwards[n] for n in at
    ]


@pytest.fixture
def layers(files: Files, library: Folder) -> tuple[Promo, Sources]:
    """Two seconds of white, before it a red picture that becomes a blue one, both in the middle, half as wide."""
    clip = library.add(files.footage("white.mp4", lambda _: (255, 255, 255), frames=60))
    shades = []
    for name, shade in (("red", RED), ("blue", BLUE)):
        cv2.imwrite(str(files.folder / f"{name}.png"), np.full((90, 160, 3), shade[::-1], np.uint8))
        shades.append(library.add(files.folder / f"{name}.png"))
    promo = promo_of(clip)
    context = Context(numbered("z"), {m.id: m for m in shades})
    values = {"pin": (0.5, 0.5), "place": (0.0, 0.0), "size": 0.8, "arrives": "none", "leaves": "none"}
    for n, shade in enumerate(shades):
        promo = apply(promo, AddPicture(media=shade.id, at=ticks(n)), context).promo
        promo = apply(promo, Trim(item=promo.layers[0].items[-1].id, length=ticks(1)), context).promo
        promo = apply(promo, sets(promo.layers[0].items[-1].id, **values), context).promo
    return promo, Sources(library)


@pytest.mark.parametrize("kind", sorted(TRANSITIONS))
def test_every_transition_takes_one_layer_to_the_next_and_leaves_what_lies_behind(layers, kind: str) -> None:
    promo, sources = layers
    first = promo.layers[0].items[0].id
    edit = apply(promo, SetTransition(after=first, kind=kind, length=ticks(0.8)), Context(numbered("y")))
    frames = {n: draw_still(edit.promo, WIDE, promo.rate.frame_start(n), 180, sources).copy() for n in (17, 30, 42)}
    assert np.allclose(colour(frames[17], MIDDLE), RED, atol=12)
    assert np.allclose(colour(frames[42], MIDDLE), BLUE, atol=12)
    half = colour(frames[30])
    whole = colour(draw_still(promo, WIDE, promo.rate.frame_start(30), 180, sources))
    assert np.abs(half - whole).max() > 1, "half way it is something else"
    if kind in ("crossfade", "iris") or "-" in kind:
        for frame in frames.values():
            assert np.allclose(colour(frame, CORNER), 255, atol=2), "outside both it stays as it was"
    if kind == "crossfade":
        assert np.allclose(colour(frames[30], MIDDLE), (np.array(RED) + BLUE) / 2, atol=6), "as dense as each alone"
