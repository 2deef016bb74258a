"""What the team sets for the watch page of a film, sees in numbers, and answers."""

from __future__ import annotations

import math

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask_login import current_user, login_required
from werkzeug.wrappers import Response as AnyResponse

from glowreel.core.errors import Refusal
from glowreel.services import driving, watch_pages
from glowreel.services.access import authorise_file
from glowreel.store.models import ExportFile
from glowreel.web.extensions import absolute, actor, flash, limiter, runtime, scan_code, transaction

blueprint = Blueprint("watch_pages", __name__, template_folder="templates")


def _seconds(name: str) -> float | None:
    """A number of seconds that was typed, nothing for an empty field."""
    text = request.form.get(name, "").strip().replace(",", ".")
    if not text:
        return None
    try:
        value = float(text)
    except ValueError as error:
        raise Refusal("number", f"“{text[:20]}” is no number of seconds.") from error
    if not math.isfinite(value):
        raise Refusal("number", f"“{text[:20]}” is no number of seconds.")
    return value


def _page(file_id: str, problem: str = "") -> str:
    with transaction() as work:
        file = authorise_file(work.session, file_id, actor(), "see")
        link = absolute(url_for("watch.page", token=file.token))
        return render_template(
            "exports/page.html", file=file, export=file.export, page=watch_pages.page_of(work.session, file),
            numbers=watch_pages.numbers(work.session, actor(), file_id), link=link, problem=problem,
            length=watch_pages.seconds(work.session, file), questions=watch_pages.questions(work.session, file),
            embed=_embed(file), sent=watch_pages.sent_to(work.session, actor(), file_id),
            drive=driving.connection(work.session, actor()), drive_there=bool(runtime().settings.drive),
        )  # fmt: skip


def _embed(file: ExportFile) -> str:
    address = absolute(url_for("watch.embed", token=file.token))
    return (
        f'<iframe src="{address}" width="{file.width // 2}" height="{file.height // 2}" style="border:0" '
        'allow="fullscreen; autoplay"></iframe>'
    )


@blueprint.get("/exports/<file_id>/page")
@login_required
def page(file_id: str) -> str:
    return _page(file_id)


@blueprint.post("/exports/<file_id>/page")
@login_required
def keep(file_id: str) -> str | tuple[str, int] | AnyResponse:
    form = request.form
    with transaction() as work:
        authorise_file(work.session, file_id, actor(), "export")
    try:
        wanted = watch_pages.Wanted(
            form.get("title", ""), form.get("about", ""), form.get("action", ""), form.get("leads_to", ""),
            _seconds("action_at"), _seconds("poster"), "downloads" in form, "asks" in form, form.get("password", ""),
            "unlock" in form, form.get("links", "")[:10_000],
        )  # fmt: skip
        with transaction() as work:
            watch_pages.set_page(work.session, actor(), file_id, wanted)
    except Refusal as refusal:
        return _page(file_id, str(refusal)), 422
    flash("The watch page is like that now.")
    return redirect(url_for("watch_pages.page", file_id=file_id))


@blueprint.post("/exports/<file_id>/picture")
@login_required
def picture(file_id: str) -> AnyResponse:
    """Takes the picture that is shown before the film plays; without one, a frame of it is."""
    sent = request.files.get("picture")
    watch_pages.set_picture(runtime(), actor(), file_id, sent if sent is not None and sent.filename else None)
    flash("The watch page is like that now.")
    return redirect(url_for("watch_pages.page", file_id=file_id))


@blueprint.post("/exports/<file_id>/send")
@login_required
@limiter.limit("30/hour")
def send(file_id: str) -> str | tuple[str, int] | AnyResponse:
    """Sends the link of the watch page to people."""
    form = request.form
    with transaction() as work:
        file = authorise_file(work.session, file_id, actor(), "export")
        link = absolute(url_for("watch.page", token=file.token))
    try:
        with transaction() as work:
            count = watch_pages.send(work, actor(), file_id, form.get("people", ""), form.get("words", ""), link)
    except Refusal as refusal:
        return _page(file_id, str(refusal)), 422
    flash(
        "They all have it already."
        if not count
        else "1 letter is sent."
        if count == 1
        else f"{count} letters are sent."
    )
    return redirect(url_for("watch_pages.page", file_id=file_id) + "#sent")


@blueprint.get("/exports/<file_id>/code.svg")
@login_required
def code(file_id: str) -> Response:
    """The address of the watch page as a code to scan."""
    with transaction() as work:
        file = authorise_file(work.session, file_id, actor(), "see")
        address = absolute(url_for("watch.page", token=file.token))
    return Response(scan_code(address), mimetype="image/svg+xml")


@blueprint.post("/exports/questions/<question_id>/answer")
@login_required
def answer(question_id: str) -> AnyResponse:
    with transaction() as work:
        text = request.form.get("answer", "")
        file_id = watch_pages.answer(work.session, actor(), question_id, text, current_user.name).file_id
    return redirect(url_for("watch_pages.page", file_id=file_id) + "#questions")


@blueprint.post("/exports/questions/<question_id>/forget")
@login_required
def forget(question_id: str) -> AnyResponse:
    with transaction() as work:
        file_id = watch_pages.forget(work.session, actor(), question_id).id
    return redirect(url_for("watch_pages.page", file_id=file_id) + "#questions")
