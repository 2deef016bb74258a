"""Everything that programs can ask for, a row each. What a row does is in services; here it is brought into shape."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC
from typing import Any, BinaryIO, cast

from flask import request, send_file, url_for
from pydantic import BaseModel

from glowreel.core import batch as core_batch
from glowreel.core.channels import CHANNELS
from glowreel.core.commands import FillSlot
from glowreel.core.errors import Missing, Refusal
from glowreel.core.film_forms import read_making
from glowreel.core.formats import FIRST_CHOICE
from glowreel.core.slots import SLOT_KINDS
from glowreel.core.time import TICKS_PER_SECOND, ticks
from glowreel.services import (
    batches,
    brands,
    by_link,
    channels,
    exports,
    promos,
    publishing,
    screenings,
    shelf,
    templates,
    uploads,
)
from glowreel.services.access import Actor, Verb, authorise, authorise_file
from glowreel.store.database import Unit
from glowreel.store.models import Export, MediaFile, Post, PromoRow, now
from glowreel.web.api import shapes
from glowreel.web.extensions import absolute, runtime


@dataclass(frozen=True)
class Call:
    """One request: who asks, what its address names, and what it sends."""

    work: Unit
    actor: Actor
    ids: dict[str, str]
    sent: Any = None


@dataclass(frozen=True)
class Operation:
    """What can be asked for: its method and path, what it does, what it takes and gives, and the verb it needs. One
    that gives no shape answers with a file."""

    name: str
    method: str
    path: str
    summary: str
    verb: Verb
    run: Callable[[Call], Any]
    gives: Any = None
    takes: type[BaseModel] | None = None
    raw: bool = field(default=False)
    """Whether what is sent are the bytes of a file."""


def _promo(row: PromoRow) -> shapes.Promo:
    told = row.summary
    return shapes.Promo(
        id=row.id, name=row.name, folder=row.folder, length=told.get("length", 0) / TICKS_PER_SECOND,
        formats=[one["id"] for one in told.get("formats", ())], revision=row.head_id, changed_at=row.updated_at,
        address=absolute(url_for("editor.editor", promo_id=row.id)),
    )  # fmt: skip


def _list_promos(call: Call) -> list[shapes.Promo]:
    return [_promo(row) for row in promos.list_promos(call.work.session, call.actor)]


def _find(call: Call, verb: Verb = "see") -> PromoRow:
    return authorise(call.work.session, PromoRow, call.ids["promo"], call.actor, verb)


def _new_promo(call: Call) -> shapes.Promo:
    session, sent = call.work.session, call.sent
    if sent.template:
        brand = brands.usual(session, call.actor)
        made = templates.start(session, call.actor, sent.template, name=sent.name, formats=sent.formats, brand=brand)
        return _promo(made)
    formats = tuple(sent.formats) or FIRST_CHOICE
    return _promo(promos.create(session, call.actor, sent.name, formats, brands.usual(session, call.actor)))


def _slots(call: Call) -> list[shapes.Slot]:
    promo = promos.document(call.work.session, _find(call))
    return [
        shapes.Slot(id=one.id, label=one.label, kind=one.kind, holds=SLOT_KINDS[one.kind].holds, most=one.most,
                    optional=one.optional, filled=one.filled)
        for one in promo.slots
    ]  # fmt: skip


def _fill(call: Call) -> shapes.Promo:
    row = _find(call, "fill")
    for one in call.sent.fills:
        command = FillSlot(slot=one.slot, text=one.text, media=one.media)
        row = promos.edit(call.work.session, row.id, call.actor, command)[0].row
    return _promo(row)


def _remove_promo(call: Call) -> shapes.Nothing:
    promos.remove(call.work.session, call.ids["promo"], call.actor)
    return shapes.Nothing()


def _list_templates(call: Call) -> list[shapes.Template]:
    return [
        shapes.Template(key=one.key, name=one.name, length=one.length / TICKS_PER_SECOND, scenes=one.scenes,
                        formats=list(one.formats))
        for one in templates.cards(call.work.session, call.actor)
    ]  # fmt: skip


def _list_brands(call: Call) -> list[shapes.Brand]:
    rows = brands.list_brands(call.work.session, call.actor)
    return [shapes.Brand(id=row.id, name=row.name, usual=row.usual, version=row.version) for row in rows]


def _file(row: MediaFile) -> shapes.File:
    facts = {key: value for key, value in (row.facts or {}).items() if key in KNOWN_FACTS}
    return shapes.File(id=row.id, name=row.name, state=row.state, error=row.error or "", facts=facts)


KNOWN_FACTS = ("kind", "width", "height", "length", "sounding", "alpha")


def _list_files(call: Call) -> list[shapes.File]:
    return [_file(row) for row in shelf.list_media(call.work.session, call.actor, request.args.get("find", "")[:100])]


def _one_file(call: Call) -> shapes.File:
    return _file(authorise(call.work.session, MediaFile, call.ids["media"], call.actor, "see"))


def _upload(call: Call, row: Any) -> shapes.Upload:
    come = row.size if row.media_id else uploads.arrived(runtime(), row)
    return shapes.Upload(id=row.id, received=come, size=row.size, error=row.error or "", media=row.media_id)


def _fetch(call: Call) -> shapes.Upload:
    return _upload(call, by_link.begin(call.work, call.actor, call.sent.address, call.sent.name))


def _begin_upload(call: Call) -> shapes.Upload:
    return _upload(call, uploads.begin(runtime(), call.work, call.actor, call.sent.name, call.sent.size))


def _one_upload(call: Call) -> shapes.Upload:
    return _upload(call, uploads.find(call.work.session, call.actor, call.ids["upload"]))


def _send_part(call: Call) -> shapes.Upload:
    row = uploads.find(call.work.session, call.actor, call.ids["upload"])
    at = request.args.get("at", "")
    if not at.isdigit() or len(at) > 12:
        raise Refusal("at", "Say from which byte on this is: ?at=0.")
    if row.media_id is None and uploads.append(runtime(), row, int(at), cast(BinaryIO, request.stream)) >= row.size:
        row = uploads.finished(runtime(), call.actor, row.id)
    return _upload(call, row)


def _film(file: Any) -> shapes.Film:
    open_still = file.state == "done" and file.link_until is not None and file.link_until > now()
    share = 1.0 if file.state == "done" else file.frames_done / max(1, file.frames)
    return shapes.Film(
        id=file.id, format=file.format_id, form=file.form, suffix=file.film_form.suffix,
        state=file.state, share=share, size=file.size, error=file.error,
        watch=absolute(url_for("watch.page", token=file.token)) if open_still else "",
    )  # fmt: skip


def _export(row: Export) -> shapes.Export:
    return shapes.Export(id=row.id, promo=row.promo_id, title=row.title, films=[_film(file) for file in row.files])


def _new_export(call: Call) -> shapes.Export:
    sent = call.sent
    megabytes, kilobits, rate = (
        "" if value is None else f"{value:g}" for value in (sent.megabytes, sent.kilobits, sent.rate)
    )
    making = read_making(sent.form, sent.look, megabytes, kilobits, rate, sent.clear, ticks(sent.at))
    made = exports.start(
        call.work, call.ids["promo"], call.actor, tuple(sent.formats), sent.resolution, sent.title, sent.caption,
        making=making,
    )  # fmt: skip
    return _export(made)


def _list_exports(call: Call) -> list[shapes.Export]:
    return [_export(row) for row in exports.list_exports(call.work.session, call.actor)]


def _one_export(call: Call) -> shapes.Export:
    return _export(authorise(call.work.session, Export, call.ids["export"], call.actor, "see"))


def _download(call: Call) -> Any:
    file = authorise_file(call.work.session, call.ids["film"], call.actor, "see")
    if file.state != "done":
        raise Refusal("not-done", "That film is not finished.", "Ask for its export to see how far it is.")
    return send_file(runtime().blobs.local(exports.film_blob(file)), mimetype=file.film_form.mimetype, conditional=True)


def _screening(call: Call) -> shapes.Screening:
    row = screenings.begin(
        runtime(), call.work.session, call.actor, call.ids["promo"], screenings.Wanted(home=absolute(""))
    )
    address = absolute(url_for("watching.page", key=screenings.key(runtime(), row)))
    return shapes.Screening(id=row.id, address=address, until=row.until)


def _accounts(call: Call) -> list[shapes.Account]:
    return [
        shapes.Account(id=row.id, channel=row.channel, name=CHANNELS[row.channel].name, account=row.account)
        for row in channels.accounts(call.work.session, call.actor)
    ]


def _told(row: Post) -> shapes.Post:
    return shapes.Post(
        id=row.id, account=row.account_id, title=row.title, state=row.state, error=row.error, at=row.at,
        address=row.address,
    )  # fmt: skip


def _publish(call: Call) -> shapes.Post:
    sent = call.sent
    if sent.at is not None and sent.at.tzinfo is None:
        raise Refusal("zone", "That time says no zone.", "Write it as 2027-04-14T09:30:00+02:00.")
    wanted = publishing.Wanted(sent.account, sent.format, sent.title, sent.text, " ".join(sent.tags), sent.still)
    at = None
    if sent.at is not None:
        at = publishing.moment(sent.at.astimezone(UTC).replace(tzinfo=None).isoformat(timespec="minutes"), "UTC")
    return _told(publishing.publish(call.work, call.actor, call.ids["promo"], [wanted], at)[0])


def _one_post(call: Call) -> shapes.Post:
    return _told(authorise(call.work.session, Post, call.ids["post"], call.actor, "see"))


def _table(row: Any) -> shapes.Table:
    rows = [
        shapes.Row(number=one.number, state=one.state, error=one.error, promo=one.promo_id, export=one.export_id)
        for one in row.rows
    ]
    return shapes.Table(
        id=row.id, name=row.name, template=row.template, state=row.state, columns=row.columns, matching=row.matching,
        rows=rows,
    )  # fmt: skip


def _new_table(call: Call) -> shapes.Table:
    sent = call.sent
    made = batches.begin(call.work, call.actor, sent.template, core_batch.table_of(sent.rows), sent.name)
    call.work.session.refresh(made)
    return _table(made)


def _one_table(call: Call) -> shapes.Table:
    return _table(batches.find(call.work.session, call.actor, call.ids["table"], "see"))


def _make_table(call: Call) -> shapes.Table:
    sent = call.sent
    return _table(batches.make(call.work, call.actor, call.ids["table"], sent.first, exports=sent.exports))


S = shapes
OPERATIONS: tuple[Operation, ...] = (
    Operation("list_promos", "GET", "/promos", "Promos, last changed first", "see", _list_promos, list[S.Promo]),
    Operation("begin_promo", "POST", "/promos", "Begin a promo, empty or from a template", "fill", _new_promo, S.Promo,
              S.NewPromo),
    Operation("see_promo", "GET", "/promos/<promo>", "One promo", "see", lambda call: _promo(_find(call)), S.Promo),
    Operation("remove_promo", "DELETE", "/promos/<promo>", "Take a promo off the Desk", "remove", _remove_promo,
              S.Nothing),
    Operation("list_slots", "GET", "/promos/<promo>/slots", "What is to be filled in it", "see", _slots, list[S.Slot]),
    Operation("fill_slots", "POST", "/promos/<promo>/slots", "Fill slots, all or none; each can be undone",
              "fill", _fill, S.Promo, S.Fills),
    Operation("list_templates", "GET", "/templates", "Templates", "see", _list_templates, list[S.Template]),
    Operation("list_brands", "GET", "/brands", "Brands", "see", _list_brands, list[S.Brand]),
    Operation("list_files", "GET", "/files", "Files of the Shelf; ?find= has words", "see", _list_files, list[S.File]),
    Operation("see_file", "GET", "/files/<media>", "One file of the Shelf", "see", _one_file, S.File),
    Operation("fetch_file", "POST", "/files", "Have a file fetched from an address", "add", _fetch, S.Upload,
              S.ByAddress),
    Operation("begin_upload", "POST", "/uploads", "Begin to send a file", "add", _begin_upload, S.Upload, S.NewUpload),
    Operation("see_upload", "GET", "/uploads/<upload>", "How much has come", "add", _one_upload, S.Upload),
    Operation("send_part", "PUT", "/uploads/<upload>", "Send bytes, from ?at= on; what was cut off goes on from there",
              "add", _send_part, S.Upload, raw=True),
    Operation("list_exports", "GET", "/exports", "Exports, the newest first", "see", _list_exports, list[S.Export]),
    Operation("export", "POST", "/promos/<promo>/exports", "Export a promo as it is now", "export", _new_export,
              S.Export, S.NewExport),
    Operation("see_export", "GET", "/exports/<export>", "How far an export is", "see", _one_export, S.Export),
    Operation("download", "GET", "/films/<film>", "A finished film", "see", _download),
    Operation("show", "POST", "/promos/<promo>/screenings", "A link to the live edit, for a week", "export", _screening,
              S.Screening),
    Operation("list_accounts", "GET", "/accounts", "Accounts on channels", "see", _accounts, list[S.Account]),
    Operation("publish", "POST", "/promos/<promo>/posts", "Post a promo, now or at a time", "publish", _publish, S.Post,
              S.NewPost),
    Operation("see_post", "GET", "/posts/<post>", "How a post stands", "see", _one_post, S.Post),
    Operation("begin_table", "POST", "/tables", "A table for a template", "fill", _new_table, S.Table, S.NewTable),
    Operation("see_table", "GET", "/tables/<table>", "A table and its rows", "see", _one_table, S.Table),
    Operation("make_table", "POST", "/tables/<table>/make", "Make promos of its rows", "fill", _make_table, S.Table,
              S.Make),
)  # fmt: skip
"""In the order in which they are described."""


def operation(name: str) -> Operation:
    """The operation of that name. Raises `Missing`."""
    for one in OPERATIONS:
        if one.name == name:
            return one
    raise Missing("no-operation", "There is nothing at this address.")
