"""The kinds of files that a promo is exported as, and what may be chosen of each.

`FILM_FORMS` is the table: a new kind of file is one row here, and one in `engine.filming` that says how it is encoded.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from pydantic import Field

from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import RESOLUTIONS
from glowreel.core.time import RATES, Rate, seconds
from glowreel.core.timeline import timeline
from glowreel.core.value import Value

Look = Literal["small", "standard", "fine"]
LOOKS: dict[Look, str] = {"small": "Small file", "standard": "Standard", "fine": "Finest"}
"""How good a film looks for its size, from the smallest file on."""

SLOW_RATES = tuple(Rate(num=num, den=den) for num, den in ((10, 1), (25, 2), (20, 1)))
"""Frame rates of moving pictures without a film: a GIF counts in hundredths of a second."""
SMALL_SIDES = (240, 360, 480, 720)
MOST_ANIMATED_SECONDS = 60
MEGABYTES = (0.2, 20_000.0)
KILOBITS = (100, 200_000)


@dataclass(frozen=True)
class FilmForm:
    """A kind of file: what it is called and for, how its name ends, and what it can hold.

    `picture` is false for sound alone and `sound` for pictures alone; `clear` says whether it can be seen through;
    `plays` whether a browser plays it as a film, so that it can have a watch page; `looks` whether it has a choice of
    look, and `sized` whether it can be asked to be of a size. `bits` is how many bits a pixel takes at each look: the
    middle one measured in films of the demo promo (`./bench films`), the others in proportion; `sound_bits` is how many
    a second of sound takes. They serve to tell the size of the first file of a promo; later ones go by that. `frames`
    is how many frames it has at most, 0 for any number.
    """

    key: str
    label: str
    use: str
    suffix: str
    mimetype: str
    picture: bool = True
    sound: bool = True
    clear: bool = False
    plays: bool = False
    looks: bool = True
    sized: bool = True
    bits: tuple[float, float, float] = (0.0, 0.0, 0.0)
    sound_bits: int = 256_000
    sides: tuple[int, ...] = RESOLUTIONS
    rates: tuple[Rate, ...] = RATES
    usual_rate: Rate | None = None
    most_seconds: int = 0
    frames: int = 0


def _forms() -> tuple[FilmForm, ...]:
    return (
        FilmForm("h264", "MP4 · H.264", "plays everywhere, and is what channels take", ".mp4", "video/mp4", plays=True,
                 bits=(0.012, 0.023, 0.041)),
        FilmForm("hevc", "MP4 · HEVC", "smaller than H.264; newer devices play it", ".mp4", "video/mp4",
                 bits=(0.006, 0.011, 0.020)),
        FilmForm("av1", "MP4 · AV1", "small; today's browsers play it", ".mp4", "video/mp4", plays=True,
                 bits=(0.007, 0.012, 0.022)),
        FilmForm("vp9", "WebM · VP9", "for web pages; can be see-through", ".webm", "video/webm", clear=True,
                 plays=True, bits=(0.013, 0.022, 0.038), sound_bits=160_000),
        FilmForm("prores", "MOV · ProRes", "to be cut on elsewhere; can be see-through", ".mov", "video/quicktime",
                 clear=True, sized=False, bits=(1.3, 2.0, 3.1), sound_bits=1_536_000),
        FilmForm("gif", "GIF", "moves in a mail, without sound", ".gif", "image/gif", sound=False, clear=True,
                 bits=(0.20, 0.34, 0.46), sides=SMALL_SIDES, rates=SLOW_RATES,
                 usual_rate=SLOW_RATES[1], most_seconds=MOST_ANIMATED_SECONDS),
        FilmForm("webp", "Animated WebP", "half of a GIF, without sound", ".webp", "image/webp", sound=False,
                 clear=True, bits=(0.10, 0.18, 0.36), sides=SMALL_SIDES, rates=SLOW_RATES,
                 usual_rate=SLOW_RATES[1], most_seconds=MOST_ANIMATED_SECONDS),
        FilmForm("png", "PNG pictures", "every frame as a picture, in a ZIP", ".zip", "application/zip", sound=False,
                 clear=True, looks=False, sized=False, bits=(1.5, 1.5, 1.5), most_seconds=300),
        FilmForm("still", "One picture", "the frame at the playhead, as a PNG", ".png", "image/png", sound=False,
                 clear=True, looks=False, sized=False, bits=(1.3, 1.3, 1.3), frames=1),
        FilmForm("m4a", "Sound · M4A", "the mix by itself", ".m4a", "audio/mp4", picture=False, looks=False,
                 sized=False, sound_bits=256_000),
        FilmForm("mp3", "Sound · MP3", "the mix by itself, for anything that plays", ".mp3", "audio/mpeg",
                 picture=False, looks=False, sized=False, sound_bits=256_000),
        FilmForm("wav", "Sound · WAV", "the mix by itself, as it is", ".wav", "audio/wav", picture=False, looks=False,
                 sized=False, sound_bits=1_536_000),
    )  # fmt: skip


FILM_FORMS: dict[str, FilmForm] = {form.key: form for form in _forms()}
USUAL_FORM = "h264"


class Making(Value):
    """How files of an export are made: of which form; by look, or to stay below `megabytes`, or at `kilobits` a second;
    at which rate, the promo's own where none is named; `clear` without the promo's background; a single picture at `at`
    ticks."""

    form: str = USUAL_FORM
    look: Look = "standard"
    megabytes: float | None = Field(default=None, ge=MEGABYTES[0], le=MEGABYTES[1])
    kilobits: int | None = Field(default=None, ge=KILOBITS[0], le=KILOBITS[1])
    rate: Rate | None = None
    clear: bool = False
    at: int = Field(default=0, ge=0)

    @property
    def film_form(self) -> FilmForm:
        return FILM_FORMS[self.form]


USUAL_MAKING = Making()


def _number(text: str, what: str, limits: tuple[float, float]) -> float:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = float("nan")
    if not limits[0] <= value <= limits[1]:
        raise Refusal("size", f"{what} are a number between {limits[0]:g} and {limits[1]:g}.")
    return value


def read_making(
    form: str = USUAL_FORM, look: str = "", megabytes: str = "", kilobits: str = "", rate: str = "",
    clear: bool = False, at: int = 0,
) -> Making:  # fmt: skip
    """What somebody chose, as they typed or pressed it. Raises `Refusal` in a sentence where it cannot be had."""
    chosen = FILM_FORMS.get(form or USUAL_FORM)
    if chosen is None:
        raise Refusal("film-form", "That kind of file is not made here.", "Choose one from the list.")
    if look and look not in LOOKS:
        raise Refusal("look", f"Choose one of {', '.join(LOOKS.values())}.")
    wanted = next((one for one in chosen.rates if str(one) == rate), None) if rate else chosen.usual_rate
    if rate and wanted is None:
        rates = ", ".join(map(str, chosen.rates))
        raise Refusal("rate", f"{chosen.label} has one of {rates} frames a second.", "Choose one of them.")
    sized = chosen.sized and chosen.picture
    return Making(
        form=chosen.key,
        look=look if look in LOOKS and chosen.looks else "standard",
        megabytes=_number(megabytes, "Megabytes", MEGABYTES) if megabytes.strip() and sized else None,
        kilobits=round(_number(kilobits, "Kilobits a second", KILOBITS)) if kilobits.strip() and sized else None,
        rate=wanted if chosen.picture and not chosen.frames else None,
        clear=clear and chosen.clear,
        at=max(0, at) if chosen.frames else 0,
    )


def refuse_unmakeable(making: Making, promo: Promo, short_side: int) -> None:
    """Refuses a form that does not suit a promo or a size, in a sentence."""
    form = making.film_form
    if form.picture and short_side not in form.sides:
        raise Refusal("size", f"{form.label} is made in {', '.join(f'{side}p' for side in form.sides)}.")
    lasts = seconds(timeline(promo).length)
    if form.most_seconds and lasts > form.most_seconds:
        raise Refusal(
            "too-long",
            f"{form.label} lasts {form.most_seconds} seconds at the most, and this promo {lasts:.0f}.",
            "Choose a film, or make a shorter promo of it.",
        )
    if making.megabytes is not None and _bits_left(making, promo) < KILOBITS[0] * 1000 and form.sound:
        least = lasts * (KILOBITS[0] * 1000 + form.sound_bits) / 8e6
        raise Refusal("size", f"{lasts:.0f} seconds do not fit into {making.megabytes:g} MB.",
                      f"Allow {least + 0.05:.1f} MB or more, or choose a shorter promo.")  # fmt: skip


MARGIN = 0.96
"""So much of a wanted size is given to sound and picture; the rest is the file's own."""


