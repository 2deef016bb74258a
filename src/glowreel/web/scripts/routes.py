"""A promo from a script: pasted, found on a page or drafted; proposed line by line with two others; made."""

from __future__ import annotations

from typing import BinaryIO, cast

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask_login import login_required
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.errors import Refusal
from glowreel.core.formats import SHIPPED
from glowreel.core.script.draft import TONES, Brief, draft
from glowreel.core.script.lines import MOST_LINES, ROLES, ScriptLine, key_phrase, read, shortened
from glowreel.core.script.plan import families, seconds_of
from glowreel.core.speech.voices import VOICES
from glowreel.core.timeline import timeline
from glowreel.designs import shipped as shipped_designs
from glowreel.services import brands, scripting, speaking, talks
from glowreel.services.scripting import Made
from glowreel.web.extensions import actor, pressed_once, runtime, the_preview, transaction
from glowreel.web.gallery.routes import chosen_brand
from glowreel.web.said.routes import json_answer
from glowreel.web.said.voice import numbers, told_of

blueprint = Blueprint("scripts", __name__, template_folder="templates")
LENGTHS = (15, 20, 30, 0)
"""Seconds to which a script is shortened; 0 leaves it as long as it is."""
ASIDE = 1.1
"""How much longer a promo is than what is said in it: pauses between scenes."""


@blueprint.get("/start/script")
@login_required
def script() -> str:
    """Where a script begins: pasted, from a page, or from a brief."""
    with transaction() as work:
        rows = brands.list_brands(work.session, actor())
    return render_template("scripts/script.html", tones=TONES, brands=rows, lengths=LENGTHS)


@blueprint.post("/start/script/page")
@login_required
def page() -> Response:
    """What a web page says, to be edited before anything is made of it."""
    return json_answer({"text": scripting.text_at(runtime(), request.form.get("url", ""))})


@blueprint.post("/start/script/draft")
@login_required
def drafted() -> Response:
    """A script drafted from a brief; another seed gives another one."""
    said = {name: request.form.get(name, "")[:400] for name in ("what", "whom", "offer", "call")}
    points = tuple(request.form.get("points", "")[:2000].splitlines())
    brief = Brief(**said, points=points, tone=request.form.get("tone", "warm"))
    seed = request.form.get("seed", "1")
    lines = draft(brief, int(seed) if seed.isascii() and seed.isdigit() and len(seed) < 6 else 1)
    return json_answer({"text": "\n".join(line.text for line in lines)})


@blueprint.post("/start/script")
@login_required
def propose() -> str:
    """The scenes that a text becomes, each with what was chosen for it and two others."""
    lines = read(request.form.get("text", "")[:60_000])
    wanted = int(request.form.get("length", "20")) if request.form.get("length", "20").isdigit() else 20
    if wanted:
        lines = shortened(lines, wanted / ASIDE)
    if len(lines) > MOST_LINES:
        raise Refusal("too-long", f"A script has at most {MOST_LINES} lines.", "Choose a length, and it is shortened.")
    designs, model = shipped_designs(), scripting.meaning(runtime())
    with transaction() as work:
        key, brand = chosen_brand(work.session)
        shown = scripting.pictures(work.session, actor(), lines, brand, model)
    choices = families(designs)
    left = len(read(request.form.get("text", "")[:60_000])) - len(lines)
    summary = f"{len(lines)} scenes." if len(lines) > 1 else "One scene."
    if left > 0:
        summary += f" {left} sentence{'s were' if left != 1 else ' was'} left out to fit {wanted} s."
    return render_template(
        "scripts/proposal.html", lines=lines, shown=shown, roles=ROLES, families=choices, family=choices[0],
        voices=VOICES, songs=scripting.music(lines, model), brand_key=key, summary=summary,
        seconds_of=seconds_of,
    )  # fmt: skip


