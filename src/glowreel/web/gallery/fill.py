"""Filling a template: a page without a timeline that leads from slot to slot, with the promo playing beside it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Response, render_template, request
from flask_login import login_required
from pydantic import ValidationError
from sqlalchemy.orm import Session

from glowreel.core.brand import Brand
from glowreel.core.commands import Command, FillSlot, LeaveOut
from glowreel.core.commands.slots import free_scenes, scene_of
from glowreel.core.commands.template import held
from glowreel.core.document import Promo
from glowreel.core.errors import Missing, Refusal
from glowreel.core.formats import RESOLUTIONS, Format
from glowreel.core.media import Media
from glowreel.core.recipe.needs import needs
from glowreel.core.setting import row_of
from glowreel.core.slots import FILLS, SLOT_KINDS, SOURCE, Slot
from glowreel.core.source import Source
from glowreel.core.time import MAX_TICKS, TICKS_PER_SECOND, seconds
from glowreel.core.timeline import timeline
from glowreel.services import brands, needed, promos, shelf, templates
from glowreel.services.access import authorise
from glowreel.services.promos import Opened
from glowreel.store.models import MediaFile
from glowreel.web.editor.checking import told
from glowreel.web.editor.view import json_text
from glowreel.web.extensions import actor, the_preview, transaction
from glowreel.web.gallery.routes import MOMENT, blueprint

SHOWN_MATERIAL = 48
"""So many files of the Shelf are offered for a slot at once; a search finds the others."""
BESIDE = frozenset({"reading-time", "size", "box", "frame", "overlap", "letters", "face", "contrast", "link", "coarse"})
"""The checks that are said beside a slot."""


@dataclass(frozen=True)
class Step:
    """A slot as the page shows it: what stands in it, in which scene, on which frame it is best seen, and how long its
    part lasts in seconds."""

    slot: Slot
    scene: str
    frame: int
    lasts: float
    text: str = ""
    media: Media | None = None
    at: float = 0.0
    focus: tuple[float, float] = (0.5, 0.5)
    cut: bool = False
    shape: str = ""

    @property
    def cuttable(self) -> bool:
        """Whether the thing in it can be cut out: of photos that stand in designs."""
        return self.media is not None and self.media.still and self.slot.of != SOURCE and self.slot.kind != "logo"

    @property
    def holds(self) -> str:
        return SLOT_KINDS[self.slot.kind].holds

    @property
    def spare(self) -> float:
        """Seconds of the material that the place does not show: how far its beginning can be moved."""
        if self.media is None or not self.media.length:
            return 0.0
        return max(0.0, seconds(self.media.length) - self.lasts)


def _step(promo: Promo, slot: Slot, format: Format) -> Step:
    index = timeline(promo)
    part = index.find_part(slot.part)
    span = index.span_of(part)
    scene = scene_of(promo, part)
    at = span.start + int(span.length * (0.3 if scene is None else MOMENT))
    said, frame = held(promo, slot), promo.rate.frame_floor(min(at, max(0, index.length - 1)))
    common: dict[str, Any] = {
        "scene": scene.id if scene is not None else "", "frame": frame, "lasts": seconds(span.length),
    }  # fmt: skip
    if SLOT_KINDS[slot.kind].holds == "words":
        return Step(slot, text=str(said or ""), **common)
    if not isinstance(said, Source):
        return Step(slot, **common)
    focus = said.focus
    if slot.of == SOURCE and row_of(part, "focus") is not None:
        focus = part.read("focus", format.id)
    return Step(
        slot, media=promo.media.get(said.media), at=seconds(max(0, said.exact(part.into).__floor__())), focus=focus,
        cut=said.cut, shape=_shape(promo, slot), **common,
    )  # fmt: skip


def _shape(promo: Promo, slot: Slot) -> str:
    """The shapes in which what fills the frame is seen, for whoever looks for a picture; empty for what lies in it."""
    clip = timeline(promo).clip.get(slot.part) if slot.of == SOURCE else None
    if clip is None or clip.read("fit") != "fill":
        return ""
    return ", ".join(dict.fromkeys(f"{format.wide}:{format.high}" for format in promo.formats))


def steps(promo: Promo) -> list[Step]:
    """Every slot in the order in which people fill them: scene by scene, then what lasts throughout."""
    found = [_step(promo, slot, promo.formats[0]) for slot in promo.slots]
    order = {scene.id: n for n, scene in enumerate(promo.scenes)}
    return sorted(found, key=lambda step: order.get(step.scene, len(order)))


def _context(work: Session, opened: Opened) -> dict[str, Any]:
    promo = opened.promo
    index = timeline(promo)
    found = steps(promo)
    names = {scene.id: scene.name for scene in promo.scenes}
    return {
        "promo": promo, "opened": opened, "steps": found, "names": names, "frames": index.frame_count,
        "fps": promo.rate.num / promo.rate.den, "free": free_scenes(promo),
        "done": sum(step.slot.filled for step in found), "length": index.length,
        "behind": bool(templates.behind(work, [opened.row])),
    }  # fmt: skip


@blueprint.get("/promos/<promo_id>/fill")
@login_required
def fill_page(promo_id: str) -> str:
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
        return render_template(
            "gallery/fill.html", resolutions=RESOLUTIONS, **_context(work.session, opened)
        )  # fmt: skip


def _find_step(promo: Promo, key: str) -> Step:
    for step in steps(promo):
        if step.slot.id == key:
            return step
    raise Missing("gone", "That slot is no longer there.", "Reload the page.")


@blueprint.get("/promos/<promo_id>/fill/<slot>")
@login_required
def fill_card(promo_id: str, slot: str) -> str:
    """One slot to be filled, with what may be put in."""
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
        step = _find_step(opened.promo, slot)
        return render_template(
            "gallery/slot.html", step=step, promo=opened.promo, **_material(work.session, step, opened.promo.brand)
        )


def _material(work: Session, step: Step, brand: Brand) -> dict[str, Any]:
    """The files of the Shelf that may fill a slot, those of the brand first."""
    if step.holds == "words":
        return {"material": [], "find": ""}
    find = request.args.get("find", "")
    wanted = {"sound"} if step.holds == "sound" else {"photo"} if step.slot.kind == "logo" else {"footage", "photo"}
    rows = [row for row in shelf.list_media(work, actor(), find)
            if row.usable and row.facts and row.facts["kind"] in wanted]  # fmt: skip
    order = brands.material_of(work, actor(), brand)
    logos, place = set(brand.logos.values()), {key: n for n, key in enumerate(order)}
    rows.sort(key=lambda row: (step.slot.kind == "logo" and row.id not in logos, place.get(row.id, len(place))))
    if step.holds == "sound":
        rows.sort(key=lambda row: float(row.facts["length"]) / TICKS_PER_SECOND < step.lasts)  # type: ignore[index]
    return {"material": rows[:SHOWN_MATERIAL], "find": find}


def _number(name: str, least: float, most: float) -> float | None:
    """A number from the form, held within limits; None where there is none."""
    try:
        value = float(request.form.get(name, ""))
    except ValueError:
        return None
    return min(most, max(least, value)) if value == value else None


def _command(promo: Promo, step: Step) -> Command:
    """The command that the form asks for. What it does not say of a picture stays as it is."""
    if step.holds == "words":
        text = request.form.get("text", "").replace("\r\n", "\n")
        return FillSlot(slot=step.slot.id, text=text[:600])
    media = request.form.get("media") or (step.media.id if step.media else "")
    same = step.media is not None and media == step.media.id
    across, down, at = _number("across", 0, 1), _number("down", 0, 1), _number("at", 0, 1e5)
    focus = step.focus if same else (0.5, 0.5)
    begins = at if at is not None else step.at if same else 0.0
    cut = request.form.get("cut", "1" if same and step.cut else "") == "1"
    return FillSlot(
        slot=step.slot.id, media=media, cut=cut, source_in=min(MAX_TICKS, round(begins * TICKS_PER_SECOND)),
        focus=(focus[0] if across is None else across, focus[1] if down is None else down),
    )  # fmt: skip


@blueprint.post("/promos/<promo_id>/fill/<slot>")
@login_required
def fill(promo_id: str, slot: str) -> Response:
    """Fills a slot with what the form says. A file that is still looked at is waited for: then the answer says so."""
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
        step = _find_step(opened.promo, slot)
        media = request.form.get("media", "")
        if media:
            row = authorise(work.session, MediaFile, media, actor(), "see")
            if not row.usable and row.state in ("queued", "running"):
                return _json({"waits": True, "progress": row.progress}, 202)
            if not row.usable:
                raise Refusal("unreadable", row.error or f"{row.name} could not be read.", "Choose another file.")
        command = _command(opened.promo, step)
        opened, _ = promos.edit(work.session, promo_id, actor(), command, opened.revision, None, the_preview().eyes)
        if needs(opened.promo):
            needed.begin(work, opened.promo, actor())
        return _answer(work.session, opened, slot)


def _leaving(scene: str) -> Command:
    """The command that leaves a scene out; whatever is sent in its place names none."""
    try:
        return LeaveOut(scene=scene)
    except ValidationError as error:
        raise Missing("gone", "That scene is no longer there.", "Reload the page.") from error


@blueprint.post("/promos/<promo_id>/fill-step")
@login_required
def fill_step(promo_id: str) -> Response:
    """Undo, redo, or a scene that is left out; answers with the page's list as it is then."""
    what = request.form.get("what", "")
    with transaction() as work:
        if what in ("undo", "redo"):
            opened = promos.step(work.session, promo_id, actor(), back=what == "undo")
        else:
            opened, _ = promos.edit(work.session, promo_id, actor(), _leaving(what))
        return _answer(work.session, opened, "")