def _bits_left(making: Making, promo: Promo) -> float:
    """How many bits a second are left for the picture of a film that is to be of a size."""
    assert making.megabytes is not None
    whole = making.megabytes * 8e6 * MARGIN / max(0.1, seconds(timeline(promo).length))
    return whole - (making.film_form.sound_bits if making.film_form.sound else 0)


def picture_bits(making: Making, promo: Promo) -> int | None:
    """Bits a second of the picture where it is made to a size or a rate of bits; nothing where it goes by look."""
    if making.kilobits is not None:
        return making.kilobits * 1000
    if making.megabytes is not None:
        return round(_bits_left(making, promo))
    return None


def as_made(promo: Promo, making: Making) -> Promo:
    """The promo as a file of it is made: at its rate, and without a background where it is to be seen through."""
    changes: dict[str, object] = {}
    if making.rate is not None and making.rate != promo.rate:
        changes["rate"] = making.rate
    if making.clear:
        changes["background"] = NO_BACKGROUND
    return promo.model_copy(update=changes) if changes else promo


NO_BACKGROUND = ""
"""A background that is not there: only what is made of a promo has it, never a promo that is kept."""


def expected_bytes(making: Making, promo: Promo, size: tuple[int, int], measured: float | None = None) -> int:
    """About how large a file will be. `measured` is how many bits a pixel took in a file of the same promo that was
    made before, if there is one; else what the form usually takes."""
    form = making.film_form
    rate = (making.rate or promo.rate).fraction
    lasts = seconds(timeline(promo).length)
    told = picture_bits(making, promo)
    sound = form.sound_bits * lasts if form.sound else 0.0
    if not form.picture:
        return round(sound / 8)
    if making.megabytes is not None:
        # A small promo may need less than it may have.
        told = min(told or 0, round(expected_bits(making, size, rate, measured)))
    if told is not None:
        return round((told * lasts + sound) / 8)
    frames = form.frames or lasts * float(rate)
    per_pixel = measured or form.bits[list(LOOKS).index(making.look)]
    return round((per_pixel * size[0] * size[1] * frames + sound) / 8)


def expected_bits(making: Making, size: tuple[int, int], rate: Fraction, measured: float | None) -> float:
    """Bits a second of a picture that goes by its finest look."""
    return (measured or making.film_form.bits[2]) * size[0] * size[1] * float(rate)


def bits_per_pixel(making: Making, size: tuple[int, int], frames: int, lasts: float, file_bytes: int) -> float:
    """How many bits a pixel took in a file of so many frames and seconds that was made."""
    form = making.film_form
    sound = form.sound_bits * lasts if form.sound else 0.0
    return max(0.001, (file_bytes * 8 - sound) / (size[0] * size[1] * frames))
