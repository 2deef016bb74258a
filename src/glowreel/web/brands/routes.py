"""The brand book: the team's brands, what each holds, where it is used, and giving it to promos."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, Response, jsonify, redirect, render_template, request, url_for
from flask_login import login_required
from sqlalchemy.orm import Session
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.brand import Brand, Palette, brand_styles, with_roles
from glowreel.core.brand_colours import proposed_roles
from glowreel.core.commands import Context, SwitchBrand, apply
from glowreel.core.errors import Missing, Refusal
from glowreel.core.fonts import FONTS
from glowreel.core.properties import PROPERTIES
from glowreel.core.roles import COLOUR_ROLES, FONT_ROLES, LOGO_ROLES
from glowreel.core.text_styles import STYLES
from glowreel.core.timeline import timeline
from glowreel.core.vocabulary import MOTIONS, TRANSITIONS
from glowreel.designs import shipped
from glowreel.engine.palette import palette_of
from glowreel.engine.type.cards import font_card
from glowreel.interchange import palettes
from glowreel.outside.fetching import PAGE_BYTES
from glowreel.services import brand_pages, brand_sharing, brands, promos, shelf, templates
from glowreel.services.interchange import plain_name
from glowreel.store.models import BrandRow, MediaFile
from glowreel.web.brands.sections import WORDS, changes_of, read_typed
from glowreel.web.editor.routes import changed
from glowreel.web.extensions import absolute, actor, flash, runtime, the_preview, transaction

blueprint = Blueprint("brands", __name__, template_folder="templates")

MOST_USES = 200
"""So many promos are brought up to date at once."""
MOST_PICTURES = 12
"""So many pictures are looked at together for colours."""
SAMPLES = ("two-bars", "paper-card", "button", "new-price", "voucher", "end-card")
"""Designs in which a brand is shown."""


def _usable(file: MediaFile) -> bool:
    """Whether a file can be a brand's material; its fonts have a place of their own."""
    return bool(file.facts and file.facts["kind"] != "font")


def _shown(session: Session, row: BrandRow, found: list[Any] | None = None) -> dict[str, Any]:
    """What the page shows of a brand."""
    ready = [one for one in shelf.list_media(session, actor()) if one.usable and one.facts]
    known = {one.id: one for one in ready}
    book = brands.book_of(row)
    return {
        "row": row, "brand": book, "never": "\n".join(book.never), "tone": "\n".join(book.tone),
        "pictures": [one for one in ready if one.facts and one.facts["kind"] == "photo"],
        "shelf_files": [one for one in ready if _usable(one) and one.id not in book.material],
        "material": [known[key] for key in book.material if key in known],
        "palettes": book.palettes or (Palette(),), "colour_roles": COLOUR_ROLES, "font_roles": FONT_ROLES,
        "logo_roles": LOGO_ROLES, "fonts": FONTS, "styles": STYLES, "style_values": brand_styles(book),
        "cases": PROPERTIES["case"].choices, "transitions": TRANSITIONS, "motions": MOTIONS,
        "scenes": templates.scenes(session, actor()), "samples": SAMPLES, "proposed": found,
        "uses": brands.uses(session, row.id, actor()), "newer": brand_sharing.newer(session, row),
        "link": absolute(url_for("brands.shared", token=row.token)) if row.digest else "",
    }  # fmt: skip


def _as_it_is(session: Session, row: BrandRow, found: list[Any] | None = None) -> str:
    """The part of the page that is a brand, with what was found for it, if anything."""
    return render_template("brands/brand.html", **_shown(session, row, found))


@blueprint.get("/brands")
@login_required
def book() -> str | AnyResponse:
    """All brands; the usual one is open."""
    with transaction() as work:
        rows = brands.list_brands(work.session, actor())
    if rows:
        return redirect(url_for("brands.page", brand_id=rows[0].id))
    return render_template("brands/book.html", rows=[], row=None)


