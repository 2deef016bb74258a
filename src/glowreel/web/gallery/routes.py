"""The gallery of templates: found, seen in a brand, played, begun from; and the team's own kept in order."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from flask import Blueprint, Response, make_response, redirect, render_template, request, session, url_for
from flask_login import login_required
from sqlalchemy.orm import Session
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.brand import Brand
from glowreel.core.document import Promo
from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.matching import HUES
from glowreel.core.media import Media
from glowreel.core.template import CATEGORIES, FAMILIES, MOODS, OCCASIONS, RULES, Facts
from glowreel.core.template.manner import MOST_SEED, PREFIX
from glowreel.core.time import TICKS_PER_SECOND
from glowreel.core.timeline import timeline
from glowreel.services import brands, derivation, promos, shelf, templates
from glowreel.services.templates import Card
from glowreel.web.extensions import actor, flash, pressed_once, the_preview, transaction
from glowreel.web.preview.routes import FOR_EVER, number, passed_on

blueprint = Blueprint("gallery", __name__, template_folder="templates")

SHOWN = ("wide", "square", "tall")
"""The shapes in which cards are shown."""
MOMENT = 0.72
"""How far into a scene it is shown: when all of it has come."""
LENGTHS: dict[str, tuple[str, float, float]] = {
    "short": ("under 10 s", 0, 10),
    "middle": ("10 to 20 s", 10, 20.01),
    "long": ("over 20 s", 20.01, 1e9),
}
AT_ONCE = 8
"""So many designs are made at once in a brand's manner."""
DESIGNER = "own"
"""Instead of a brand: each template in its designer's colours."""


@dataclass(frozen=True)
class Filter:
    """One list of choices of the gallery: what it is called, and which templates a choice leaves."""

    label: str
    choices: dict[str, str]
    fits: Callable[[Card, str], bool]


FILTERS: dict[str, Filter] = {
    "category": Filter("What for", CATEGORIES, lambda card, value: card.facts.category == value),
    "occasion": Filter("Occasion", OCCASIONS, lambda card, value: card.facts.occasion == value),
    "mood": Filter("Mood", MOODS, lambda card, value: card.facts.mood == value),
    "family": Filter(
        "Look", {name: name.capitalize() for name in FAMILIES}, lambda card, value: card.facts.family == value
    ),
    "hue": Filter("Designed in", {name: name.capitalize() for name, _ in HUES}, lambda card, value: value in card.hues),
    "length": Filter(
        "Length", {key: words for key, (words, _, _) in LENGTHS.items()},
        lambda card, value: LENGTHS[value][1] <= card.length / TICKS_PER_SECOND < LENGTHS[value][2],
    ),
    "scenes": Filter(
        "Scenes", {"few": "up to 3", "some": "4 or 5", "many": "6 and more"},
        lambda card, value: {"few": card.scenes < 4, "some": 4 <= card.scenes < 6, "many": card.scenes >= 6}[value],
    ),
}  # fmt: skip


def chosen_brand(work: Session) -> tuple[str, Brand | None]:
    """The brand in which templates are shown: as the page says, else as it was last, else the usual one."""
    wanted = request.values.get("brand") or session.get("gallery-brand")
    rows = {row.id: row for row in brands.list_brands(work, actor())}
    if wanted not in rows and wanted != DESIGNER:
        wanted = next((key for key, row in rows.items() if row.usual), DESIGNER)
    if request.args.get("brand"):
        session["gallery-brand"] = wanted
    return str(wanted), brands.snapshot(rows[wanted]) if wanted in rows else None


def _fits(card: Card) -> bool:
    """Whether the choices of the page leave a template, and the words typed are its own."""
    said = f"{card.name} {card.facts.meaning} {CATEGORIES[card.facts.category]} {card.facts.family} {card.facts.mood}"
    if not all(word in said.lower() for word in request.args.get("find", "").lower().split()):
        return False
    for name, one in FILTERS.items():
        value = request.args.get(name, "")
        if value in one.choices and not one.fits(card, value):
            return False
    return True


