"""Which workers there are, what waits, what runs and how long things take; and the same as figures for a monitor."""

from __future__ import annotations

import hmac
import time
from dataclasses import dataclass

import redis
from flask import Blueprint, Response, render_template, request
from flask_login import login_required
from prometheus_client import CollectorRegistry, generate_latest
from prometheus_client.exposition import CONTENT_TYPE_LATEST

from glowreel.core.errors import Missing, Refusal
from glowreel.services import machines, monitored
from glowreel.services.figures import Spent, spent
from glowreel.web.extensions import actor, runtime, transaction

blueprint = Blueprint("machines", __name__, template_folder="templates")


@dataclass(frozen=True)
class Now:
    """What the page shows."""

    workers: list[machines.Worker]
    queues: list[machines.Queue]
    spent: list[Spent]
    aside: list[monitored.Aside]
    running: list[monitored.Running]
    problem: str = ""


def _now() -> Now:
    with transaction() as work:
        running, aside = monitored.running(work.session, actor()), monitored.set_aside(work.session, actor())
    try:
        at_work = machines.workers(runtime())
        waiting = machines.queues(runtime(), at_work)
    except redis.RedisError:
        return Now([], [], [], aside, running, "The queue does not answer. What is saved waits until it is back.")
    took = sorted((one for one in spent(runtime()) if one.what == "task"), key=lambda one: -one.seconds)
    return Now(at_work, waiting, took, aside, running)


def _may() -> None:
    if not actor().may("lead"):
        raise Missing("no-right", "Only owners of a team see the machines.", "Ask one of them.")


@blueprint.get("/machines")
@login_required
def page() -> str:
    _may()
    return render_template("machines/machines.html", now_at=_now(), clock_now=time.time())


@blueprint.get("/machines/now")
@login_required
def fragment() -> str:
    _may()
    return render_template("machines/now.html", now_at=_now(), clock_now=time.time())


@blueprint.get("/figures")
def figures() -> Response:
    """Figures in the text form that Prometheus reads, for who has the token of the installation."""
    token = runtime().settings.monitor
    given = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if not token or not hmac.compare_digest(given.encode(), token.encode()):
        raise Missing("nothing-here", "There is nothing at this address.")
    registry = CollectorRegistry()
    registry.register(monitored.Collected(runtime()))
    try:
        return Response(generate_latest(registry), mimetype=CONTENT_TYPE_LATEST)
    except redis.RedisError as error:
        raise Refusal("no-queue", "The queue does not answer.") from error