@blueprint.post("/brands")
@login_required
def add() -> AnyResponse:
    with transaction() as work:
        row = brands.add(work.session, actor(), request.form.get("name", ""))
    return redirect(url_for("brands.page", brand_id=row.id))


@blueprint.get("/brands/<brand_id>")
@login_required
def page(brand_id: str) -> str:
    with transaction() as work:
        row = brands.find(work.session, brand_id, actor())
        rows = brands.list_brands(work.session, actor())
        return render_template("brands/book.html", rows=rows, **_shown(work.session, row))


@blueprint.post("/brands/<brand_id>/change")
@login_required
def change(brand_id: str) -> str:
    """Changes one section; answers with the brand as it is now."""
    with transaction() as work:
        book = brands.book_of(brands.find(work.session, brand_id, actor()))
        row = brands.change(work.session, brand_id, actor(), **changes_of(request.form, book))
        return _as_it_is(work.session, row)


@blueprint.post("/brands/<brand_id>/face")
@login_required
def add_face(brand_id: str) -> str:
    """Takes a file of letters into the brand."""
    with transaction() as work:
        row = brands.add_face(work.session, brand_id, actor(), request.form.get("media", ""))
        return _as_it_is(work.session, row)


@blueprint.post("/brands/<brand_id>/undo")
@login_required
def undo(brand_id: str) -> str:
    with transaction() as work:
        row = brands.undo(work.session, brand_id, actor())
        return _as_it_is(work.session, row)


@blueprint.post("/brands/<brand_id>/found")
@login_required
def found(brand_id: str) -> str:
    """Proposes colours, found in the brand's logo or in pictures of the Shelf, with reasons; nothing is changed yet."""
    chosen = request.form.getlist("pictures")[:MOST_PICTURES]
    with transaction() as work:
        row = brands.find(work.session, brand_id, actor())
        wanted = chosen or list(brands.snapshot(row).logos.values())[:1]
        pictures = shelf.posters(work.session, runtime().blobs, actor(), wanted)
        if not pictures:
            raise Refusal("no-logo", "There is no logo to look at yet.", "Choose one first.")
        # What all of them are made of: each picture counts the same.
        palette = [(colour, share / len(pictures)) for one in pictures for colour, share in palette_of(one)]
        return _as_it_is(work.session, row, proposed_roles(palette))


@blueprint.post("/brands/<brand_id>/page")
@login_required
def on_page(brand_id: str) -> str:
    """Proposes what is found of a brand on a web page, by its address or as a saved file; its logo comes on the Shelf,
    the brand itself is not changed yet."""
    sent, address = request.files.get("file"), request.form.get("address", "")
    with transaction() as work:
        brands.find(work.session, brand_id, actor())
    if sent is not None and sent.filename:
        seen = brand_pages.in_file(sent.read(PAGE_BYTES).decode("utf-8", "replace"))
    else:
        seen = brand_pages.at_address(runtime(), address)
    logo = brand_pages.keep_logo(runtime(), actor(), seen.logo) if seen.logo is not None else ""
    with transaction() as work:
        row = brands.find(work.session, brand_id, actor())
        return render_template(
            "brands/brand.html", **_shown(work.session, row, list(seen.colours)), seen=seen, seen_logo=logo
        )


@blueprint.post("/brands/<brand_id>/accept")
@login_required
def accept(brand_id: str) -> str:
    """Takes what was ticked of a proposal."""
    with transaction() as work:
        row = brands.find(work.session, brand_id, actor())
        taken = {role: read_typed(request.form[f"colour-{role}"]) for role in request.form.getlist("take")
                 if role in COLOUR_ROLES and f"colour-{role}" in request.form}  # fmt: skip
        old = brands.snapshot(row)
        changes: dict[str, Any] = {"palettes": with_roles(old.palettes, taken)}
        fonts = {role: request.form.get(f"font-{role}", "") for role in request.form.getlist("take-font")}
        if fonts:
            changes["fonts"] = {**old.fonts, **{role: name for role, name in fonts.items() if name in FONTS}}
        if request.form.get("take-logo"):
            changes["logos"] = {**old.logos, "logo": request.form["take-logo"]}
        if request.form.getlist("take-word"):
            said = [word[:40] for word in request.form.getlist("take-word")[: WORDS["tone"]]]
            changes["tone"] = list(dict.fromkeys([*old.tone, *said]))[: WORDS["tone"]]
        row = brands.change(work.session, brand_id, actor(), **changes)
        return _as_it_is(work.session, row)


