"""The benchmark table: each figure beside its budget, exports beside one ffmpeg command that does the same."""

from __future__ import annotations

import random
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from benchmarks.material import Maker, Shop, camera_footage, three_layers
from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.formats import SHIPPED
from glowreel.core.recipe.picture import frame_recipe
from glowreel.core.time import ticks
from glowreel.demo.scenario import MEDIA
from glowreel.engine.draw import Canvas
from glowreel.engine.export import piece_key, plan, render_file, render_piece, render_pieces
from glowreel.engine.filming import Out
from glowreel.engine.filmsound import render_sound, sound_key
from glowreel.engine.joining import join
from glowreel.engine.soundcodes import AAC
from glowreel.engine.sources import Sources
from glowreel.engine.still import draw_still, encode
from glowreel.engine.typesetting import FOLDER, measure

WIDE = SHIPPED["wide"]
X264 = ["-c:v", "libx264", "-preset", "veryfast", "-crf", "20", "-g", "60", "-pix_fmt", "yuv420p"]


def show(what: str, figure: str, budget: str, good: bool) -> None:
    print(f"{what:<58} {figure:<42} {budget:<22} {'ok' if good else 'OVER'}", flush=True)


def timed(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def paired(ours: Callable[[], object], theirs: Callable[[], object], runs: int = 3) -> tuple[float, float, float]:
    """Medians of both, and of the ratio of runs made side by side."""
    pairs = [(timed(ours), timed(theirs)) for _ in range(runs)]
    return (*(statistics.median(side) for side in zip(*pairs, strict=True)), statistics.median(a / b for a, b in pairs))


def export_to(promo: Promo, shop: Shop, out: Path) -> None:
    sources = Sources(shop)
    with tempfile.TemporaryDirectory(dir=shop.folder) as runtime:
        render_file(promo, WIDE, 1080, sources, out, Path(runtime))
    sources.close()


def exports(folder: Path) -> None:
    shop = Shop(folder)
    camera = shop.add(camera_footage(folder))
    song = shop.add(MEDIA / "slow-ascent.m4a")
    logo = shop.add(MEDIA / "hollowmere-logo.svg")
    for media in (camera, song):
        shop.samples(media.hash)  # Made at import in the product, so not counted here.
    maker = Maker(shop)
    for start in (1, 9, 17):
        maker.clip(camera, start, 6)
    plain = maker.promo
    cuts = "".join(
        f"[0:v]trim={s}:{s + 6},setpts=PTS-STARTPTS[v{n}];[0:a]atrim={s}:{s + 6},asetpts=PTS-STARTPTS[a{n}];"
        for n, s in enumerate((1, 9, 17))
    )
    joined = cuts + "[v0][a0][v1][a1][v2][a2]concat=n=3:v=1:a=1"
    ffmpeg = ["ffmpeg", "-v", "error", "-y", "-i", str(shop.paths[camera.hash])]
    tail = [*X264, "-c:a", "aac", "-b:a", "192k", "-movflags", "+faststart", str(folder / "theirs.mp4")]
    command = [*ffmpeg, "-filter_complex", joined + "[v][a]", "-map", "[v]", "-map", "[a]", *tail]
    ours, theirs, ratio = paired(
        lambda: export_to(plain, shop, folder / "ours.mp4"), lambda: subprocess.run(command, check=True)
    )
    show(
        "export, plain cuts, 18 s 1080p",
        f"{ours:.1f} s, ffmpeg {theirs:.1f} s: {ratio:.2f} x",
        "<= 1.10 x",
        ratio <= 1.10,
    )
    branded = brand(maker, song.id, logo.id)
    (folder / "logo.png").write_bytes(_logo_png(shop, logo.id))
    overlays = (
        ";[v]drawtext=fontfile=" + str(FOLDER / "BricolageGrotesque_800ExtraBold.ttf")
        + ":text='Breakfast at 600':fontsize=140:fontcolor=white:x=97:y='790+65*pow(1-min(t/0.5,1),3)'"
        + ":alpha='if(lt(t,0.5),1-pow(1-t/0.5,3),if(gt(t,5.7),max(0,(6-t)/0.3),1))':enable='lt(t,6)'[t];"
        + "[t][1:v]overlay=1421:65[o];[a]volume=1[m];[2:a]volume=0.5[n];"
        + "[m][n]amix=inputs=2:duration=first:normalize=0[x]"
    )  # fmt: skip
    inputs = ["-i", str(folder / "logo.png"), "-i", str(shop.paths[song.hash])]
    graph = joined + "[v][a]" + overlays
    command = [*ffmpeg, *inputs, "-filter_complex", graph, "-map", "[o]", "-map", "[x]", *tail]
    ours, theirs, ratio = paired(
        lambda: export_to(branded, shop, folder / "ours.mp4"), lambda: subprocess.run(command, check=True)
    )
    show(
        "export, branded (logo, animated title, music)",
        f"{ours:.1f} s, ffmpeg {theirs:.1f} s: {ratio:.2f} x",
        "<= 1.20 x",
        ratio <= 1.20,
    )


def brand(maker: Maker, song: str, logo: str) -> Promo:
    maker.do(c.AddWords(text="Breakfast at 600", at=0, length=ticks(6)))
    maker.do(c.AddPicture(media=logo, whole=True))
    sound = maker.do(c.AddSound(media=song, whole=True))
    maker.do(c.Set(items=(sound,), values={"gain": -6.0}))
    return maker.promo


def _logo_png(shop: Shop, logo: str) -> bytes:
    maker = Maker(shop)
    maker.do(c.AddPicture(media=logo, whole=True))
    pixels = draw_still(maker.promo.changed(background="#000000"), WIDE, 0, 1080, Sources(shop))
    return encode(pixels[65:200, 1421:1845].copy(), ".png")


def again(folder: Path) -> None:
    """A second export of 60 seconds after one title changed: only what it is seen in is made; its sound is found."""
    shop = Shop(folder)
    camera = shop.add(camera_footage(folder))
    song = shop.add(MEDIA / "slow-ascent.m4a")
    maker = Maker(shop)
    for _ in range(3):
        maker.clip(camera, 0, 20)
    item = maker.do(c.AddWords(text="First words", at=ticks(30), length=ticks(3)))
    maker.do(c.AddSound(media=song.id))
    sources = Sources(shop)
    made: dict[str, Path] = {}

    def export() -> None:
        parts = []
        for piece in plan(maker.promo):
            key = piece_key(maker.promo, WIDE, 1080, piece)
            if key not in made:
                made[key] = folder / key
                render_piece(maker.promo, WIDE, 1080, piece, sources, made[key])
            parts.append((made[key], piece.count))
        heard = sound_key(maker.promo, AAC)
        if heard not in made:
            made[heard] = folder / f"{heard}.mp4"
            render_sound(maker.promo, sources, made[heard])
        join(parts, made[heard], maker.promo.rate.fraction, folder / "again.mp4")

    first = timed(export)
    maker.do(c.Set(items=(item,), values={"text": "Other words"}))
    second = timed(export)
    show(
        "export again after one title changed, 60 s",
        f"{second:.1f} s of {first:.1f} s: {second / first:.2f} x",
        "<= 0.06 x",
        second <= first * 0.06,
    )


def memory(folder: Path) -> None:
    """Peak memory of the process that exports two minutes, and ten."""
    for minutes in (2, 10):
        out = subprocess.run(
            [sys.executable, "-m", "benchmarks", "--memory", str(minutes), str(folder)],
            capture_output=True,
            text=True,
            check=True,
        )
        peak = int(out.stdout.strip().splitlines()[-1])
        show(f"export memory, {minutes} min 1080p", f"{peak} MB", "< 800 MB, flat", peak < 800)


def memory_child(minutes: int, folder: Path) -> None:
    shop = Shop(folder)
    camera = shop.add(camera_footage(folder))
    maker = Maker(shop)
    for _ in range(minutes * 3):
        maker.clip(camera, 0, 20)
    maker.do(c.AddWords(text="A title", at=0, length=ticks(5)))
    export_to(maker.promo, shop, folder / "long.mp4")
    print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024)