@dataclass(frozen=True)
class Hero:
    """A picture that is tried on templates: whether it is cut out, and whether that is still being done."""

    media: Media
    cut: bool
    waits: bool

    @property
    def query(self) -> str:
        return f"&hero={self.media.id}" + ("&cut=1" if self.cut else "")


def _hero() -> Hero | None:
    """The picture that the address names; cutting it out is begun where that is wanted."""
    key = request.args.get("hero", "")
    if not key:
        return None
    cut = bool(request.args.get("cut"))
    with transaction() as work:
        media = templates.hero_of(work.session, actor(), key)
        waits = False
        if cut and media.still:
            waits = derivation.want(work, media.id, actor(), "things").state in ("queued", "running")
    return Hero(media, cut, waits)


@blueprint.get("/start/manner")
@login_required
def manner_page() -> str:
    """Designs made by rule in the brand's manner; new ones at a press, each under a seed that brings it back."""
    first = number("from", 1) % (MOST_SEED - AT_ONCE)
    with transaction() as work:
        key, brand = chosen_brand(work.session)
        made = [templates.find(work.session, f"{PREFIX}{first + n}", actor(), brand)[0] for n in range(AT_ONCE)]
        rows = brands.list_brands(work.session, actor())
    return render_template(
        "gallery/manner.html", cards=made, first=first, at_once=AT_ONCE, brand_key=key, brands=rows, shape="wide",
        hero=None, stamp=brand.version if brand is not None else 0,
    )  # fmt: skip


@blueprint.get("/start/picture")
@login_required
def hero_page() -> str:
    """Starting from one picture: brought in, or chosen on the Shelf."""
    with transaction() as work:
        rows = shelf.list_media(work.session, actor(), request.args.get("find", ""))
    ready = [row for row in rows if row.usable and row.facts and row.facts["kind"] == "photo"]
    return render_template("gallery/hero.html", media=ready[:60], find=request.args.get("find", ""))


@blueprint.get("/templates/hero-state")
@login_required
def hero_state() -> AnyResponse | str:
    """Whether the picture is cut out by now; then the page is shown anew."""
    hero = _hero()
    if hero is None or not hero.waits:
        return make_response("", 200, {"HX-Refresh": "true"})
    return render_template("gallery/hero_waits.html", hero=hero)


@blueprint.get("/templates")
@login_required
def gallery() -> str:
    """Every template that fits; only the cards where a script asks."""
    with transaction() as work:
        key, brand = chosen_brand(work.session)
        cards = templates.cards(work.session, actor())
        choice = {"brands": brands.list_brands(work.session, actor()), "brand_key": key}
        retired = templates.retired(work.session, actor())
    shape = request.args.get("shape", "wide")
    found = [card for card in cards if _fits(card)]
    hero = _hero()
    if hero is not None:
        with transaction() as work:
            found = [card for card in found
                     if templates.fits_hero(card, templates.find(work.session, card.key, actor())[1])]  # fmt: skip
    context = {
        "cards": found, "total": len(cards), "shape": shape if shape in SHOWN else "wide", "retired": retired,
        "stamp": brand.version if brand is not None else 0, "hero": hero, **choice,
    }  # fmt: skip
    if request.headers.get("HX-Request"):
        return render_template("gallery/cards.html", **context)
    return render_template("gallery/gallery.html", filters=FILTERS, shapes=SHOWN, find=request.args.get("find", ""),
                           **context)  # fmt: skip


