"""The page of the whole material: found, sorted, put in order, and what is known of each file."""

from __future__ import annotations

from typing import Any

from flask import redirect, render_template, request, url_for
from flask_login import login_required
from werkzeug.wrappers import Response

from glowreel.core.errors import Refusal
from glowreel.core.media import Media
from glowreel.services import derivation, library, material, sharing, storage
from glowreel.services.access import authorise
from glowreel.store.database import Unit
from glowreel.store.models import MediaFile
from glowreel.web.extensions import actor, flash, runtime, transaction
from glowreel.web.shelf.routes import blueprint


def _wanted() -> material.Wanted:
    told = request.values
    after = told.get("after", "0")
    return material.Wanted(
        words=told.get("find", "")[:200], kind=told.get("kind", ""), whose=told.get("whose", "all"),
        folder=told.get("folder", ""), tag=told.get("tag", ""),
        sort=told.get("sort", "newest"), like=told.get("like", "")[:64],
        after=int(after) if after.isdigit() and len(after) < 9 else 0,
    )  # fmt: skip


@blueprint.get("/shelf")
@login_required
def page() -> str:
    """The whole Shelf; only its files where the page itself asks for them."""
    with transaction() as work:
        context = _listed(work, _wanted())
        if request.args.get("after"):
            return render_template("shelf/more.html", **context)
        if request.headers.get("HX-Request"):
            return render_template("shelf/files.html", **context)
        context["usage"] = storage.usage(runtime(), work.session, actor())
        context["shown"] = _facts(work, request.args["show"]) if request.args.get("show") else ""
    return render_template("shelf/page.html", **context)


def _listed(work: Unit, wanted: material.Wanted) -> dict[str, Any]:
    session = work.session
    seen = material.looks_kept(runtime().blobs)
    listed = material.find(session, actor(), wanted, seen)
    return {
        "wanted": wanted, "listed": listed, "next": wanted.after + len(listed.files),
        "folders": material.folders(session, actor()), "tags": material.tags(session, actor()),
        "sorts": material.SORTS, "whose": material.WHOSE, "uses": material.uses(session, actor()),
        "as_list": request.values.get("as", "grid") == "list",
        "working": any(row.state in ("queued", "running") for row in listed.files),
    }  # fmt: skip


@blueprint.get("/shelf/decks")
@login_required
def decks() -> list[dict[str, object]]:
    """The folders with pictures that can be shown one after another, such as the pages of a document."""
    with transaction() as work:
        found = material.decks(work.session, actor())
    return [
        {"name": name, "pages": [{"id": key, "name": page} for key, page in pages]} for name, pages in found.items()
    ]


@blueprint.get("/shelf/<media_id>/facts")
@login_required
def facts(media_id: str) -> str:
    """What is known of one file, beside the list."""
    with transaction() as work:
        return _facts(work, media_id)


def _facts(work: Unit, media_id: str, said: str = "") -> str:
    row = authorise(work.session, MediaFile, media_id, actor(), "see", removed=True)
    media = Media.model_validate(row.facts) if row.facts is not None else None
    measured = derivation.facts_of(work.session, row.hash, "loudness") or {}
    return render_template(
        "shelf/facts.html", m=row, rate=media.rate.num / media.rate.den if media and media.rate else None,
        loudness=measured.get("lufs"), used=material.uses(work.session, actor()).get(row.id, []),
        by=material.brought_by(work.session, actor(), [row]).get(row.id, ""),
        marks=sharing.marks(work.session, actor(), [row]), said=said,
        others=material.others(work.session, actor(), row),
        marked=row.id in library.favourites_of(work.session, actor()),
    )  # fmt: skip


@blueprint.post("/shelf/<media_id>/everywhere")
@login_required
def everywhere(media_id: str) -> str:
    """Puts another file in the place of one in every promo that uses it."""
    with transaction() as work:
        names = material.replace_everywhere(work.session, actor(), media_id, request.form.get("by", ""))
        said = f"Replaced in {names[0]}." if len(names) == 1 else f"Replaced in {len(names)} promos."
        return _facts(work, media_id, f"{said} Undo stands in each.")


@blueprint.post("/shelf/<media_id>/name")
@login_required
def rename(media_id: str) -> str:
    with transaction() as work:
        material.rename(work.session, actor(), media_id, request.form.get("name", ""))
        return _facts(work, media_id)


@blueprint.post("/shelf/many")
@login_required
def many() -> str:
    """Does something with every file that is marked: `what` is a row of `_WORKS`."""
    work = _WORKS.get(request.form.get("what", ""))
    if work is None:
        raise Refusal("no-work", "There is no such thing to do with files.")
    with transaction() as unit:
        said = work(unit, request.form.getlist("files")[: material.MANY])
        context = _listed(unit, _wanted())
    return render_template("shelf/files.html", said=said, **context)


def _files(count: int) -> str:
    return "1 file is" if count == 1 else f"{count} files are"


def _put(unit: Unit, ids: list[str]) -> str:
    folder = request.form.get("to_folder", "")
    count = material.put(unit.session, actor(), ids, folder)
    return f"{_files(count)} in {f'“{folder}”' if folder.strip() else 'no folder'}."


def _tag(unit: Unit, ids: list[str]) -> str:
    return f"{_files(material.tag(unit.session, actor(), ids, request.form.get('to_tag', '')))} tagged."


def _untag(unit: Unit, ids: list[str]) -> str:
    count = material.tag(unit.session, actor(), ids, request.form.get("to_tag", ""), off=True)
    return f"The tag is off {count} {'file' if count == 1 else 'files'}."


def _mark(unit: Unit, ids: list[str]) -> str:
    return "Marked as favourites." if material.mark(unit.session, actor(), ids) else "They are no favourites any more."


def _remove(unit: Unit, ids: list[str]) -> str:
    used = material.uses(unit.session, actor())
    in_use = sum(1 for key in ids if used.get(key))
    count = len(material.remove(unit.session, actor(), ids))
    kept = f" {in_use} of them {'is' if in_use == 1 else 'are'} used in promos, which keep them." if in_use else ""
    return f"{_files(count)} in the bin for 30 days.{kept}"


def _bring_back(unit: Unit, ids: list[str]) -> str:
    return f"{_files(material.bring_back(unit.session, actor(), ids))} back on the Shelf."


_WORKS = {
    "folder": _put, "tag": _tag, "untag": _untag, "mark": _mark, "remove": _remove, "bring-back": _bring_back,
}  # fmt: skip


@blueprint.post("/shelf/bring-back")
@login_required
def bring_back() -> Response:
    """Puts one file back that was just taken off."""
    with transaction() as work:
        count = material.bring_back(work.session, actor(), request.values.get("files", "").split(","))
    flash(f"{_files(count)} back on the Shelf.")
    return redirect(url_for("shelf.page"))
