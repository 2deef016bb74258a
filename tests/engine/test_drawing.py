"""Pixels by analysis, and the preview against the export."""

from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import pytest

from glowreel.core.commands import (
    AddPicture,
    AddWords,
    Context,
    PlaceItem,
    SetTransition,
    Trim,
    apply,
)
from glowreel.core.formats import SHIPPED
from glowreel.core.pieces import Piece
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import Rate, ticks
from glowreel.core.timeline import timeline
from glowreel.demo.scenario import MEDIA, probed
from glowreel.engine.draw import Canvas
from glowreel.engine.export import piece_key, plan, render_file, render_piece
from glowreel.engine.frames import FrameMaker
from glowreel.engine.ingest import make_proxy
from glowreel.engine.joining import join
from glowreel.engine.overlay import planes_of
from glowreel.engine.probe import Facts
from glowreel.engine.sources import Sources
from glowreel.engine.still import draw_still, encode
from glowreel.engine.typesetting import measure
from tests.conftest import Files, Folder
from tests.core.build import numbered, sets
from tests.engine.build import promo_of

WIDE, TALL = SHIPPED["wide"], SHIPPED["tall"]


def flat(files: Files, library: Folder, name: str, colour: tuple[int, int, int], **options):
    return library.add(files.footage(name, lambda n: colour, **options))


def mean(pixels: np.ndarray) -> np.ndarray:
    """Mean RGB."""
    return pixels.reshape(-1, 4).mean(axis=0)[2::-1]


def test_the_middle_of_a_crossfade_is_the_mean(files: Files, library: Folder) -> None:
    red, blue = flat(files, library, "r.mp4", (200, 20, 20)), flat(files, library, "b.mp4", (20, 20, 200))
    promo = promo_of(red, blue)
    promo = promo_of(red, blue, commands=(SetTransition(after=promo.clips[0].id, length=ticks(0.4)),))
    sources = Sources(library)
    before = mean(draw_still(promo, WIDE, promo.rate.frame_start(29), 180, sources))
    behind = mean(draw_still(promo, WIDE, promo.rate.frame_start(30), 180, sources))
    assert np.allclose((before + behind) / 2, (110, 20, 110), atol=3)
    assert np.allclose(mean(draw_still(promo, WIDE, ticks(0.5), 180, sources)), (200, 20, 20), atol=3)


def test_half_opacity_over_a_flat_colour_is_the_mean(files: Files, library: Folder, tmp_path: Path) -> None:
    ground = flat(files, library, "g.mp4", (40, 120, 40))
    cv2.imwrite(str(tmp_path / "w.png"), np.full((90, 160, 3), 240, np.uint8))
    white = library.add(tmp_path / "w.png")
    promo = promo_of(ground)
    context = Context(numbered("x"), {white.id: white})
    edit = apply(promo, AddPicture(media=white.id), context)
    promo = apply(edit.promo, sets(edit.select[0], opacity=0.5), context).promo
    place = PlaceItem(item=edit.select[0], format="wide", x=0, y=0, width=16 / 9, height=1, size=16 / 9)
    promo = apply(promo, place, context).promo
    assert np.allclose(mean(draw_still(promo, WIDE, 0, 180, Sources(library))), (140, 180, 140), atol=3)


def test_fill_crops_and_letterbox_shows_bars(files: Files, library: Folder) -> None:
    clip = flat(files, library, "c.mp4", (200, 200, 200))
    promo = promo_of(clip)
    sources = Sources(library)
    assert np.allclose(mean(draw_still(promo, TALL, 0, 180, sources)), 200, atol=3)
    boxed = promo_of(clip, commands=(sets(promo.clips[0].id, fit="letterbox"),))
    pixels = draw_still(boxed, TALL, 0, 180, sources)
    assert pixels[:100].max(initial=0, where=np.array([True, True, True, False])) == 0
    assert np.allclose(mean(pixels[140:180]), 200, atol=3)


def test_words_are_where_the_layout_says_in_every_format() -> None:
    promo = promo_of(commands=(AddWords(text="Balloons", length=ticks(2)),))
    item = promo.layers[0].items[0]
    promo = promo_of(commands=(AddWords(text="Balloons"), sets(item.id, arrives="none")))
    for format in promo.formats:
        recipe = frame_recipe(promo, format, 0, measure)
        pixels = Canvas(Sources(Folder(Path())), *format.size(360)).draw(recipe)
        ys, xs = np.nonzero(pixels[:, :, 0] > 128)
        box, scale = recipe.ops[-1].box, 360 / 1080
        assert xs.min() >= box.x * scale - 1
        assert xs.max() <= (box.x + box.width) * scale + 1
        assert ys.min() >= box.y * scale - 1
        assert ys.max() <= (box.y + box.height) * scale + 1
        assert (xs.max() - xs.min()) > 0.9 * box.width * scale


