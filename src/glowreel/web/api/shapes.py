"""What programs send and get, as values that check themselves and describe themselves."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from glowreel.core.film_forms import USUAL_FORM

Name = Annotated[str, Field(max_length=120)]


class Sent(BaseModel):
    """Anything that is sent: nothing in it that nobody reads."""

    model_config = ConfigDict(extra="forbid")


class NewPromo(Sent):
    """A promo to be begun: from a template, or empty."""

    name: Name = ""
    template: str = Field(default="", max_length=60, description="the key of a template; none begins an empty promo")
    formats: list[str] = Field(default=[], max_length=20, description="wide, square, tall …; the template's by default")


class SlotFill(Sent):
    """What goes into a slot: words or a file."""

    slot: str = Field(max_length=64)
    text: str | None = Field(default=None, max_length=600)
    media: str | None = Field(default=None, max_length=64)


class Fills(Sent):
    """Slots to be filled, all or none of them."""

    fills: list[SlotFill] = Field(min_length=1, max_length=200)


class ByAddress(Sent):
    """A file to be fetched from an address."""

    address: str = Field(min_length=8, max_length=2000)
    name: Name = ""


class NewUpload(Sent):
    """A file to be sent in parts."""

    name: str = Field(min_length=1, max_length=200)
    size: int = Field(gt=0, le=2_147_483_648)


class NewExport(Sent):
    """Formats to be exported, and how: as which form of file (`h264`, `hevc`, `av1`, `vp9`, `prores`, `gif`, `webp`,
    `png`, `still`, `m4a`, `mp3`, `wav`); by look (`small`, `standard`, `fine`), below so many megabytes, or at so many
    kilobits a second; at which frame rate; without a background; a still at which second."""

    formats: list[str] = Field(min_length=1, max_length=20)
    resolution: int = 1080
    title: Name = ""
    caption: str = Field(default="", max_length=5000)
    form: str = Field(default=USUAL_FORM, max_length=12)
    look: str = Field(default="", max_length=12)
    megabytes: float | None = None
    kilobits: float | None = None
    rate: float | None = None
    clear: bool = False
    at: float = Field(default=0.0, ge=0, le=21600)


class NewPost(Sent):
    """A promo to be posted by an account: at once, or at a time with its zone (`2027-04-14T09:30:00+02:00`)."""

    account: str = Field(max_length=64)
    format: str = Field(max_length=64)
    title: str = Field(min_length=1, max_length=200)
    text: str = Field(default="", max_length=10_000)
    tags: list[str] = Field(default=[], max_length=12)
    still: float = Field(default=0.0, ge=0, le=36_000)
    at: datetime | None = None


class NewTable(Sent):
    """A table for a template: its first row names the columns."""

    template: str = Field(max_length=60)
    rows: list[list[str]] = Field(min_length=2, max_length=1001)
    name: Name = ""


class Make(Sent):
    """Rows to be made: the first so many, or all; exported as well, or not."""

    first: int | None = Field(default=None, ge=1, le=1000)
    exports: bool = False


class Promo(BaseModel):
    id: str
    name: str
    folder: str
    length: float = Field(description="seconds")
    formats: list[str]
    revision: int
    changed_at: datetime
    address: str


class Slot(BaseModel):
    id: str
    label: str
    kind: str
    holds: str
    most: int = Field(description="letters at the most, 0 for no limit of its own")
    optional: bool
    filled: bool


class Template(BaseModel):
    key: str
    name: str
    length: float
    scenes: int
    formats: list[str]


class Brand(BaseModel):
    id: str
    name: str
    usual: bool
    version: int


class File(BaseModel):
    id: str
    name: str
    state: str
    error: str
    facts: dict[str, object]


class Upload(BaseModel):
    id: str
    received: int
    size: int
    error: str
    media: str | None = Field(description="the file on the Shelf, once all has come")


class Film(BaseModel):
    id: str
    format: str
    form: str
    suffix: str = Field(description="how its file's name ends, such as `.mp4`")
    state: str
    share: float
    size: int
    error: str
    watch: str = Field(description="the address of its watch page, where that is open")


class Export(BaseModel):
    id: str
    promo: str
    title: str
    films: list[Film]


class Screening(BaseModel):
    id: str
    address: str
    until: datetime | None


class Account(BaseModel):
    id: str
    channel: str
    name: str
    account: str


class Post(BaseModel):
    id: str
    account: str
    title: str
    state: str
    error: str
    at: datetime
    address: str


class Row(BaseModel):
    number: int
    state: str
    error: str
    promo: str | None
    export: str | None


class Table(BaseModel):
    id: str
    name: str
    template: str
    state: str
    columns: list[str]
    matching: dict[str, int]
    rows: list[Row]


class Nothing(BaseModel):
    """Done, and nothing to be said of it."""


class Problem(BaseModel):
    """Why something was not done."""

    code: str
    sentence: str
