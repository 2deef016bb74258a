"""A brand found on a web page, given by its address or saved as a file: always a proposal, nothing is changed."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from io import BytesIO
from pathlib import Path, PurePosixPath
from urllib.parse import urlsplit

from glowreel.core.brand_colours import Proposed
from glowreel.core.brand_page import roles_of_page
from glowreel.core.errors import Refusal
from glowreel.interchange.pages import Page, look_of, read_page
from glowreel.outside.fetching import PAGE_BYTES, PAGES, PICTURE_BYTES, PICTURES, STYLES, Fetched, Fetcher
from glowreel.services import shelf
from glowreel.services.access import Actor
from glowreel.services.setup import Runtime

STYLE_BYTES = 2 * 1024**2
MOST_LOGOS = 3


@dataclass(frozen=True)
class Found:
    """What a page says of a brand: colours with reasons, families by role, words, and its logo where it has one."""

    title: str
    colours: tuple[Proposed, ...]
    fonts: dict[str, str]
    words: tuple[str, ...]
    logo: Fetched | None = None


def at_address(runtime: Runtime, url: str) -> Found:
    """What is found at an address. Raises `Refusal` with a sentence for what may not or cannot be fetched."""
    if not url.strip():
        raise Refusal("no-address", "Enter the address of a web page.")
    fetcher = Fetcher(stand_ins(runtime))
    came = fetcher.get(url.strip()[:2000], PAGES, PAGE_BYTES)
    page = read_page(came.text, came.url)
    sheets = list(page.own_styles)
    for address in page.styles:
        with suppress(Refusal):  # A page says something without one of its styles too.
            sheets.append(fetcher.get(address, STYLES, STYLE_BYTES).text)
    logo = None
    for address in page.logos[:MOST_LOGOS]:
        with suppress(Refusal):
            logo = fetcher.get(address, PICTURES, PICTURE_BYTES)
            break
    return _found(page, sheets, logo)


def in_file(text: str) -> Found:
    """What is found in a page that was saved: its own styles only, nothing is fetched."""
    page = read_page(text, "")
    return _found(page, list(page.own_styles), None)


def _found(page: Page, sheets: list[str], logo: Fetched | None) -> Found:
    look = look_of(sheets)
    colours = tuple(roles_of_page(look.colours, look.seen, look.ground, look.ink))
    if not colours and not look.fonts and logo is None:
        raise Refusal("nothing", "Nothing of a brand was found on that page.", "Try its first page, or take a logo.")
    return Found(page.title, colours, look.fonts, page.words, logo)


def stand_ins(runtime: Runtime) -> dict[str, int]:
    """The hosts that are played on this machine, from the settings: `host=port`, several by commas."""
    pairs = (part.split("=") for part in runtime.settings.stand_ins.split(",") if "=" in part)
    return {host.strip().lower(): int(port) for host, port in pairs if port.strip().isdigit()}


def keep_logo(runtime: Runtime, actor: Actor, logo: Fetched) -> str:
    """Puts the logo of a page on the Shelf, where it is looked at like any file; answers with its identifier."""
    name = PurePosixPath(urlsplit(logo.url).path).name or "logo"
    folder = Path(runtime.settings.cache) / "uploads"
    source, size = shelf.receive(runtime.blobs, folder, BytesIO(logo.data), limit=PICTURE_BYTES)
    with runtime.database.unit() as unit:
        return shelf.add(unit, actor, name, source, size).id
