"""The brand book: the team's brands, what each holds, where it is used, and giving it to promos."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path
from typing import Any

from flask import Blueprint, Response, redirect, render_template, request, send_file, url_for
from flask_login import login_required
from sqlalchemy.orm import Session
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.brand_colours import proposed_roles
from glowreel.core.colour import read_colour
from glowreel.core.commands import Context, SwitchBrand, apply
from glowreel.core.errors import Missing, Refusal
from glowreel.core.fonts import FONTS
from glowreel.core.roles import COLOUR_ROLES, FONT_ROLES, LOGO_ROLES
from glowreel.core.timeline import timeline
from glowreel.designs import shipped
from glowreel.engine.palette import palette_of
from glowreel.outside.fetching import PAGE_BYTES
from glowreel.services import brand_pages, brand_sharing, brands, promos, shelf
from glowreel.store.models import BrandRow
from glowreel.web.editor.routes import changed
from glowreel.web.extensions import absolute, actor, flash, pressed_once, runtime, the_preview, transaction

blueprint = Blueprint("brands", __name__, template_folder="templates")

WORDS = {"never": 60, "tone": 20}
"""The lists of words of a brand, and how many each holds."""
MOST_PICTURES = 12
"""So many pictures are looked at together for colours."""
SAMPLES = ("two-bars", "paper-card", "button", "new-price", "voucher", "end-card")
"""Designs in which a brand is shown."""


def _shown(session: Session, row: BrandRow, found: list[Any] | None = None) -> dict[str, Any]:
    """What the page shows of a brand."""
    ready = [one for one in shelf.list_media(session, actor()) if one.state == "ready" and one.facts]
    pictures = [one for one in ready if one.facts and one.facts["kind"] == "photo"]
    brand = brands.snapshot(row)
    return {
        "row": row, "brand": brand, "never": "\n".join(brand.never), "tone": "\n".join(brand.tone),
        "pictures": pictures, "colour_roles": COLOUR_ROLES,
        "font_roles": FONT_ROLES, "logo_roles": LOGO_ROLES, "fonts": FONTS, "samples": SAMPLES, "proposed": found,
        "uses": brands.uses(session, row.id, actor()), "newer": brand_sharing.newer(session, row),
        "link": absolute(url_for("brands.shared", token=row.token)) if row.token else "",
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


def _colour(text: str) -> str:
    """A colour as it was typed, or a refusal."""
    try:
        return read_colour(text)
    except ValueError as error:
        raise Refusal("bad-colour", f"{error}.", "Type it another way.") from error


def _form() -> dict[str, Any]:
    """What a section of the page sends, as changes of the brand."""
    form, what = request.form, request.form.get("section", "")
    if what == "name":
        return {"name": form.get("name", "")}
    if what == "colours":
        # What was typed comes before what the picker shows, where both were sent.
        return {"colours": {
            role: _colour(form.get(f"typed-{role}") or form.get(f"colour-{role}", "#000000")) for role in COLOUR_ROLES
        }}  # fmt: skip
    if what == "palette":
        gone = form.get("gone", "")
        kept = [_colour(value) for n, value in enumerate(form.getlist("palette")[:24]) if str(n) != gone]
        return {"palette": [*kept, _colour(form["new"])] if form.get("new") else kept}
    if what == "fonts":
        chosen = {role: form.get(f"font-{role}", "") for role in FONT_ROLES}
        return {"fonts": {role: family for role, family in chosen.items() if family in FONTS}}
    if what == "logos":
        picked = {role: form.get(f"logo-{role}", "") for role in LOGO_ROLES}
        return {"logos": {role: key for role, key in picked.items() if key}}
    if what in WORDS:
        words = (" ".join(line.split()) for line in form.get(what, "").splitlines())
        return {what: list(dict.fromkeys(word[:40] for word in words if word))[: WORDS[what]]}
    raise Refusal("no-section", "There is no such part of a brand.")


@blueprint.post("/brands/<brand_id>/change")
@login_required
def change(brand_id: str) -> str:
    """Changes one section; answers with the brand as it is now."""
    with transaction() as work:
        brands.find(work.session, brand_id, actor())
        row = brands.change(work.session, brand_id, actor(), **_form())
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
        taken = {role: _colour(request.form[f"colour-{role}"]) for role in request.form.getlist("take")
                 if role in COLOUR_ROLES and f"colour-{role}" in request.form}  # fmt: skip
        old = brands.snapshot(row)
        changes: dict[str, Any] = {"colours": {**old.colours, **taken}}
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


@blueprint.get("/brands/<brand_id>/brand.zip")
@login_required
def save(brand_id: str) -> Response:
    """The brand with its logos as one open file."""
    out = io.BytesIO()
    with transaction() as work:
        name = brand_sharing.write(runtime(), work.session, brand_id, actor(), out)
    out.seek(0)
    return send_file(out, mimetype="application/zip", as_attachment=True, download_name=name)


@blueprint.post("/brands/read")
@login_required
def read() -> AnyResponse:
    """A brand from a file that was saved from a brand book."""
    sent = request.files.get("file")
    if sent is None or not sent.filename:
        raise Refusal("no-file", "No file came in.", "Choose it again.")
    with tempfile.TemporaryDirectory(dir=runtime().settings.cache) as folder:
        path = Path(folder) / "brand.zip"
        sent.save(path)
        with transaction() as work:
            row = brand_sharing.read(runtime(), work, actor(), path)
            key, name = row.id, row.name
    flash(f"The brand {name} is in the book.")
    return redirect(url_for("brands.page", brand_id=key))


@blueprint.post("/brands/<brand_id>/share")
@login_required
def share(brand_id: str) -> AnyResponse:
    with transaction() as work:
        row = brand_sharing.share(work.session, brand_id, actor(), open_=request.form.get("open") == "1")
    flash("Whoever has the link can take the brand over." if row.token else "The link is closed.")
    return redirect(url_for("brands.page", brand_id=brand_id))


@blueprint.get("/shared-brands/<token>")
@login_required
def shared(token: str) -> str:
    """A brand of another team, to be taken over."""
    with transaction() as work:
        row = brand_sharing.shared(work.session, token)
        return render_template("brands/shared.html", row=row, brand=brands.snapshot(row), roles=COLOUR_ROLES)


@blueprint.post("/shared-brands/<token>")
@login_required
def take_over(token: str) -> AnyResponse:
    with transaction() as work:
        key = pressed_once(work, lambda: brand_sharing.take_over(work, token, actor()).id)
    flash("The brand is in your book. It can be brought up to date from where it came.")
    return redirect(url_for("brands.page", brand_id=key))


@blueprint.post("/brands/<brand_id>/newest")
@login_required
def newest(brand_id: str) -> AnyResponse:
    with transaction() as work:
        row = brand_sharing.bring(work, brand_id, actor())
    flash(f"{row.name} is as it is where it came from.")
    return redirect(url_for("brands.page", brand_id=brand_id))


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
    """Brings the promos that were ticked to the newest state of the brand; one undo for all."""
    with transaction() as work:
        done = brands.bring_up_to_date(work.session, brand_id, actor(), request.form.getlist("promos")[:200])
    back = url_for("brands.take_back", brand_id=brand_id, promos=",".join(done))
    flash(f"{len(done)} promo{'s' * (len(done) != 1)} brought up to date.", undo=back if done else "")
    return redirect(url_for("brands.page", brand_id=brand_id))


@blueprint.post("/brands/<brand_id>/take-back")
@login_required
def take_back(brand_id: str) -> AnyResponse:
    keys = [key for key in request.args.get("promos", "").split(",") if key][:200]
    with transaction() as work:
        count = brands.take_back(work.session, brand_id, actor(), keys)
    flash(f"{count} promo{'s' * (count != 1)} as before.")
    return redirect(url_for("brands.page", brand_id=brand_id))


@blueprint.get("/brands/<brand_id>/sample/<key>.jpg")
@login_required
def sample(brand_id: str, key: str) -> Response:
    """A design in the brand's colours and fonts."""
    design = shipped().get(key)
    if design is None:
        raise Missing("no-design", "There is no design of that name.")
    with transaction() as work:
        brand = brands.snapshot(brands.find(work.session, brand_id, actor()))
    data = the_preview().design_card(design, brand)
    return Response(data, mimetype="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})


@blueprint.get("/promos/<promo_id>/with-brand/<brand_id>.jpg")
@login_required
def after(promo_id: str, brand_id: str) -> Response:
    """A frame of a promo as it would be with the brand as it is now."""
    with transaction() as work:
        promo = promos.open_promo(work.session, promo_id, actor()).promo
        brand = brands.snapshot(brands.find(work.session, brand_id, actor()))
        command = SwitchBrand(brand=brand)
        media = promos.team_media(work.session, actor(), promos.named_media(command))
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
