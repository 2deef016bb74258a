"""`glowreel …`: the program from a terminal. Rendering needs no database and no queue."""

from __future__ import annotations

import hashlib
import json
import secrets
import sys
import tempfile
import time
from functools import cache
from pathlib import Path

import click

from glowreel.core.derived import Facts, Known, Need
from glowreel.core.document import Promo
from glowreel.core.errors import GlowReelError, Missing
from glowreel.core.formats import Format, shipped
from glowreel.core.media import Media
from glowreel.core.recipe.needs import needs
from glowreel.core.time import ticks
from glowreel.core.timeline import timeline
from glowreel.engine.export import render_file
from glowreel.engine.fontfile import read_font
from glowreel.engine.ingest import make_samples
from glowreel.engine.intake import media_of
from glowreel.engine.makers import MAKERS, Material
from glowreel.engine.probe import probe
from glowreel.engine.soundfiles import FORMS, write_sound, write_stems
from glowreel.engine.sources import Sources
from glowreel.engine.still import draw_still, encode
from glowreel.engine.typesetting import find_own
from glowreel.interchange.bundles import links, read, unpack
from glowreel.interchange.elsewhere import link_name
from glowreel.remote import COMMANDS


def new_id(prefix: str) -> str:
    return f"{prefix}-{secrets.token_urlsafe(9)}"


class OpenBundle:
    """A promo unpacked to a folder; the engine's `Library`, which makes sound copies when they are first asked for."""

    def __init__(self, path: Path, folder: Path) -> None:
        self.folder = folder
        self._unpacked = unpack(path, folder)
        self._beside = path.parent
        self._paths: dict[str, Path] = {}
        self._links = links(self._unpacked.text)
        found = read(self._unpacked.text, self._find, new_id, "opened")
        for notice in found.notices:
            click.echo(notice, err=True)
        self.promo: Promo = found.promo
        find_own(self.letters)

    @cache  # noqa: B019 - as long-lived as the program
    def _find(self, key: str) -> Media | None:
        """The facts of a file by its hash, or for timelines of other programs by its link."""
        held = self._unpacked.by_hash(key) if self._links.own else self._unpacked.by_link(key)
        path = held.path if held is not None else self._beside / link_name(key)
        if not path.is_file():
            return None
        with path.open("rb") as opened:
            digest = hashlib.file_digest(opened, "sha256").hexdigest()
        self._paths[digest] = path
        if self._links.own:
            return self._links.said[key] if digest == key else None
        facts = probe(path, path.name)
        return media_of(facts, f"m{digest[:16]}", path.name, digest, "")

    def picture(self, source: str) -> Path:
        if source not in self._paths:
            raise Missing("no-file", "A file of this promo is missing from the bundle.")
        return self._paths[source]

    def letters(self, source: str) -> Path | None:
        """A font of the promo's brand in its plain form; None where it is not in the bundle."""
        if source not in self._paths:
            return None
        path = self.folder / f"{source}.letters"
        if not path.exists():
            path.write_bytes(read_font(self._paths[source], "The font").data)
        return path

    def samples(self, source: str) -> Path:
        path = self.folder / f"{source}.samples"
        if not path.exists():
            make_samples(self.picture(source), path)
        return path

    def made(self, need: Need, name: str) -> Path:
        path = self.folder / f"{need.maker}-{need.source}" / name
        if not path.exists():
            self._made(need)
        return path

    def known(self) -> Known:
        """All that the promo's recipes name, made here and now."""
        facts = {need: self._made(need) for need in needs(self.promo)}
        return facts.get

    def _made(self, need: Need) -> Facts:
        make = MAKERS[need.maker].make
        assert make is not None, "what recipes name is made on demand"
        kind = next(media.kind for media in self.promo.media.values() if media.hash == need.source)
        folder = self.folder / f"{need.maker}-{need.source}"
        folder.mkdir(exist_ok=True)
        heard = next(media.sounding for media in self.promo.media.values() if media.hash == need.source)
        samples = self.samples(need.source) if heard else None
        material = Material(self.picture(need.source), samples, kind)  # What recipes name needs no model.
        return make(material, dict(need.settings), folder, lambda share: None)


def _format_of(promo: Promo, name: str) -> Format:
    return next((f for f in promo.formats if f.id == name), None) or shipped(name)


@click.group()
def main() -> None:
    """Glow Reel: one edit, every shape."""


for one in COMMANDS:
    main.add_command(one)