def _answer(work: Session, opened: Opened, slot: str) -> Response:
    """What the page needs after a change: its list, its numbers, and the slot as it is now."""
    context = _context(work, opened)
    lists = render_template("gallery/steps.html", **context)
    answer = {
        "rev": opened.revision, "frames": context["frames"], "length": f"{seconds(context['length']):.1f} s",
        "list": lists, "done": context["done"],
        "total": len(context["steps"]), "undo": opened.undo, "redo": opened.redo,
    }  # fmt: skip
    if slot:
        step = _find_step(opened.promo, slot)
        if step.holds != "words":
            answer["card"] = render_template("gallery/slot.html", step=step, promo=opened.promo,
                                             **_material(work, step, opened.promo.brand))  # fmt: skip
    return _json(answer)


def _json(answer: dict[str, Any], status: int = 200) -> Response:
    return Response(json_text(answer), status, mimetype="application/json", headers={"Cache-Control": "no-store"})


@blueprint.get("/promos/<promo_id>/fill-checks")
@login_required
def fill_checks(promo_id: str) -> Response:
    """What the checks find in the slots' parts, by slot: read in time, large enough, inside the frame in every
    format."""
    with transaction() as work:
        promo = promos.open_promo(work.session, promo_id, actor()).promo
    looked = told(promo)
    said: dict[str, list[str]] = {}
    for finding in looked["found"]:
        if finding.check in BESIDE:
            said.setdefault(finding.part, []).append(finding.sentence)
    by_slot = {slot.id: said[slot.part][:3] for slot in promo.slots
               if slot.part in said and not slot.of.startswith(FILLS)}  # fmt: skip
    return _json({"said": by_slot, "whole": looked["whole"]})
