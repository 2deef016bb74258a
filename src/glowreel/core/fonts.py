"""The families of letters that are shipped, by manner. Their files lie with the engine, one for each weight."""

from __future__ import annotations

from dataclasses import dataclass

MANNERS: dict[str, str] = {
    "sans": "Plain",
    "display": "For large words",
    "condensed": "Narrow",
    "serif": "With serifs",
    "slab": "With strong serifs",
    "rounded": "Round",
    "hand": "By hand",
    "script": "Joined up",
    "mono": "Each letter as wide",
}
"""Manners in which letters are drawn, in the order of the list."""


@dataclass(frozen=True)
class Family:
    """A family: its manner, and the weights that there are of it, upright and in italics."""

    name: str
    manner: str
    weights: tuple[int, ...]
    italics: tuple[int, ...] = ()


def _of(manner: str, **families: tuple[tuple[int, ...], tuple[int, ...]] | tuple[int, ...]) -> list[Family]:
    made = []
    for key, weights in families.items():
        upright, italics = weights if isinstance(weights[0], tuple) else (weights, ())
        made.append(Family(key.replace("_", " "), manner, upright, italics))
    return made


FAMILIES: tuple[Family, ...] = (
    *_of(
        "sans", Instrument_Sans=(400, 600, 700), Work_Sans=((400, 700, 900), (400, 700)),
        DM_Sans=((400, 700, 900), (400, 700)), Manrope=(400, 600, 800), Outfit=(300, 500, 800), Sora=(400, 700),
    ),
    *_of(
        "display", Bricolage_Grotesque=(400, 600, 800), Archivo_Black=(400,), Syne=(500, 800), Unbounded=(400, 800),
        Space_Grotesk=(400, 700), Righteous=(400,), Bungee=(400,), Abril_Fatface=(400,), Monoton=(400,),
    ),
    *_of(
        "condensed", Oswald=(400, 700), Bebas_Neue=(400,), Barlow_Condensed=((400, 600, 800), (400, 600)),
        Anton=(400,), Saira_Condensed=(400, 700, 900), Archivo_Narrow=((400, 700), (400, 700)),
        Big_Shoulders=(400, 700, 900),
    ),
    *_of(
        "serif", Fraunces=(400, 600, 900), Playfair_Display=((400, 700, 900), (400, 700)),
        Lora=((400, 700), (400, 700)), DM_Serif_Display=((400,), (400,)),
    ),
    *_of(
        "slab", Zilla_Slab=((400, 700), (400, 700)), Arvo=((400, 700), (400, 700)), Bitter=((400, 700, 900), (400,)),
        Alfa_Slab_One=(400,),
    ),
    *_of(
        "rounded", Nunito=((400, 700, 900), (400, 700)), Fredoka=(400, 700), Quicksand=(400, 700), Baloo_2=(500, 800),
        Comfortaa=(400, 700), Varela_Round=(400,),
    ),
    *_of("hand", Caveat=(400, 700), Kalam=(400, 700), Patrick_Hand=(400,), Gochi_Hand=(400,)),
    *_of("script", Pacifico=(400,), Dancing_Script=(400, 700), Great_Vibes=(400,), Sacramento=(400,), Lobster=(400,)),
    *_of("mono", Space_Mono=(400, 700), Courier_Prime=((400, 700), (400, 700)), Inconsolata=(400, 700)),
)  # fmt: skip
FONTS: dict[str, Family] = {family.name: family for family in FAMILIES}
"""Every shipped family by its name."""
USUAL = "Bricolage Grotesque"
"""What letters are set in where nothing is said, or a family is not here."""
ANY = Family("", "sans", (400, 700))
"""What is taken to be there of a family that is not known."""