@main.command()
@click.argument("bundle", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("-o", "--out", required=True, type=click.Path(dir_okay=False, path_type=Path))
@click.option("--format", default="wide", show_default=True)
@click.option("--height", default=1080, show_default=True, help="Pixels of the frame's short side.")
def render(bundle: Path, out: Path, format: str, height: int) -> None:
    """Renders a promo to an MP4 file."""
    with tempfile.TemporaryDirectory(prefix="glowreel-") as folder, _refusals():
        opened = OpenBundle(bundle, Path(folder))
        sources = Sources(opened)
        began, last = time.monotonic(), [0.0]

        def progress(done: int, total: int) -> None:
            now = time.monotonic()
            if now - last[0] > 0.2 or done == total:
                last[0] = now
                rate = done / max(now - began, 1e-6)
                text = f"\r{done * 100 // total:3d} %  {done}/{total} frames  {rate:.0f} a second"
                click.echo(text, nl=False, err=True)

        parts = Path(folder) / "parts"
        parts.mkdir()
        shape, side, known = _format_of(opened.promo, format), _side(height), opened.known()
        render_file(opened.promo, shape, side, sources, out, parts, progress, known)
        sources.close()
        click.echo(f"\n{out} in {time.monotonic() - began:.1f} s", err=True)


@main.command()
@click.argument("bundle", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("-o", "--out", required=True, type=click.Path(dir_okay=False, path_type=Path))
@click.option("--format", default="wide", show_default=True)
@click.option("--at", default=0.0, show_default=True, help="Seconds from the start.")
@click.option("--height", default=1080, show_default=True, help="Pixels of the frame's short side.")
def frame(bundle: Path, out: Path, format: str, at: float, height: int) -> None:
    """Draws one frame of a promo to a PNG or JPEG file."""
    with tempfile.TemporaryDirectory(prefix="glowreel-") as folder, _refusals():
        opened = OpenBundle(bundle, Path(folder))
        length = timeline(opened.promo).length
        time_ticks = opened.promo.rate.snap(max(0, min(ticks(at), length - opened.promo.rate.frame)))
        sources = Sources(opened)
        pixels = draw_still(opened.promo, _format_of(opened.promo, format), time_ticks, _side(height), sources)
        out.write_bytes(encode(pixels, ".png" if out.suffix.lower() == ".png" else ".jpg", 92))
        sources.close()


@main.command()
@click.argument("bundle", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option(
    "-o", "--out", required=True, type=click.Path(dir_okay=False, path_type=Path), help="A .wav, .m4a or .mp3 file."
)
@click.option("--stems", is_flag=True, help="One file for each of voice, music and effects.")
def sound(bundle: Path, out: Path, stems: bool) -> None:
    """Writes what is heard of a promo to a WAV, M4A or MP3 file, or to one for each bus."""
    if out.suffix.lower() not in FORMS:
        raise click.BadParameter(f"the name must end in {' or '.join(FORMS)}", param_hint="--out")
    with tempfile.TemporaryDirectory(prefix="glowreel-") as folder, _refusals():
        opened = OpenBundle(bundle, Path(folder))
        sources, known = Sources(opened), opened.known()
        if stems:
            for path in write_stems(opened.promo, sources, out, known):
                click.echo(f"{path}", err=True)
        else:
            write_sound(opened.promo, sources, out, known)
        sources.close()


def _side(height: int) -> int:
    if not 16 <= height <= 4320:
        raise click.BadParameter("the short side must be between 16 and 4320 pixels")
    return height


class _refusals:
    """Ends the program with the sentence of a refusal instead of a traceback."""

    def __enter__(self) -> None:
        return None

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> None:
        if isinstance(error, GlowReelError):
            click.echo(str(error), err=True)
            sys.exit(2)


@main.command()
@click.option("--bundle", required=True, type=click.Path(dir_okay=False, path_type=Path))
def demo(bundle: Path) -> None:
    """Writes the finished demo promo as a bundle."""
    from glowreel.demo.scenario import write_demo_bundle

    with _refusals():
        write_demo_bundle(bundle)
    click.echo(f"{bundle}", err=True)


@main.command()
def prepare() -> None:
    """Brings the database up to date and, where the demo is wanted, puts its team and promos there."""
    from glowreel.demo.scenario import FILES, MEDIA
    from glowreel.demo.seed import seed
    from glowreel.jobs.app import runtime
    from glowreel.services import samples, shelf
    from glowreel.store.models import take_up

    with _refusals():
        runtime.database.migrate()
    with runtime.database.unit() as unit:
        shelf.make_anew(unit.session)
        take_up(unit.session)
    if runtime.settings.demo:
        seed(runtime, lambda text: click.echo(text))
    samples.put(runtime, [MEDIA / name for name in FILES])


@main.command()
def join() -> None:
    """Sees whether this machine can work for the installation that it was told of; ends with 2 where it cannot."""
    from glowreel.jobs.app import runtime
    from glowreel.services import machines

    with _refusals():
        for line in machines.reached(runtime):
            click.echo(line)


@main.command()
@click.argument("out", type=click.Path(dir_okay=False, path_type=Path))
def backup(out: Path) -> None:
    """Writes the database and every file it names into one tar file. Work may go on meanwhile."""
    from glowreel.jobs.app import runtime
    from glowreel.services import upkeep

    with _refusals():
        count = upkeep.backup(runtime, out)
    click.echo(f"{out}: {count} files, {out.stat().st_size / 1e6:.1f} MB")


@main.command()
@click.argument("source", type=click.Path(exists=True, dir_okay=False, path_type=Path))
def restore(source: Path) -> None:
    """Brings a backup back into an empty database and store."""
    from glowreel.jobs.app import runtime
    from glowreel.services import upkeep

    with _refusals():
        count = upkeep.restore(runtime, source)
    click.echo(f"{count} files are back.")


@main.command()
@click.option("--deep", is_flag=True, help="Read every file and every step of every promo as well.")
def doctor(deep: bool) -> None:
    """Looks everything over; ends with 1 where something is wrong."""
    from glowreel.jobs.app import runtime
    from glowreel.services import doctor as looks

    found = list(looks.examine(runtime, deep=deep))
    for finding in found:
        click.echo(("well   " if finding.well else "WRONG  ") + finding.sentence)
    sys.exit(0 if all(finding.well for finding in found) else 1)


@main.command(name="models")
@click.argument("names", nargs=-1)
@click.option("--get", is_flag=True, help="Fetch those named, or all, where they are not there.")
def models(names: tuple[str, ...], get: bool) -> None:
    """Tells which models are there, and fetches them."""
    from glowreel.outside.models import MODELS, ModelFolder
    from glowreel.services.setup import Settings

    folder = ModelFolder(Path(Settings.from_environment().models))
    unknown = [name for name in names if name not in MODELS]
    if unknown:
        raise click.BadParameter(f"there is no model called {unknown[0]}; there are {', '.join(MODELS)}")
    for name in names or MODELS:
        if get:
            with _refusals():
                folder.fetch(name)
        standing = folder.standing(name)
        told = "there" if standing.ready else standing.error or "not there"
        click.echo(f"{name}: {told}; {MODELS[name].meaning} ({MODELS[name].licence})")
    for name in folder.own() if not names else ():
        click.echo(f"{name}: there; put into the folder by hand")


@main.command(name="tables")
@click.argument("name", required=False)
@click.option("--json", "as_json", is_flag=True, help="As JSON, for programs.")
@click.option("--document", is_flag=True, help="As the reference in docs/.")
def print_tables(name: str | None, as_json: bool, document: bool) -> None:
    """Prints what there is of everything: commands, transitions, fonts …, each with one line of meaning."""
    from glowreel import tables

    if document:
        click.echo(tables.as_document(), nl=False)
        return
    if name is not None and name not in tables.TABLES:
        raise click.BadParameter(f"there is no table called {name}; there are {', '.join(tables.TABLES)}")
    names = [name] if name else list(tables.TABLES)
    if as_json:
        click.echo(json.dumps({key: tables.TABLES[key].rows() for key in names}, indent=1, ensure_ascii=False))
        return
    click.echo("\n\n".join(tables.as_text(key) for key in names))


@main.command()
@click.argument("shell", type=click.Choice(["bash", "zsh", "fish"]))
def completion(shell: str) -> None:
    """Writes what a shell reads to complete commands and their options by the tab key."""
    from click.shell_completion import get_completion_class

    kind = get_completion_class(shell)
    assert kind is not None
    click.echo(kind(main, {}, "glowreel", "_GLOWREEL_COMPLETE").source())


@main.command()
def tidy() -> None:
    """Removes for good what has come to its end, as is done by itself once an hour."""
    from glowreel.jobs.app import runtime
    from glowreel.services import retention

    for name, count in retention.tidy(runtime).items():
        click.echo(f"{count} {name}")


if __name__ == "__main__":
    main()