def test_words_stamp_the_same_as_when_first_drawn() -> None:
    promo = promo_of(commands=(AddWords(text="Twice"),))
    canvas = Canvas(Sources(Folder(Path())), 640, 360)
    recipe = frame_recipe(promo, WIDE, ticks(1), measure)
    first = canvas.draw(recipe).copy()
    assert np.array_equal(first, canvas.draw(recipe))
    assert first[:, :, :3].max() > 200


def shown(frame: av.VideoFrame) -> np.ndarray:
    """A frame as a player shows it: BGR by the formula of BT.709, worked out exactly instead of by the engine."""
    luma, cb, cr = (p.astype(np.float32) for p in planes_of(frame))
    size = (frame.width, frame.height)
    cb, cr = (cv2.resize(p, size, interpolation=cv2.INTER_LINEAR) - 128 for p in (cb, cr))
    luma = (luma - 16) * 255 / 219
    red, blue = luma + cr * 1.5748 * 255 / 224, luma + cb * 1.8556 * 255 / 224
    green = (luma - 0.2126 * red - 0.0722 * blue) / 0.7152
    return np.clip(np.dstack([blue, green, red]), 0, 255).round().astype(np.uint8)


def frames_of(path: Path) -> list[np.ndarray]:
    with av.open(str(path)) as container:
        return [shown(frame) for frame in container.decode(video=0)]


def test_preview_from_the_stand_in_matches_the_export(library: Folder, tmp_path: Path) -> None:
    """The same moment, drawn small from the stand-in and taken from a real export, differs by less than 2 of 255."""
    media = library.add(MEDIA / "over-the-fields.mp4")
    title = (AddWords(text="Breakfast\nat 600 metres", at=0, length=ticks(2)),)
    promo = promo_of(media, commands=title)
    item = promo.layers[0].items[0].id
    extra = (sets(item, box="#C8430B", shadow=0.4), Trim(item=promo.clips[0].id, length=ticks(1)))
    promo = promo_of(media, commands=title + extra)
    for format in (WIDE, TALL):
        sources = Sources(library)
        render_file(promo, format, 1080, sources, tmp_path / "out.mp4", tmp_path)
        exported = frames_of(tmp_path / "out.mp4")
        assert len(exported) == timeline(promo).frame_count == 25, "the promo runs as its footage does"
        make_proxy(MEDIA / "over-the-fields.mp4", _facts(media), tmp_path / "p.mp4", tmp_path / "s.jpg", lambda s: None)
        stand_in = Folder(tmp_path)
        stand_in._paths = {media.hash: tmp_path / "p.mp4"}
        for n in (3, 20):
            width, height = format.size(360)
            seen = Canvas(Sources(stand_in), width, height).draw(
                frame_recipe(promo, format, promo.rate.frame_start(n), measure)
            )
            small = cv2.resize(exported[n], (width, height), interpolation=cv2.INTER_AREA)
            difference = np.abs(seen[:, :, :3].astype(int) - small[:, :, :3].astype(int)).mean()
            assert difference < 2, f"{format.id} frame {n}: {difference:.2f}"


def _facts(media):
    return Facts("footage", media.length, media.width, media.height, media.rate, media.sounding)


def test_an_export_has_every_frame_once_and_in_order(files: Files, library: Folder, tmp_path: Path) -> None:
    def counting(n: int) -> tuple[int, int, int]:
        return (20 + n % 20 * 10,) * 3

    rate = Rate(num=30000, den=1001)
    clip = library.add(files.footage("count.mp4", counting, frames=600, rate=rate.fraction, tone=220))
    promo = promo_of(clip, rate=rate)
    assert [piece.count for piece in plan(promo)] == [200, 200, 200]
    render_file(promo, WIDE, 180, Sources(library), tmp_path / "out.mp4", tmp_path)
    with av.open(str(tmp_path / "out.mp4")) as container:
        video, audio = container.streams.video[0], container.streams.audio[0]
        seen = [(frame.pts, float(frame.to_ndarray(format="gray8").mean())) for frame in container.decode(video)]
        assert [float(pts * video.time_base * rate.fraction) for pts, _ in seen] == list(range(600))
        assert video.average_rate == Fraction(30000, 1001)
        assert abs(float(audio.duration * audio.time_base) - 600 / float(rate.fraction)) < 0.03
    levels = [value for _, value in seen]
    assert all(b > a + 5 or n % 20 == 19 for n, (a, b) in enumerate(zip(levels, levels[1:], strict=False)))
    head = (tmp_path / "out.mp4").read_bytes()[:4096]
    assert head.index(b"moov") < 200, "the index comes first, so that it plays while it loads"