@blueprint.get("/brands/<brand_id>/palette.<key>")
@login_required
def save_palette(brand_id: str, key: str) -> Response:
    """The first palette, which new promos wear, as a file."""
    with transaction() as work:
        row = brands.find(work.session, brand_id, actor())
        held = brands.snapshot(row).palettes
        palette, name = held[0] if held else Palette(), row.name
    answer = Response(palettes.written(palette, key), mimetype=palettes.PALETTE_FORMS[key].mimetype)
    answer.headers.set("Content-Disposition", "attachment", filename=f"{plain_name(name)}.{key}")
    return answer


@blueprint.post("/brands/<brand_id>/palette")
@login_required
def open_palette(brand_id: str) -> AnyResponse:
    """Adds a palette from a file to the brand, as the first where it has none yet."""
    with transaction() as work:
        brands.find(work.session, brand_id, actor())
    sent = request.files.get("file")
    if sent is None or not sent.filename:
        raise Refusal("no-file", "Choose a palette file first.")
    found = palettes.read(sent.filename, sent.read(palettes.MOST_BYTES + 1))
    with transaction() as work:
        row = brands.find(work.session, brand_id, actor())
        had = brands.snapshot(row).palettes
        name = next(one for one in (found.name, *(f"{found.name[:36]} {n}" for n in range(2, 40)))
                    if one not in {palette.name for palette in had})  # fmt: skip
        brands.change(work.session, brand_id, actor(), palettes=[*had, found.changed(name=name)])
    colours = len(found.colours) + len(found.others)
    flash(f"“{name}” came with {colours} colour{'s' * (colours != 1)}.")
    return redirect(url_for("brands.page", brand_id=brand_id) + f"#palette-{len(had)}")


@blueprint.post("/brands/<brand_id>/duplicate")
@login_required
def duplicate(brand_id: str) -> AnyResponse:
    with transaction() as work:
        row = brands.duplicate(work.session, brand_id, actor())
    return redirect(url_for("brands.page", brand_id=row.id))


@blueprint.post("/brands/<brand_id>/usual")
@login_required
def make_usual(brand_id: str) -> AnyResponse:
    with transaction() as work:
        row = brands.make_usual(work.session, brand_id, actor())
    flash(f"New promos have the brand {row.name}.")
    return redirect(url_for("brands.page", brand_id=brand_id))


@blueprint.post("/brands/<brand_id>/remove")
@login_required
def remove(brand_id: str) -> AnyResponse:
    with transaction() as work:
        row = brands.remove(work.session, brand_id, actor())
    flash(f"“{row.name}” is out of the book.", undo=url_for("brands.restore", brand_id=brand_id))
    return redirect(url_for("brands.book"))


@blueprint.post("/brands/<brand_id>/restore")
@login_required
def restore(brand_id: str) -> AnyResponse:
    with transaction() as work:
        brands.restore(work.session, brand_id, actor())
    return redirect(url_for("brands.page", brand_id=brand_id))


@blueprint.post("/brands/<brand_id>/bring")
@login_required
def bring(brand_id: str) -> AnyResponse:
    """Brings the promos that were ticked to the newest state of the brand: all, or `some` of them at a time; then the
    page says which were `done`, with one undo for all."""
    form = request.form
    known = [key for key in form.get("done", "").split(",") if key][:MOST_USES]
    with transaction() as work:
        brands.find(work.session, brand_id, actor())
        done = known or brands.bring_up_to_date(work.session, brand_id, actor(), form.getlist("promos")[:MOST_USES])
    if form.get("some"):
        return jsonify(done=done)
    back = url_for("brands.take_back", brand_id=brand_id, promos=",".join(done))
    flash(f"{len(done)} promo{'s' * (len(done) != 1)} brought up to date.", undo=back if done else "")
    return redirect(url_for("brands.page", brand_id=brand_id))


