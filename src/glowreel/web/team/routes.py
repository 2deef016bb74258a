"""The page of the team, the way into one, and the press that shares a thing."""

from __future__ import annotations

from zoneinfo import ZoneInfo

from flask import Blueprint, redirect, render_template, request, url_for
from flask_login import current_user, login_required
from werkzeug.wrappers import Response

from glowreel.core.errors import Missing, Refusal
from glowreel.services import audit, invitations, sharing, teams
from glowreel.services.access import ROLES
from glowreel.store.models import User
from glowreel.web.extensions import absolute, actor, flash, limiter, runtime, transaction, user_id
from glowreel.web.going.routes import zone

blueprint = Blueprint("team", __name__, template_folder="templates")


def _joining(key: str) -> str:
    return absolute(url_for("team.join", key=key))


def _shown(template: str, problem: str = "", typed: str = "") -> str:
    with transaction() as work:
        open_still = invitations.standing(work.session, actor())
        return render_template(
            template, members=teams.members(work.session, actor()), roles=ROLES, problem=problem, typed=typed,
            mine=teams.mine(work.session, user_id()), invitations=open_still,
            links={row.id: _joining(invitations.key(runtime(), row)) for row in open_still if not row.email},
        )  # fmt: skip


@blueprint.get("/team")
@login_required
def page() -> str:
    return _shown("team/team.html")


@blueprint.get("/team/done")
@login_required
def done() -> str:
    """What was done in the team, for its owners."""
    by = request.args.get("by", "")
    there = ZoneInfo(zone())
    with transaction() as work:
        rows = audit.entries(work.session, actor(), audit.number(request.args.get("before", "")), by)
        people = teams.members(work.session, actor())
    shown = [{"day": row.at.astimezone(there).date(), "at": row.at, "said": row.said} for row in rows]
    more = rows[-1].id if len(rows) == audit.PAGE else None
    return render_template("team/done.html", entries=shown, members=people, by=by, more=more, zone=there)


@blueprint.get("/team/people")
@login_required
def people() -> str:
    """Who is in the team and who may come, by itself."""
    return _shown("team/people.html")


@blueprint.post("/team/invitations")
@login_required
@limiter.limit("60/hour")
def invite() -> str | tuple[str, int]:
    """Letters to the addresses typed; a link where none was typed and one was asked for."""
    role, addresses = request.form.get("role", ""), request.form.get("addresses", "")
    try:
        with transaction() as work:
            if request.form.get("by") == "link":
                invitations.by_link(runtime(), work, actor(), role)
            else:
                invitations.by_letter(runtime(), work, actor(), addresses, role, _joining)
    except Refusal as refusal:
        return _shown("team/people.html", str(refusal), addresses)
    return _shown("team/people.html")


@blueprint.post("/team/invitations/<invitation_id>/end")
@login_required
def end_invitation(invitation_id: str) -> str:
    with transaction() as work:
        invitations.end(work.session, actor(), invitation_id)
    return _shown("team/people.html")


@blueprint.post("/team/members/<member_id>/role")
@login_required
def role(member_id: str) -> str:
    try:
        with transaction() as work:
            teams.set_role(work.session, actor(), member_id, request.form.get("role", ""))
    except Missing:
        raise
    except Refusal as refusal:
        return _shown("team/people.html", str(refusal))
    return _shown("team/people.html")


@blueprint.post("/team/members/<member_id>/hand-over")
@login_required
def hand_over(member_id: str) -> Response:
    with transaction() as work:
        heir = teams.hand_over(work.session, actor(), member_id)
        name = work.session.get_one(User, heir.user_id).name
    flash(f"{name} owns the team now. You are an editor in it.")
    return redirect(url_for("team.page"))


@blueprint.post("/team/members/<member_id>/remove")
@login_required
def remove(member_id: str) -> Response:
    """Takes somebody out of the team, or lets them leave."""
    team = current_user.team
    with transaction() as work:
        gone = teams.remove(work.session, actor(), member_id)
    if gone.id == user_id():
        flash(f"You have left {team}. What you made stays with it.")
        return redirect(url_for("desk.desk"))
    flash(f"{gone.name} is not in the team any more. What they made stays.")
    return redirect(url_for("team.page"))


@blueprint.post("/team/name")
@login_required
def rename() -> Response:
    with transaction() as work:
        teams.rename(work.session, actor(), request.form.get("name", ""))
    return redirect(url_for("team.page"))


@blueprint.post("/team/new")
@login_required
def begin() -> Response:
    with transaction() as work:
        team = teams.begin(work.session, work.session.get_one(User, user_id()), request.form.get("name", ""))
    flash(f"You work in {team.name} now.")
    return redirect(url_for("team.page"))


@blueprint.post("/team/switch")
@login_required
def switch() -> Response:
    with transaction() as work:
        team = teams.switch(work.session, user_id(), request.form.get("team", ""))
    flash(f"You work in {team.name} now.")
    return redirect(url_for("desk.desk"))


@blueprint.get("/join/<key>")
@limiter.limit("120/hour")
def join(key: str) -> str:
    """What an invitation says, to whoever has it."""
    with transaction() as work:
        row = invitations.find(work.session, key)
        return render_template("team/join.html", invitation=row, key=key, means=ROLES[row.role][0])


@blueprint.post("/join/<key>")
@login_required
@limiter.limit("60/hour")
def accept(key: str) -> Response:
    with transaction() as work:
        member = invitations.accept(work.session, key, work.session.get_one(User, user_id()))
        team = member.team.name
    flash(f"You are in {team} now, as {member.role}.")
    return redirect(url_for("desk.desk"))


@blueprint.post("/share/<kind>/<thing>")
@login_required
def share(kind: str, thing: str) -> str:
    """Makes a thing private, or the team's; answers with its button as it is now."""
    with transaction() as work:
        row = sharing.share(work.session, actor(), kind, thing, private=request.form.get("private") == "1")
        marks = sharing.marks(work.session, actor(), [row])
        return render_template("team/share.html", kind=kind, row=row, marks=marks, pressed=True)