def test_pieces_name_what_they_show(library: Folder) -> None:
    media = probed(MEDIA / "dawn-ridge.mp4")
    first = promo_of(media, media, media, commands=(AddWords(text="One", at=ticks(1)),))
    other = promo_of(media, media, media, commands=(AddWords(text="Two", at=ticks(1)),))
    keys = [[piece_key(p, WIDE, 1080, piece) for piece in plan(p)] for p in (first, other)]
    assert keys[0][0] != keys[1][0]
    assert keys[0][1:] == keys[1][1:], "a changed title leaves the other pieces as they are"
    assert timeline(first).frame_count == 720


def test_a_piece_by_itself_joins_without_a_seam(files: Files, library: Folder, tmp_path: Path) -> None:
    clip = library.add(files.footage("seam.mp4", lambda n: (30 + 3 * n,) * 3, frames=60))
    promo = promo_of(clip)
    sources = Sources(library)
    parts = []
    for number, piece in enumerate((Piece(0, 25), Piece(25, 35))):
        path = tmp_path / f"{number}.mp4"
        render_piece(promo, WIDE, 180, piece, sources, path)
        parts.append((path, piece.count))
    join(parts, None, Fraction(30), tmp_path / "joined.mp4")
    means = [float(frame[:, :, :3].mean()) for frame in frames_of(tmp_path / "joined.mp4")]
    assert len(means) == 60
    assert np.allclose(np.diff(means), 3, atol=1.5)


def test_laying_over_is_the_same_as_drawing(files: Files, library: Folder) -> None:
    """The short way past RGB gives the same picture as the long one."""
    ground = flat(files, library, "ground.mp4", (90, 140, 200), size=(1280, 720))
    logo = library.add(MEDIA / "hollowmere-logo.svg")
    context = Context(numbered("y"), {logo.id: logo})
    promo = promo_of(ground, commands=(AddWords(text="Over"),))
    style = sets(promo.layers[0].items[0].id, box="#C8430B", shadow=0.5)
    promo = apply(apply(promo, style, context).promo, AddPicture(media=logo.id, whole=True), context).promo
    for at in (ticks(0.2), ticks(0.9)):
        recipe = frame_recipe(promo, WIDE, at, measure)
        maker = FrameMaker(Sources(library), 1280, 720)
        short = maker.make(recipe).to_ndarray(format="yuv420p").astype(int)
        long = maker._drawn(recipe).to_ndarray(format="yuv420p").astype(int)
        # The long way loses up to a level of strong colours in RGB; the short one does not.
        assert np.abs(short - long).mean() < 1
        assert np.abs(short[:720] - long[:720]).max() < 8
    again = maker.make(frame_recipe(promo, WIDE, ticks(0.9), measure)).to_ndarray(format="yuv420p")
    assert np.array_equal(again, short), "the decoder's own frame was written to"


@pytest.mark.parametrize("short", [120, 360, 480])
def test_rounded_sizes_are_covered_to_the_edge(files: Files, library: Folder, short: int) -> None:
    promo = promo_of(flat(files, library, "edge.mp4", (200, 200, 200)))
    for format in promo.formats:
        pixels = draw_still(promo, format, 0, short, Sources(library))
        for edge in (pixels[0], pixels[-1], pixels[:, 0], pixels[:, -1]):
            assert np.allclose(edge[:, :3], 200, atol=4), format.id


def test_png_frames_keep_transparency() -> None:
    pixels = np.zeros((4, 4, 4), np.uint8)
    pixels[0, 0] = (64, 0, 0, 128)
    back = cv2.imdecode(np.frombuffer(encode(pixels, ".png"), np.uint8), cv2.IMREAD_UNCHANGED)
    assert tuple(back[0, 0]) == (128, 0, 0, 128)
    assert back[1, 1, 3] == 0