@blueprint.post("/brands/<brand_id>/take-back")
@login_required
def take_back(brand_id: str) -> AnyResponse:
    keys = [key for key in request.args.get("promos", "").split(",") if key][:MOST_USES]
    with transaction() as work:
        count = brands.take_back(work.session, brand_id, actor(), keys)
    flash(f"{count} promo{'s' * (count != 1)} as before.")
    return redirect(url_for("brands.page", brand_id=brand_id))


def _snapshot(brand_id: str) -> Brand:
    """A brand of the team as promos hold it."""
    with transaction() as work:
        return brands.snapshot(brands.find(work.session, brand_id, actor()))


def _card(data: bytes, kind: str = "jpeg") -> Response:
    """A small picture that browsers keep for a day."""
    return Response(data, mimetype=f"image/{kind}", headers={"Cache-Control": "private, max-age=86400"})


@blueprint.get("/brands/<brand_id>/sample/<key>.jpg")
@login_required
def sample(brand_id: str, key: str) -> Response:
    """A design in the brand's colours and fonts."""
    design = shipped().get(key)
    if design is None:
        raise Missing("no-design", "There is no design of that name.")
    return _card(the_preview().design_card(design, _snapshot(brand_id)))


@blueprint.get("/brands/<brand_id>/style/<key>.jpg")
@login_required
def style(brand_id: str, key: str) -> Response:
    """Words in a text style of the brand."""
    if key not in STYLES:
        raise Missing("no-style", "There is no text style of that name.")
    return _card(the_preview().style_card(key, _snapshot(brand_id)))


@blueprint.get("/brands/<brand_id>/family.png")
@login_required
def family(brand_id: str) -> Response:
    """The name of a family, in its letters: one of the brand's own, or one of those that are shipped."""
    brand = _snapshot(brand_id)
    name = request.args.get("name", "")
    if name not in FONTS and name not in brand.families:
        raise Missing("no-font", "There is no family of that name.")
    return _card(font_card(name, brand.font(name)), "png")


@blueprint.get("/promos/<promo_id>/with-brand/<brand_id>.jpg")
@login_required
def after(promo_id: str, brand_id: str) -> Response:
    """A frame of a promo as it would be with the brand as it is now; or, `before` that, the same frame as it is."""
    with transaction() as work:
        promo = promos.open_promo(work.session, promo_id, actor()).promo
        brand = brands.snapshot(brands.find(work.session, brand_id, actor()))
        command = SwitchBrand(brand=brand)
        media = promos.team_media(work.session, actor(), promos.named_media(command))
    tried = promo
    if not request.args.get("before"):
        tried = apply(promo, command, Context(lambda prefix: f"{prefix}-tried", media)).promo
    frame = int(timeline(promo).frame_count * 0.3)
    preview, format = the_preview(), promo.formats[0].id
    recipe, key = preview.recipe(tried, format, frame, 240)
    data = preview.frame(tried, format, recipe, key, 240)
    return Response(data, mimetype="image/jpeg", headers={"Cache-Control": "private, no-store"})


@blueprint.get("/promos/<promo_id>/brands")
@login_required
def choices(promo_id: str) -> str:
    """The team's brands, to choose one for a promo."""
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
        rows = brands.list_brands(work.session, actor())
        return render_template("brands/choices.html", rows=rows, promo=opened.promo)


@blueprint.post("/promos/<promo_id>/brand")
@login_required
def give(promo_id: str) -> str:
    """Gives a promo a brand; answers like an edit."""
    with transaction() as work:
        opened, _ = brands.give(work.session, promo_id, request.form.get("brand", ""), actor())
        return changed(opened, promos.strips(work.session, actor(), opened.promo))