def preview(folder: Path) -> None:
    shop = Shop(folder)
    promo = three_layers(shop)
    shop.preview = True
    canvas = Canvas(Sources(shop, threads=1), 640, 360)
    rng = random.Random(4)
    at = [promo.rate.frame_start(rng.randrange(480)) for _ in range(240)]
    took = sorted(timed(lambda t=t: encode(canvas.draw(frame_recipe(promo, WIDE, t, measure)))) * 1000 for t in at)
    p95 = took[int(len(took) * 0.95)]
    show(
        "scrub, three layers, 640x360, drawing",
        f"median {statistics.median(took):.0f} ms, p95 {p95:.0f} ms",
        "p95 < 80 ms",
        p95 < 80,
    )
    frames = 300
    run = timed(
        lambda: [
            encode(canvas.draw(frame_recipe(promo, WIDE, promo.rate.frame_start(n), measure))) for n in range(frames)
        ]
    )
    show("playing, three layers, 640x360, drawing", f"{frames / run:.0f} frames a second", ">= 30", frames / run >= 30)


def together(folder: Path) -> None:
    """Three formats in one go, which decode what they show once, beside the widest of them alone."""
    shop = Shop(folder)
    camera, song = shop.add(camera_footage(folder)), shop.add(MEDIA / "slow-ascent.m4a")
    logo = shop.add(MEDIA / "hollowmere-logo.svg")
    for media in (camera, song):
        shop.samples(media.hash)
    maker = Maker(shop)
    for start in (1, 9, 17):
        maker.clip(camera, start, 6)
    promo = brand(maker, song.id, logo.id)

    def made(keys: tuple[str, ...]) -> None:
        sources = Sources(shop)
        for number, piece in enumerate(plan(promo)):
            outs = [Out(SHIPPED[key], 1080, folder / f"{key}-{number}.mp4") for key in keys]
            render_pieces(promo, outs, piece, sources)
        # The formats of an export sound alike: the first one that is joined mixes for all.
        render_sound(promo, sources, folder / "sound.mp4")
        sources.close()

    three, wide, ratio = paired(lambda: made(("wide", "square", "tall")), lambda: made(("wide",)))
    show("three formats in one go, 18 s 1080p", f"{three:.1f} s, wide alone {wide:.1f} s: {ratio:.2f} x", "< 2.40 x",
         ratio < 2.4)  # fmt: skip


