"""The boxes of the timeline as HTML.

Written here rather than in a template because a long promo has many hundred of them in every answer to an edit: this
takes a tenth of the time. Everything that people typed passes through `escape`.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from markupsafe import Markup, escape

from glowreel.core.media import Media
from glowreel.core.timeline import Cut

TICKS = 705_600_000


@dataclass(frozen=True)
class Row:
    """One clip or item as a box on the timeline; times in seconds."""

    id: str
    kind: str
    label: str
    start: float
    length: float
    limit: float
    icon: str
    media: Media | None
    source_in: float
    strip: dict[str, Any] | None
    tied: str = ""
    muted: bool = False
    gain: float = 0.0
    fade_in: float = 0.0
    fade_out: float = 0.0


def box(row: Row, track: str, chosen: bool) -> Markup:
    """A box with the data by which the page's scripts lay it out, paint it and drag it."""
    label = escape(row.label)
    data = (
        f'data-id="{row.id}" data-kind="{row.kind}" data-start="{row.start:.9g}" data-length="{row.length:.9g}" '
        f'data-limit="{row.limit:.9g}" data-source="{row.source_in:.9g}" data-track="{track}" data-tied="{row.tied}"'
    )
    if row.media is not None:
        data += f' data-media="{row.media.id}" data-sounding="{int(row.media.sounding)}"'
        if row.strip:
            data += f' data-tiles="{row.strip["tiles"]}" data-step="{row.strip["step"] / TICKS:.9g}"'
    if row.kind == "sound":
        data += f' data-gain="{row.gain:g}" data-fade-in="{row.fade_in:.6g}" data-fade-out="{row.fade_out:.6g}"'
    look = f"item is-{row.kind}{' is-muted' if row.muted else ''}{' is-chosen' if chosen else ''}"
    mute = ' <i class="bi bi-volume-mute" aria-hidden="true"></i>' if row.muted else ""
    return Markup(
        f'<button type="button" class="{look}" {data} aria-label="{label}, {row.length:.1f} s, at {row.start:.1f} s">'
        f'<canvas class="item-art" aria-hidden="true"></canvas>'
        f'<span class="item-label"><i class="bi bi-{row.icon}" aria-hidden="true"></i> {label}{mute}</span>'
        f'<span class="grip grip-start" data-grip="start"></span>'
        f'<span class="grip grip-end" data-grip="end"></span></button>'
    )


KINDS = {"crossfade": ("crossfade", "intersect"), "dip-black": ("dip to black", "circle-half"),
         "dip-white": ("dip to white", "circle-half")}  # fmt: skip


def cut_button(before: str, at: float, cut: Cut | None) -> Markup:
    """The handle on a cut: the transition there, or the offer to put one."""
    if cut is None:
        words, icon, look, extra = f"Put a transition on the cut at {at:.1f} s", "plus", "cut", ""
    else:
        name, icon = KINDS[cut.transition.kind]
        words, look = f"{name.capitalize()} at {at:.1f} s: change it", "cut has-transition"
        extra = f' data-length="{cut.span.length / TICKS:.9g}"'
    return Markup(
        f'<button type="button" class="{look}" data-cut="{before}" data-start="{at:.9g}"{extra} title="{words}" '
        f'aria-label="{words}"><i class="bi bi-{icon}" aria-hidden="true"></i></button>'
    )
