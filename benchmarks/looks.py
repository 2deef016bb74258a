"""What can be done to a picture: exports beside one ffmpeg command, playing and scrubbing, transitions, cutting out."""

from __future__ import annotations

import multiprocessing
import random
import statistics
import subprocess
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from pathlib import Path

from benchmarks.material import Maker, Shop, camera_footage
from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.formats import SHIPPED
from glowreel.core.media import Media
from glowreel.core.pieces import Piece
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import ticks
from glowreel.demo.scenario import MEDIA
from glowreel.engine.draw import Canvas
from glowreel.engine.export import plan, render_piece
from glowreel.engine.filmsound import render_sound
from glowreel.engine.joining import join
from glowreel.engine.mattes import make_people
from glowreel.engine.sources import Sources
from glowreel.engine.still import encode
from glowreel.engine.typesetting import FOLDER, measure

WIDE = SHIPPED["wide"]
X264 = ["-c:v", "libx264", "-preset", "veryfast", "-crf", "20", "-g", "60", "-pix_fmt", "yuv420p"]
SPAN = 20
Show = Callable[[str, str, str, bool], None]


def _piece(promo: Promo, shop: Shop, piece: Piece, out: Path) -> None:
    sources = Sources(shop)
    render_piece(promo, WIDE, 1080, piece, sources, out, threads=1)
    sources.close()


@cache
def _workers() -> ProcessPoolExecutor:
    """As many processes as the program renders pieces with, already running."""
    workers = ProcessPoolExecutor(2, multiprocessing.get_context("spawn"))
    list(workers.map(time.sleep, (1, 1)))
    return workers


def _export(promo: Promo, shop: Shop, out: Path) -> None:
    """As the program does it: pieces in two processes at once, then the sound, then all joined."""
    with tempfile.TemporaryDirectory(dir=shop.folder) as runtime:
        sound, pieces = Path(runtime, "sound.mp4"), plan(promo)
        parts = [(Path(runtime, f"{n}.mp4"), piece.count) for n, piece in enumerate(pieces)]
        made = [_workers().submit(_piece, promo, shop, piece, parts[n][0]) for n, piece in enumerate(pieces)]
        render_sound(promo, Sources(shop), sound)
        for one in made:
            one.result()
        join(parts, sound, promo.rate.fraction, out)