@blueprint.get("/templates/<template>")
@login_required
def page(template: str) -> str:
    """One template: played, its scenes, and how to begin from it."""
    with transaction() as work:
        brand_key, brand = chosen_brand(work.session)
        card, promo = templates.find(work.session, template, actor(), brand)
        choice = {"brands": brands.list_brands(work.session, actor()), "brand_key": brand_key}
    index = timeline(promo)
    scenes = [(scene, index.scene_span[scene.id].length) for scene in promo.scenes]
    shapes = {format.id: format for format in promo.formats} | SHIPPED
    return render_template(
        "gallery/template.html", card=card, promo=promo, scenes=scenes, frames=index.frame_count, shapes=shapes,
        stamp=brand.version if brand is not None else 0, categories=CATEGORIES, moods=MOODS, occasions=OCCASIONS,
        rules=RULES, slots=promo.slots, hero=_hero(), first=_frame(promo),
        fps=promo.rate.num / promo.rate.den, **choice,
    )  # fmt: skip


def _shown(template: str) -> Promo:
    """A template in the brand that the address names, with the picture that it names."""
    with transaction() as work:
        wanted = request.args.get("brand", DESIGNER)
        brand = None
        if wanted != DESIGNER:
            brand = brands.snapshot(brands.find(work.session, wanted, actor()))
        _, promo = templates.find(work.session, template, actor(), brand)
        made = templates.branded(work.session, actor(), promo, brand)
        hero = request.args.get("hero", "")
        if not hero:
            return made
        return templates.with_hero(made, templates.hero_of(work.session, actor(), hero), bool(request.args.get("cut")))


def _frame(promo: Promo) -> int:
    """The frame that the address asks for, or that on which the scene it names is wholly there."""
    if "frame" in request.args:
        return number("frame")
    place = min(number("scene", 0), len(promo.scenes) - 1)
    if place < 0:
        return 0
    span = timeline(promo).scene_span[promo.scenes[place].id]
    return promo.rate.frame_floor(span.start + int(span.length * MOMENT))


@blueprint.get("/templates/<template>/frame.jpg")
@login_required
def frame(template: str) -> Response:
    promo, preview = _shown(template), the_preview()
    format_id = request.args.get("format", promo.formats[0].id)
    if all(format.id != format_id for format in promo.formats):
        format_id = promo.formats[0].id
    recipe, name = preview.recipe(promo, format_id, _frame(promo), number("short", 180))
    waits = preview.waits(recipe)
    response = make_response(preview.frame(promo, format_id, recipe, name, number("short", 180)))
    response.mimetype = "image/jpeg"
    kept = FOR_EVER if request.args.get("rev") else "private, no-cache"
    response.headers["Cache-Control"] = "private, no-store" if waits else kept
    if waits:
        response.headers["X-Waits"] = "1"
    return response


@blueprint.get("/templates/<template>/run")
@login_required
def run(template: str) -> Response:
    """Frames in a row, `step` apart, as the player and the cards take them."""
    promo = _shown(template)
    format_id = request.args.get("format", "") or promo.formats[0].id
    first, count = number("frame", 0), number("count", 15)
    frames = the_preview().run(
        promo, format_id, first, count, number("short", 180), max(1, min(30, number("step", 1)))
    )  # fmt: skip
    return passed_on(frames)


@blueprint.get("/templates/<template>/sound")
@login_required
def sound(template: str) -> Response:
    data, _ = the_preview().sound(_shown(template), number("start"), number("length"))
    headers = {"Cache-Control": FOR_EVER if request.args.get("rev") else "private, no-store"}
    return Response(data, mimetype="application/octet-stream", headers=headers)


@blueprint.post("/templates/<template>/start")
@login_required
def start(template: str) -> AnyResponse:
    """A promo from a template; then it is filled."""
    form = request.form
    formats = [one for one in form.getlist("formats")[:12] if one]
    with transaction() as work:
        wanted, brand = form.get("brand", ""), None
        if wanted and wanted != DESIGNER:
            brand = brands.snapshot(brands.find(work.session, wanted, actor()))
        promo_id = pressed_once(work, lambda: templates.start(
            work.session, actor(), template, name=form.get("name", ""), formats=formats, brand=brand,
            scenes=set(form.getlist("scenes")) or None, hero=form.get("hero", ""), cut=bool(form.get("cut")),
        ).id)  # fmt: skip
    where = "gallery.fill_page" if form.get("then") != "edit" else "editor.editor"
    return redirect(url_for(where, promo_id=promo_id))


