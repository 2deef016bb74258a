"""A promo in which everything that can be done to a picture is done to one."""

from __future__ import annotations

from glowreel.core import commands as c
from glowreel.core.document import Promo
from glowreel.core.effects import EFFECTS
from glowreel.core.media import Media
from glowreel.core.time import ticks
from tests.core.build import sets
from tests.engine.build import promo_of

FILES = ("over-the-fields.mp4", "landing.mp4", "picnic.jpg", "pilot-green.jpg", "hollowmere-logo.svg")
MIDDLE = {"pin": (0.5, 0.5), "place": (0.0, 0.0)}
STILL = {"arrives": "none", "leaves": "none"}
GRADED = {
    "exposure": 0.2, "contrast": 0.15, "highlights": -0.2, "shades": 0.2, "whites": 0.1, "blacks": -0.1,
    "saturation": 0.1, "vibrance": 0.2, "warmth": 0.2, "tint": -0.1, "fade": 0.1, "clarity": 0.2, "sharpen": 0.2,
    "vignette": 0.4, "wash": 0.3, "curve_all": [[0.2, 0.22], [0.8, 0.78]], "curve_red": [[0.5, 0.53]],
    "filter": "harvest", "filter_strength": 0.6,
}  # fmt: skip
"""Everything of colour but grain, which is as fine as the picture is large."""
RUN = ("light-leak", "shake", "flash", "pulse", "duotone", "mirror", "kaleidoscope")
"""Effects in turn, a second each; those that draw as fine as the picture is large are compared by themselves."""


def everything(media: dict[str, Media]) -> Promo:
    """Eight seconds: two clips and a photo on the main track, six layers, adjustments one after another."""
    assert set(RUN) <= set(EFFECTS)
    promo = promo_of(media["over-the-fields.mp4"], media["landing.mp4"], media["picnic.jpg"])
    first, second, photo = (clip.id for clip in promo.clips)
    commands: list[c.Command] = [
        c.Trim(item=first, length=ticks(3)), c.Trim(item=second, length=ticks(3)), c.Trim(item=photo, length=ticks(2)),
        c.SetSpeed(item=second, speed=500), c.Trim(item=second, length=ticks(3)),
        c.SetTransition(after=first, kind="spin", length=ticks(0.8)),
        sets(first, **GRADED), sets(first, crop_left=0.1, flip_across=True, turn=3.0, zoom=1.2),
        sets(second, fit="letterbox", zoom=0.8, ground="blurred", between="blend", border=0.004, drop=0.3),
        c.PanZoom(items=(photo,), preset="corner-to-corner"), sets(photo, soften=0.2, opacity=0.8),
        c.SetGround(values={"ground": "pattern", "ground_pattern": "waves"}),
    ]  # fmt: skip
    for n, (name, values) in enumerate((
        ("landing.mp4", {"mask": "heart", "mask_feather": 0.3, "size": 0.5, "corner": 0.3, "glow": 0.5, **STILL}),
        ("pilot-green.jpg", {"cutout": "colour", "key_colour": "#00B140", "size": 0.6, "reflection": 0.4, **STILL}),
        ("picnic.jpg", {"blend": "soft-light", "size": 1.6, "opacity": 0.6, **MIDDLE, **STILL}),
        ("hollowmere-logo.svg", {"stays": "pulse", "arrives": "pop", "size": 0.3, "pin": (0.0, 1.0)}),
    )):  # fmt: skip
        _add(media, commands, c.AddPicture(media=media[name].id, at=ticks(n), whole=n < 3), values)
    moves = {"points": [{"at": 0, "value": 0.1, "ease": "spring"}, {"at": ticks(2), "value": 0.2}]}
    _add(media, commands, c.AddWords(text="Breakfast\nat 600 metres", at=0, length=ticks(3)),
         {"size": moves, "shadow": 0.3})  # fmt: skip
    _add(media, commands, c.AddWords(text="DAWN", at=ticks(6), length=ticks(1)), {"sheet": "#102030", "size": 0.4})
    for n, kind in enumerate(RUN):
        _add(media, commands, c.AddAdjustment(at=ticks(n), length=ticks(1)), {"mask": "ellipse", "opacity": 0.7})
        key = _newest(media, commands[:-2], commands[:-1])
        commands.append(c.AddEffect(items=(key,), effect=kind, values={}))
    return promo_of(*_clips(media), commands=tuple(commands), shelf=tuple(media.values()))


def _clips(media: dict[str, Media]) -> tuple[Media, ...]:
    return media["over-the-fields.mp4"], media["landing.mp4"], media["picnic.jpg"]


def _promo(media: dict[str, Media], commands: list[c.Command]) -> Promo:
    return promo_of(*_clips(media), commands=tuple(commands), shelf=tuple(media.values()))


def _newest(media: dict[str, Media], before: list[c.Command], after: list[c.Command]) -> str:
    """The layer that the last command made."""
    old = {item.id for item in _promo(media, before).items}
    return next(item.id for item in _promo(media, after).items if item.id not in old)


def _add(media: dict[str, Media], commands: list[c.Command], command: c.Command, values: dict[str, object]) -> None:
    """Adds a command that makes a layer, and one that sets values of it."""
    key = _newest(media, commands, [*commands, command])
    commands += [command, sets(key, **values)]