def _timed(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def _pairs(first: Callable[[], object], second: Callable[[], object], runs: int = 3) -> tuple[float, float, float]:
    found = [(_timed(first), _timed(second)) for _ in range(runs)]
    ratio = statistics.median(a / b for a, b in found)
    return (*(statistics.median(side) for side in zip(*found, strict=True)), ratio)


def graded(folder: Path, show: Show) -> None:
    """Look, vignette and grain on footage that fills the frame, beside the plain export."""
    shop = Shop(folder)
    camera = shop.add(camera_footage(folder))
    shop.samples(camera.hash)
    maker = Maker(shop)
    maker.clip(camera, 1, SPAN)
    plain = maker.promo
    maker.do(c.Set(items=(plain.clips[0].id,), values={"filter": "harvest", "vignette": 0.5, "grain": 0.3}))
    with_it, without = folder / "graded.mp4", folder / "plain.mp4"
    ours, theirs, ratio = _pairs(lambda: _export(maker.promo, shop, with_it), lambda: _export(plain, shop, without))
    show("export, look + vignette + grain, 20 s 1080p", f"{ours:.1f} s, plain {theirs:.1f} s: {ratio:.2f} x",
         "<= 1.25 x plain", ratio <= 1.25)  # fmt: skip


def heavy_promo(shop: Shop, camera: Media) -> Promo:
    """Footage that does not fill the frame before its own blurred copy, with a look; six layers, two of them masked,
    words that move, one blended with what lies behind it."""
    logo, picnic = shop.add(MEDIA / "hollowmere-logo.svg"), shop.add(MEDIA / "picnic.jpg")
    maker = Maker(shop)
    clip = maker.clip(camera, 1, SPAN)
    maker.do(c.Set(items=(clip,), values={"fit": "letterbox", "zoom": 0.7, "ground": "blurred", "filter": "harvest"}))
    for n in range(2):
        words = maker.do(c.AddWords(text=("Breakfast at 600", "Dawn flights")[n], at=0, length=ticks(SPAN)))
        way = {
            "points": [{"at": 0, "value": [0.05, -0.1 - 0.5 * n]}, {"at": ticks(SPAN), "value": [0.5, -0.2 - 0.5 * n]}]
        }
        maker.do(c.Set(items=(words,), values={"place": way, "shadow": 0.3, "stays": "sway" if n else "none"}))
    maker.do(c.AddPicture(media=logo.id, whole=True))
    for n, mask in enumerate(("heart", "ellipse")):
        picture = maker.do(c.AddPicture(media=(picnic, camera)[n].id, whole=True))
        maker.do(c.Set(items=(picture,), values={
            "mask": mask, "size": 0.5, "pin": (0.5 * n, 0.5), "place": (0.05, 0.0), "border": 0.006, "drop": 0.4,
        }))  # fmt: skip
    wash = maker.do(c.AddPicture(media=picnic.id, whole=True))
    maker.do(
        c.Set(
            items=(wash,), values={"blend": "screen", "opacity": 0.3, "size": 1.8, "pin": (0.5, 0.5), "place": (0, 0)}
        )
    )
    return maker.promo


def heavy(folder: Path, show: Show) -> None:
    """The heavy promo: exported beside the nearest filter graph, played and scrubbed small."""
    shop = Shop(folder)
    camera = shop.add(camera_footage(folder), stand_in=True)
    shop.samples(camera.hash)
    promo = heavy_promo(shop, camera)
    _pngs(folder)
    graph = (
        "[0:v]trim=1:21,setpts=PTS-STARTPTS,split=3[a][b][p];[a]scale=480:270,gblur=sigma=12,scale=1920:1080[ground];"
    )
    graph += (
        "[b]scale=1344:756,curves=r='0/0 0.5/0.56 1/1':b='0/0 0.5/0.44 1/0.95'[small];"
        "[ground][small]overlay=288:162[c];"
        f"[c]drawtext=fontfile={FOLDER}/BricolageGrotesque_800ExtraBold.ttf:text='Breakfast at 600':fontsize=140:"
        "fontcolor=white:shadowx=4:shadowy=4:x='54+24*t':y='900-5*t'[d];"
        f"[d]drawtext=fontfile={FOLDER}/BricolageGrotesque_800ExtraBold.ttf:text='Dawn flights':fontsize=140:"
        "fontcolor=white:shadowx=4:shadowy=4:x='54+24*t':y='360-5*t'[e];"
        "[e][1:v]overlay=1421:65[f];"
        "[2:v]scale=540:304[h0];[3:v]scale=540:304[hm];[h0][hm]alphamerge[h];[f][h]overlay=54:388[g];"
        "[p]scale=540:304[q0];[4:v]scale=540:304[qm];[q0][qm]alphamerge[q];[g][q]overlay=690:388,format=gbrp[i];"
        "[5:v]scale=1920:1080,format=gbrp[w];[i][w]blend=all_mode=screen:all_opacity=0.3,format=yuv420p[v]"
    )
    stills = [part for name in ("logo", "picnic", "heart", "ellipse", "picnic") for part in
              ("-loop", "1", "-framerate", "30", "-t", str(SPAN), "-i", str(folder / f"{name}.png"))]  # fmt: skip
    command = ["ffmpeg", "-v", "error", "-y", "-i", str(shop.paths[camera.hash]), *stills, "-filter_complex", graph,
               "-map", "[v]", "-map", "0:a", "-t", str(SPAN), *X264, "-c:a", "aac",
               str(folder / "theirs.mp4")]  # fmt: skip
    ours, theirs, ratio = _pairs(
        lambda: _export(promo, shop, folder / "heavy.mp4"), lambda: subprocess.run(command, check=True), 2
    )
    show(
        "export, heavy promo, 20 s 1080p", f"{ours:.1f} s, ffmpeg {theirs:.1f} s: {ratio:.2f} x", "< 1.00 x", ratio < 1
    )
    shop.preview = True
    canvas = Canvas(Sources(shop, threads=1), 640, 360)

    def frame(n: int) -> bytes:
        return encode(canvas.draw(frame_recipe(promo, WIDE, promo.rate.frame_start(n), measure)))

    run = _timed(lambda: [frame(n) for n in range(240)])
    show("playing the heavy promo, 640x360, drawing", f"{240 / run:.0f} frames a second", ">= 30", 240 / run >= 30)
    rng = random.Random(4)
    took = sorted(_timed(lambda n=rng.randrange(590): frame(n)) * 1000 for _ in range(200))
    p95 = took[int(len(took) * 0.95)]
    show("scrubbing in it", f"median {statistics.median(took):.0f} ms, p95 {p95:.0f} ms", "p95 < 60 ms", p95 < 60)


def _pngs(folder: Path) -> None:
    """The pictures that the other side needs: the logo, the photo, and both masks."""
    import cv2
    import numpy as np

    from glowreel.core.layout import Box
    from glowreel.core.recipe.model import Composite, Fill, FrameRecipe, Mask
    from glowreel.core.shapes import SHAPES
    from glowreel.engine.svg import draw_svg

    (folder / "logo.png").write_bytes(encode(draw_svg(MEDIA / "hollowmere-logo.svg", 434), ".png"))
    cv2.imwrite(str(folder / "picnic.png"), cv2.resize(cv2.imread(str(MEDIA / "picnic.jpg")), (1920, 1280)))
    for name in ("heart", "ellipse"):
        canvas = Canvas(Sources(Shop(folder)), 540, 304)
        mask = Mask(Box(118, 0, 304, 304), SHAPES[name].outline(5, 0.5))
        drawn = canvas.draw(FrameRecipe(540, 304, (Composite((Fill("#FFFFFF"),), masks=(mask,)),)))
        cv2.imwrite(str(folder / f"{name}.png"), np.ascontiguousarray(drawn[:, :, 3]))


def passing(folder: Path, show: Show) -> None:
    """What a frame of a transition costs at full size."""
    shop = Shop(folder)
    camera = shop.add(camera_footage(folder))
    for kind in ("spin", "blur", "zoom"):
        maker = Maker(shop)
        for start in (1, 9):
            maker.clip(camera, start, 4)
        maker.do(c.SetTransition(after=maker.promo.clips[0].id, kind=kind, length=ticks(1)))
        canvas = Canvas(Sources(shop), 1920, 1080)

        def frame(n: int, canvas: Canvas = canvas, promo: Promo = maker.promo) -> None:
            canvas.draw(frame_recipe(promo, WIDE, promo.rate.frame_start(n), measure))

        frames = range(106, 134)
        for n in (105, *frames):
            frame(n)
        each = [_timed(lambda n=n, frame=frame: frame(n)) for n in frames]
        cost = statistics.median(each) * 1000
        show(f"a frame of the transition {kind}, 1080p", f"{cost:.0f} ms", "< 40 ms", cost < 40)


def people(folder: Path, show: Show) -> None:
    """Cutting people out of ten seconds at 1080p, as a worker does it once."""
    footage = camera_footage(folder, 10)
    took = _timed(lambda: make_people(footage, "footage", {}, folder / "matte", lambda share: None))
    show("people cut out of 10 s, 1080p", f"{took:.1f} s: {took / 10:.2f} x its length", "< 1.5 x", took < 15)


def looks(folder: Path, show: Show) -> None:
    for section in (graded, passing, people, heavy):
        section(folder, show)
