"""How well layers lie in shapes that a promo was not made in: as they are pinned, and laid out by rule."""

from __future__ import annotations

import hashlib
import statistics
import time
from collections.abc import Callable, Iterator
from itertools import count
from pathlib import Path

import cv2

from benchmarks.held_out import HELD_OUT, LOOKED_AT, made
from glowreel.core.arrangement import Score, score_of
from glowreel.core.document import Promo
from glowreel.core.formats import SHIPPED
from glowreel.core.media import Media
from glowreel.core.subject import Subject
from glowreel.core.template.build import Kit, build, own_brand
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.demo.scenario import FILES, MEDIA
from glowreel.designs import shipped
from glowreel.engine.probe import Facts, probe
from glowreel.engine.subject import frames_of, subject_of_footage, subject_of_photo
from glowreel.engine.typesetting import measure
from glowreel.templates import patterns

Show = Callable[[str, str, str, bool], None]


def samples() -> dict[str, Media]:
    """The samples of templates, with what was found of their subjects."""
    found = {}
    for name in FILES:
        path, still = MEDIA / name, name.endswith((".jpg", ".svg"))
        facts = probe(path, name)
        found[name] = Media(
            id=name.replace(".", "-"), kind=facts.kind, name=name, hash=hashlib.sha256(name.encode()).hexdigest(),
            length=0 if still else facts.length, width=facts.width, height=facts.height, rate=facts.rate,
            subject=_subject(path, facts),
        )  # fmt: skip
    return found


def _subject(path: Path, facts: Facts) -> Subject | None:
    if facts.kind == "footage":
        return subject_of_footage(frames_of(path), lambda share: None, facts.length / TICKS_PER_SECOND)
    if path.suffix == ".jpg":
        pixels = cv2.imread(str(path))
        scale = 480 / min(pixels.shape[:2])
        small = cv2.resize(pixels, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
        return subject_of_photo(cv2.cvtColor(small, cv2.COLOR_BGR2BGRA))
    return None


def templates() -> Iterator[Promo]:
    """Every shipped template, in every shipped shape."""
    numbers = count(1)
    kit = Kit(samples(), shipped(), lambda prefix: f"{prefix}{next(numbers)}")
    for pattern in patterns().values():
        yield build(pattern, tuple(SHIPPED.values()), own_brand(pattern), kit)


def told(name: str, promos: list[Promo], show: Show) -> None:
    """The layout score of several promos, over all shapes: on average, at the worst, how many are sound, and how much
    of their subjects is cut off."""
    scores: dict[bool, list[Score]] = {False: [], True: []}
    took = []
    for promo in promos:
        for format in promo.formats:
            scores[False].append(score_of(promo, format, measure, by_rule=False))
            began = time.perf_counter()
            scores[True].append(score_of(promo, format, measure))
            took.append(time.perf_counter() - began)
    for by_rule, found in scores.items():
        points = [score.points for score in found]
        sound = sum(score.sound for score in found)
        cut = statistics.mean(score.cut_heads for score in found)
        figure = (
            f"mean {statistics.mean(points):.1f}, worst {min(points):.1f}, {sound} of {len(found)} sound, cut {cut:.1%}"
        )
        budget = "all sound" if by_rule else "(to compare)"
        show(f"{name}, {'by rule' if by_rule else 'as pinned'}", figure, budget, not by_rule or sound == len(found))
    show(f"  to work it out, {len(took)} shapes", f"median {statistics.median(took) * 1000:.0f} ms", "< 80 ms",
         statistics.median(took) < 0.08)  # fmt: skip


def layout(show: Show) -> None:
    for held in HELD_OUT:
        promo = made(held, measure)
        for by_rule in (False, True):
            found = [score_of(promo, format, measure, by_rule=by_rule) for format in promo.formats]
            figure = " ".join(f"{score.points:.0f}" for score in found)
            show(f"{held.name} ({held.made_in}), {'by rule' if by_rule else 'as pinned'}", figure,
                 ", ".join(key[:2] for key in SHIPPED), not by_rule or all(score.sound for score in found))  # fmt: skip
    told("ten promos that the rule was found with", [made(held, measure) for held in LOOKED_AT], show)
    told("ten held-out promos", [made(held, measure) for held in HELD_OUT], show)
    told("shipped templates", list(templates()), show)
