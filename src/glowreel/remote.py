"""`glowreel push, fill, export, pull, batch`: an installation at work for a team, from a terminal.

The address and the token come from `GLOWREEL_ADDRESS` and `GLOWREEL_TOKEN`, or from options. What was refused ends with
1, a wrong call with 2.
"""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import Any

import click

from glowreel.client import Refused, Studio
from glowreel.core.errors import Refusal
from glowreel.core.film_forms import FILM_FORMS, LOOKS
from glowreel.interchange.tables import read_file

BAR = 24


def asking(work: Callable[..., Any]) -> Callable[..., Any]:
    """Gives a command its options for where and as whom, says refusals in a sentence, and prints what came of it."""

    @click.option("--address", default=lambda: os.environ.get("GLOWREEL_ADDRESS", ""), help="Of the installation.")
    @click.option("--token", default=lambda: os.environ.get("GLOWREEL_TOKEN", ""), help="Of the team.")
    @click.option("--json", "as_json", is_flag=True, help="What came of it as JSON, for programs.")
    @wraps(work)
    def command(address: str, token: str, as_json: bool, **more: Any) -> None:
        if not address or not token:
            raise click.UsageError("Say where and as whom: GLOWREEL_ADDRESS and GLOWREEL_TOKEN.")
        try:
            told, lines = work(Studio(address, token), **more)
        except (Refused, Refusal) as refused:
            click.echo(
                json.dumps({"code": refused.code, "sentence": str(refused)}) if as_json else str(refused), err=True
            )
            raise SystemExit(1) from refused
        click.echo(json.dumps(told, ensure_ascii=False) if as_json else "\n".join(lines))

    return command


def progress(label: str) -> Callable[[float], None]:
    """Draws how far something is, where somebody looks."""

    def tell(share: float) -> None:
        if sys.stderr.isatty():
            full = round(BAR * share)
            sys.stderr.write(f"\r{label} {'█' * full}{'·' * (BAR - full)} {share:4.0%}" + ("\n" if share >= 1 else ""))

    return tell


@click.command()
@click.argument("files", nargs=-1, required=True, type=click.Path(exists=True, dir_okay=False, path_type=Path))
@asking
def push(studio: Studio, files: tuple[Path, ...]) -> tuple[Any, list[str]]:
    """Sends files to the Shelf; prints how each is known there."""
    told = [studio.push(path, progress(path.name)) for path in files]
    return told, [f"{one['id']}  {one['name']}" for one in told]


@click.command()
@click.argument("template")
@click.argument("fills", nargs=-1)
@click.option("--name", default="", help="Of the promo.")
@click.option("--format", "formats", multiple=True, help="wide, square, tall …")
@asking
def fill(
    studio: Studio, template: str, fills: tuple[str, ...], name: str, formats: tuple[str, ...]
) -> tuple[Any, list[str]]:
    """A promo from a TEMPLATE, its slots filled as FILLS say: 'Title=Two days only' 'Picture=dawn.jpg'. A picture or
    sound is a file, which is sent first."""
    begun = {"name": name, "template": template, "formats": list(formats)}
    promo = studio.ask("POST", "/promos", begun)
    slots = studio.ask("GET", f"/promos/{promo['id']}/slots")
    made = []
    for one in fills:
        label, mark, value = one.partition("=")
        slot = next((slot for slot in slots if slot["label"].casefold() == label.strip().casefold()), None)
        if slot is None or not mark:
            there = ", ".join(dict.fromkeys(slot["label"] for slot in slots))
            raise Refused("no-slot", f"“{label}” is no slot of it; there are {there}.")
        slots.remove(slot)
        if slot["holds"] == "words":
            made.append({"slot": slot["id"], "text": value})
        else:
            made.append({"slot": slot["id"], "media": studio.push(Path(value), progress(value))["id"]})
    if made:
        promo = studio.ask("POST", f"/promos/{promo['id']}/slots", {"fills": made})
    return promo, [f"{promo['id']}  {promo['name']}", promo["address"]]


@click.command()
@click.argument("promo")
@click.option("--format", "formats", multiple=True, help="All of the promo's by default.")
@click.option("--height", default=1080, show_default=True, help="Pixels of the frame's short side.")
@click.option("--as", "form", default="h264", show_default=True, type=click.Choice(list(FILM_FORMS)), help="Form.")
@click.option("--look", type=click.Choice(list(LOOKS)), help="How good it looks for its size.")
@click.option("--megabytes", type=float, help="No file larger than this.")
@click.option("--rate", type=float, help="Frames a second.")
@click.option("--clear", is_flag=True, help="Without the background, where the form can be seen through.")
@click.option("-o", "--out", type=click.Path(file_okay=False, path_type=Path), help="A folder for the films.")
@asking
def export(
    studio: Studio,
    promo: str,
    formats: tuple[str, ...],
    height: int,
    form: str,
    look: str | None,
    megabytes: float | None,
    rate: float | None,
    clear: bool,
    out: Path | None,
) -> tuple[Any, list[str]]:
    """Exports a PROMO and waits for it; with a folder, takes its films as well."""
    wanted = list(formats) or studio.ask("GET", f"/promos/{promo}")["formats"]
    making = {"form": form, "look": look or "", "megabytes": megabytes, "rate": rate, "clear": clear}
    told = studio.export(promo, wanted, height, progress("export"), **making)
    lines = [f"{film['id']}  {film['format']}  {film['watch']}" for film in told["films"]]
    if out is not None:
        out.mkdir(parents=True, exist_ok=True)
        for film in told["films"]:
            studio.pull(film["id"], out / f"{film['format']}{film['suffix']}")
        lines += [str(out / f"{film['format']}{film['suffix']}") for film in told["films"]]
    return told, lines


@click.command()
@click.argument("film")
@click.argument("out", type=click.Path(dir_okay=False, path_type=Path))
@asking
def pull(studio: Studio, film: str, out: Path) -> tuple[Any, list[str]]:
    """Takes a finished FILM."""
    size = studio.pull(film, out)
    return {"film": film, "size": size, "path": str(out)}, [str(out)]


@click.command()
@click.argument("template")
@click.argument("table", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--export", "exports", is_flag=True, help="Export every promo as well.")
@asking
def batch(studio: Studio, template: str, table: Path, exports: bool) -> tuple[Any, list[str]]:
    """A promo for each row of a TABLE (.csv, .xlsx), from a TEMPLATE."""
    read = read_file(table, table.name)
    rows = [list(read.columns), *(list(row) for row in read.rows)]
    told = studio.table(template, rows, exports=exports, tell=progress(table.name))
    return told, [
        f"{row['number'] + 1:4}  {row['state']:8} {row['promo'] or ''} {row['error']}" for row in told["rows"]
    ]


COMMANDS = (push, fill, export, pull, batch)
