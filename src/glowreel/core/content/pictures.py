"""Pictures: footage and photos on the main track, and either in front of it."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from glowreel.core.content.kind import Drawn, Kind
from glowreel.core.content.seen import Seen
from glowreel.core.derived import Need
from glowreel.core.layout import Box, cropped, framed, picture_size, placed
from glowreel.core.media import Media
from glowreel.core.place import Framing
from glowreel.core.recipe.model import DrawPicture, Matte, Steady
from glowreel.core.source import Source
from glowreel.core.subject import focus_of
from glowreel.core.time import TICKS_PER_SECOND

if TYPE_CHECKING:
    from glowreel.core.document import Part, Promo
    from glowreel.core.formats import Format
    from glowreel.core.words import Words

ON_TIME = 2 * TICKS_PER_SECOND // 1000
"""How much later than asked for a source frame may begin and still be the one on show."""


def cut_out(media: Media, source: Source) -> Need | None:
    """What has to be found of a photo that is cut out in the place that it fills; None where it is shown whole."""
    return Need(media.hash, "things") if source.cut and media.still else None


def source_frame(media: Media, source: Source, moment: int) -> int:
    """The start of the source frame on show, held at either end of the media; 0 for photos.

    A frame that comes up to 2 ms late counts as on time, so that 29.97 frames a second in a promo of 30 run on and drop
    one now and then, instead of showing the first one twice. Backwards, frames end where they begin otherwise.
    """
    if media.still:
        return 0
    last = max(0, media.length - 1)
    at = min(max(0, source.shown(moment)), last)
    if media.rate is None:
        return at
    late = 0 if source.speed is not None and source.speed.backwards else ON_TIME
    return media.rate.frame_start(media.rate.frame_floor(min(at + late, last)))


def _named(part: Part, media: Media | None) -> str:
    return media.name if media is not None else part.name


def _clip_called(part: Part, media: Media | None) -> str:
    return part.name or _named(part, media)


SIDES = ("crop_left", "crop_top", "crop_right", "crop_bottom")
LEAST_LEFT = 0.02
"""What is left of a picture at least, however much is cut off."""


def crop_of(seen: Seen) -> tuple[float, float, float, float]:
    """What is cut off a picture: left, top, right, bottom, as shares. A strip of it always stays."""
    left, top, right, bottom = (seen(name) for name in SIDES)
    return left, top, min(right, 1 - LEAST_LEFT - left), min(bottom, 1 - LEAST_LEFT - top)


def _picture(seen: Seen, media: Media, at: int, box: Box, crop: tuple[float, float, float, float]) -> DrawPicture:
    flip, matte = (seen("flip_across"), seen("flip_down")), None
    how = seen("cutout")
    if how == "people" or (how == "things" and media.still):
        strokes = seen("cut_strokes") if how == "things" else ()
        need = Need(media.hash, how, (("cut_strokes", strokes),) if strokes else ())
        matte = Matte(need, seen("cut_grow"), seen("cut_soft"), seen("cut_largest"))
    steady = seen("steady") if not media.still else 0.0
    return DrawPicture(
        media.hash, media.still, at, box, not media.alpha and seen("cutout") == "none",
        crop=crop if any(crop) else None, flip=flip, matte=matte,
        steady=Steady(Need(media.hash, "steady"), round(steady, 6)) if steady > 0 else None,
    )  # fmt: skip


def _pictures(
    seen: Seen, media: Media, source: Source, box: Box, crop: tuple[float, float, float, float]
) -> tuple[DrawPicture, ...]:
    """What of a picture is on show at the moment: mostly one frame of it; of slowed footage what lies between two."""
    shown = _picture(seen, media, source_frame(media, source, seen.moment), box, crop)
    how = seen("between")
    if how == "nearest" or media.rate is None or source.speed is None or media.still:
        return (shown,)
    exact = min(max(0, source.shown(seen.moment)), max(0, media.length - 1))
    if how == "flow":
        return (replace(shown, at=exact, between=Need(media.hash, "flow")),)
    begin = media.rate.frame_start(media.rate.frame_floor(exact))
    after = media.rate.frame_start(media.rate.frame_floor(exact) + 1)
    share = round((exact - begin) / (after - begin), 3)
    if after >= media.length or share <= 0:
        return (replace(shown, at=begin),)
    return replace(shown, at=begin), replace(shown, at=after, opacity=share)


def _draws_clip(seen: Seen) -> Drawn | None:
    media, source = seen.media, seen.part.source
    if media is None or source is None:
        return None
    left, top, right, bottom = crop = crop_of(seen)
    width, height = media.width * (1 - left - right), media.height * (1 - top - bottom)
    box = framed(_framing(seen, media, source, crop), seen.format, width, height)
    return Drawn(_pictures(seen, media, source, box, crop), box, seen("turn"))


def framing_of(promo: Promo, part: Part, format: Format, moment: int | None = None) -> Framing:
    """How a picture meets the frame at a moment of the part's own time, its subject kept in view where nothing else
    was said; at its beginning, if no moment is given."""
    seen = Seen(promo, part, format, part.into if moment is None else moment, _unmeasured)
    media, source = seen.media, part.source
    return seen.framing if media is None or source is None else _framing(seen, media, source, crop_of(seen))


def _unmeasured(words: Words, size: float, wrap: float) -> tuple[float, float]:
    raise AssertionError("a picture has no words to be measured")


def shown_whole(seen: Seen) -> bool:
    """Whether a picture that should cover the frame is shown whole, since too much of it would be cut off there."""
    media = seen.media
    if media is None or seen("fit") != "fill" or "cell" in seen.part.traits:
        return False
    left, top, right, bottom = crop_of(seen)
    picture = media.width * (1 - left - right) / max(1.0, media.height * (1 - top - bottom))
    frame = seen.format.canon[0] / seen.format.canon[1]
    return bool(1 - min(picture / frame, frame / picture) > seen("most_cut"))


def _framing(seen: Seen, media: Media, source: Source, crop: tuple[float, float, float, float]) -> Framing:
    framing = seen.framing
    if shown_whole(seen):
        return replace(framing, fit="letterbox")
    focus = _subject_focus(seen, media, source, framing, crop)
    return framing if focus is None else replace(framing, focus=focus)


def _subject_focus(
    seen: Seen, media: Media, source: Source, framing: Framing, crop: tuple[float, float, float, float]
) -> tuple[float, float] | None:
    """Where the subject of a picture that is cropped is, in shares of what is left of it; None where its focus was set
    by hand, nothing is known of it, or nothing is to be followed."""
    if media.subject is None or seen.part.says("focus", seen.format.id):
        return None
    left, top, right, bottom = crop
    wide, high = 1 - left - right, 1 - top - bottom
    whole = framed(framing, seen.format, media.width * wide, media.height * high)
    frame = seen.format.canon
    views = (min(1.0, frame[0] / whole.width) * wide, min(1.0, frame[1] / whole.height) * high)
    at = 0 if media.still else min(max(0, source.shown(seen.moment)), max(0, media.length - 1))
    found = focus_of(media.subject, at, views, seen("follow"))
    if found is None:
        return None
    across, down = (found[0] - left) / wide, (found[1] - top) / high
    across = 1 - across if seen("flip_across") else across
    down = 1 - down if seen("flip_down") else down
    return min(1.0, max(0.0, across)), min(1.0, max(0.0, down))


def filling(media: Media, source: Source, rect: Box, moment: int) -> Box:
    """The rectangle into which a picture is drawn so that it covers a place, cropped about what was said, else about
    its subject, else about its middle."""
    focus = source.focus
    if focus == (0.5, 0.5) and media.subject is not None:
        box = cropped(rect, media.width, media.height)
        views = min(1.0, rect.width / max(1e-6, box.width)), min(1.0, rect.height / max(1e-6, box.height))
        at = 0 if media.still else min(max(0, source.shown(moment)), max(0, media.length - 1))
        focus = focus_of(media.subject, at, views) or focus
    return cropped(rect, media.width, media.height, focus)


def _draws_layer(seen: Seen) -> Drawn | None:
    media, source = seen.media, seen.part.source
    if media is None or source is None:
        return None
    place = seen.place
    left, top, right, bottom = crop = crop_of(seen)
    width, height = picture_size(place, media.width, media.height)
    width, height = width * (1 - left - right) * seen("stretch"), height * (1 - top - bottom)
    box = placed(place, seen.format, width, height)
    return Drawn(_pictures(seen, media, source, box, crop), box, place.turn)


FOOTAGE = Kind(
    "footage", "Footage", "footage on the main track", "main",
    frozenset({"seen", "framed", "heard", "pictured", "celled"}), frozenset({"footage"}), _clip_called, _draws_clip,
)  # fmt: skip
PHOTO = Kind(
    "photo", "Photo", "a photo on the main track", "main", frozenset({"seen", "framed", "pictured", "celled"}),
    frozenset({"photo"}),
    _clip_called, _draws_clip,
)  # fmt: skip
PICTURE = Kind(
    "picture", "Picture layer", "a photo, logo or footage in front of the main track", "layer",
    frozenset({"seen", "placed", "pictured", "loose", "tinted"}), frozenset({"footage", "photo"}), _named, _draws_layer,
)  # fmt: skip