SECTIONS = {"together": together, "exports": exports, "again": again, "memory": memory, "preview": preview}


def all_sections() -> dict[str, Callable[[Path], None]]:
    """Every section by its name. What each needs is brought in here: the child that measures memory stays small."""
    from benchmarks.batches import rows as rows_of_a_table
    from benchmarks.edits import edits
    from benchmarks.farm import farm
    from benchmarks.films import films
    from benchmarks.keeping import keeping
    from benchmarks.layout import layout
    from benchmarks.looks import looks
    from benchmarks.recording import recording
    from benchmarks.reframing import reframing
    from benchmarks.served import served
    from benchmarks.shapes import shapes
    from benchmarks.sounding import sounding
    from benchmarks.speaking import transcripts, voices
    from benchmarks.windows import watching, windows
    from benchmarks.words import words

    def every_command(folder: Path) -> None:
        edits(show)

    def pictures(folder: Path) -> None:
        looks(folder, show)

    def titles(folder: Path) -> None:
        words(folder, show)

    def held(folder: Path) -> None:
        windows(folder / "windows", show)

    def watched(folder: Path) -> None:
        watching(folder / "watching", show)

    def arrangement(folder: Path) -> None:
        layout(show)

    def formats(folder: Path) -> None:
        shapes(folder / "shapes", show)

    def views(folder: Path) -> None:
        place = folder / "reframing"
        place.mkdir()
        reframing(place, show)

    def heard(folder: Path) -> None:
        place = folder / "sound"
        place.mkdir()
        sounding(place, show)

    def kept(folder: Path) -> None:
        keeping(folder / "keeping", show)

    def recorded(folder: Path) -> None:
        recording(folder / "recording", show)

    def said(folder: Path) -> None:
        transcripts(show)
        voices(show)

    return {
        **SECTIONS,
        "farm": lambda folder: farm(folder, show),
        "films": lambda folder: films(folder, show),
        "rows": lambda folder: rows_of_a_table(folder, show),
        "said": said,
        "keeping": kept,
        "recording": recorded,
        "sound": heard,
        "looks": pictures,
        "words": titles,
        "layout": arrangement,
        "shapes": formats,
        "reframing": views,
        "edits": every_command,
        "served": served,
        "windows": held,
        "watching": watched,
    }


def main() -> None:
    if sys.argv[1:2] == ["--memory"]:
        memory_child(int(sys.argv[2]), Path(sys.argv[3]))
        return
    sections = all_sections()
    chosen = sys.argv[1:] or list(sections)
    unknown = [name for name in chosen if name not in sections]
    if unknown:
        raise SystemExit(f"There is no section {unknown[0]}. Choose from {', '.join(sections)}.")
    print(f"{'what':<58} {'measured':<42} {'budget':<22}")
    with tempfile.TemporaryDirectory(prefix="glowreel-bench-") as folder:
        Path(folder).chmod(0o755)
        for name in chosen:
            sections[name](Path(folder))


if __name__ == "__main__":
    main()