@blueprint.post("/start/script/slides")
@login_required
def slides() -> str:
    """The scenes that the slides of a talk become: their words, pictures and what the speaker says."""
    sent = request.files.get("slides")
    if sent is None or not sent.filename:
        raise Refusal("no-file", "No file is chosen.", "Choose slides that end in .pptx.")
    talk = talks.read(runtime(), actor(), sent.filename, cast(BinaryIO, sent.stream))
    model = scripting.meaning(runtime())
    with transaction() as work:
        key, brand = chosen_brand(work.session)
        found = scripting.pictures(work.session, actor(), talk.lines, brand, model)
    shown = [
        others if own is None else [own, *(one for one in others if one.media != own.media)][: len(others)]
        for own, others in zip(talk.shown, found, strict=True)
    ]
    choices = families(shipped_designs())
    summary = f"{len(talk.lines)} scenes, one of each slide." if len(talk.lines) > 1 else "One scene."
    if talk.left:
        summary += f" {talk.left} slides at the end were left out."
    return render_template(
        "scripts/proposal.html", lines=talk.lines, shown=shown, roles=ROLES, families=choices, family=choices[0],
        voices=VOICES, songs=scripting.music(talk.lines, model), brand_key=key, summary=summary,
        seconds_of=seconds_of,
    )  # fmt: skip


@blueprint.get("/start/script/scene.jpg")
@login_required
def scene() -> Response:
    """A line as its scene looks when all of it has come."""
    asked = request.args
    role = asked.get("role", "point")
    text = asked.get("text", "")[:300] or "…"
    line = ScriptLine(text, role if role in ROLES else "point", asked.get("key", "")[:60] or key_phrase(text, role))
    made = Made((line,), (asked.get("media", "")[:64],), asked.get("family", ""), formats=(_shape(),))
    with transaction() as work:
        _, brand = chosen_brand(work.session)
        promo = scripting.document(work.session, actor(), made, brand)
    at = int(timeline(promo).frame_count * 0.75)
    recipe, key = the_preview().recipe(promo, promo.formats[0].id, at, 240, [item.id for item in promo.items])
    data = the_preview().frame(promo, promo.formats[0].id, recipe, key, 240)
    return Response(data, mimetype="image/jpeg", headers={"Cache-Control": "private, max-age=300"})


def _shape() -> str:
    shape = request.args.get("shape", "wide")
    return shape if shape in SHIPPED else "wide"


@blueprint.post("/start/script/voice")
@login_required
def voice() -> Response:
    """Has the lines spoken before the promo is made, so that its scenes are as long as what is said."""
    with transaction() as work:
        lines = request.form.getlist("text")[:MOST_LINES]
        rows = speaking.want(work, actor(), lines, request.form.get("voice", ""), 1.0, {})
        return json_answer(told_of(rows))


@blueprint.post("/start/script/make")
@login_required
def make() -> AnyResponse:
    """Makes the promo as it was proposed and changed, and opens it."""
    form = request.form
    texts, roles, keys = form.getlist("text"), form.getlist("role"), form.getlist("key")
    if not texts or len(texts) > MOST_LINES or not len(texts) == len(roles) == len(keys):
        raise Refusal("no-lines", "There are no lines to be made into scenes.", "Begin with a script.")
    lines = tuple(
        ScriptLine(" ".join(text.split())[:300], role if role in ROLES else "point", key[:60] or key_phrase(text, role))
        for text, role, key in zip(texts, roles, keys, strict=True)
    )
    shown = tuple(form.get(f"picture-{n}", "")[:64] for n in range(len(lines)))
    formats = tuple(one for one in form.getlist("formats") if one in SHIPPED) or ("wide", "square", "tall")
    song = scripting.song_on_shelf(runtime(), actor(), form.get("song", "")[:80])
    with transaction() as work:
        spoken = speaking.find(work.session, actor(), numbers(form.get("spoken", "")))
        media = [row.media_id or "" for row in spoken]
        made = Made(lines, shown, form.get("family", ""), song, tuple(media) if len(media) == len(lines) else (),
                    form.get("captions") == "1", form.get("link", "")[:50], formats, form.get("name", ""))  # fmt: skip
        _, brand = chosen_brand(work.session)
        key = pressed_once(work, lambda: scripting.make(work, actor(), made, brand, song).id)
    return redirect(url_for("editor.editor", promo_id=key))