def said_facts(form: Any) -> Facts:
    """What a form says of a template. Raises `Refusal` for what cannot be."""
    said = {name: form.get(name, "") for name in ("category", "occasion", "mood", "rule") if form.get(name)}
    try:
        return Facts(meaning=" ".join(form.get("meaning", "").split())[:160], **said)
    except ValueError as error:
        raise Refusal("bad-facts", "There is no such choice for a template.", "Choose one from the list.") from error


@blueprint.get("/promos/<promo_id>/template")
@login_required
def save_page(promo_id: str) -> str:
    """Saving a promo as a template: what it is for, and which of its scenes."""
    with transaction() as work:
        opened = promos.open_promo(work.session, promo_id, actor())
    return render_template(
        "gallery/save.html", promo=opened.promo, facts=opened.promo.facts or Facts(), categories=CATEGORIES,
        moods=MOODS, occasions=OCCASIONS, rules=RULES, revision=opened.revision,
    )  # fmt: skip


@blueprint.post("/promos/<promo_id>/template")
@login_required
def save(promo_id: str) -> AnyResponse:
    form = request.form
    with transaction() as work:
        key = pressed_once(work, lambda: templates.save(
            work.session, actor(), promo_id, form.get("name", ""), said_facts(form), set(form.getlist("scenes")) or None
        ).id)  # fmt: skip
    flash("The template is kept. Colleagues find it first among the templates.")
    return redirect(url_for("gallery.page", template=key))


def _done(sentence: str, undo: str = "") -> AnyResponse:
    flash(sentence, undo=undo)
    return redirect(url_for("gallery.gallery"))


@blueprint.post("/templates/<template>/retire")
@login_required
def retire(template: str) -> AnyResponse:
    with transaction() as work:
        row = templates.retire(work.session, template, actor())
    return _done(
        f"“{row.name}” is retired: promos made from it keep it.",
        url_for("gallery.bring_back", template=template),
    )


@blueprint.post("/templates/<template>/bring-back")
@login_required
def bring_back(template: str) -> AnyResponse:
    with transaction() as work:
        row = templates.retire(work.session, template, actor(), back=True)
    return _done(f"“{row.name}” is back among the templates.")


@blueprint.post("/templates/<template>/duplicate")
@login_required
def duplicate(template: str) -> AnyResponse:
    """A copy of a template as one of the team's own, which can be changed."""
    with transaction() as work:
        card, promo = templates.find(work.session, template, actor())
        made = templates.copied(work.session, actor(), card, promo)
    flash(f"“{made.name}” is one of your own templates now.")
    return redirect(url_for("gallery.page", template=made.id))


@blueprint.post("/templates/<template>/brand")
@login_required
def move(template: str) -> AnyResponse:
    """Gives a team's template another brand."""
    with transaction() as work:
        opened, outcome = brands.give(work.session, template, request.form.get("brand", ""), actor())
    return _done(f"{opened.row.name}: {outcome.sentence}.")


@blueprint.post("/promos/<promo_id>/renew")
@login_required
def renew(promo_id: str) -> AnyResponse:
    """Brings a promo to the newest state of the template that it was made from."""
    with transaction() as work:
        _, outcome = templates.renew(work.session, promo_id, actor())
    flash(f"{outcome.sentence}. {outcome.notice}".strip())
    return redirect(url_for("gallery.fill_page", promo_id=promo_id))


@blueprint.get("/templates/<template>/fragment")
@login_required
def fragment(template: str) -> Response:
    """A scene of a template by itself, for pasting into a promo, where it takes that promo's brand."""
    with transaction() as work:
        made = templates.piece(work.session, actor(), template, request.args.get("scene", ""))
    return Response(made.model_dump_json(), mimetype="application/json", headers={"Cache-Control": "no-store"})
