"""Letting programs in: a route for each operation, tokens, refusals as JSON, and the description of it all."""

from __future__ import annotations

import re
from typing import Any, get_args, get_origin

from flask import Blueprint, Response, jsonify, request
from flask_limiter.util import get_remote_address
from pydantic import BaseModel, ValidationError
from pydantic.json_schema import models_json_schema

from glowreel.core.errors import Refusal
from glowreel.core.film_forms import FILM_FORMS
from glowreel.services import tokens
from glowreel.services.access import VERBS, Actor
from glowreel.web.api import shapes
from glowreel.web.api.operations import OPERATIONS, Call, Operation
from glowreel.web.extensions import csrf, limiter, transaction

blueprint = Blueprint("api", __name__, url_prefix="/api/v1")
csrf.exempt(blueprint)

PLACE = re.compile(r"<(\w+)>")
STATUS = {"no-right": 403}
"""The status of refusals that say something which a status says as well."""


class NotLetIn(Refusal):
    """No token, or none that is good."""

    status = 401

    def __init__(self) -> None:
        super().__init__("no-token", "That needs a token of the team.", "Send it as “Authorization: Bearer glow_…”.")


def _given() -> str:
    return request.headers.get("Authorization", "").removeprefix("Bearer ").strip()


def _who() -> str:
    """Whose requests are counted together: a token's, else an address's."""
    return _given()[:20] or get_remote_address()


def _let_in() -> Actor:
    with transaction() as work:
        found = tokens.find(work.session, _given())
    if found is None:
        raise NotLetIn
    return found


def _sent(operation: Operation) -> BaseModel | None:
    if operation.takes is None:
        return None
    try:
        return operation.takes.model_validate_json(request.get_data() or b"{}")
    except ValidationError as error:
        first = error.errors(include_url=False, include_context=False, include_input=False)[0]
        where = ".".join(str(part) for part in first["loc"])
        raise Refusal("not-readable", f"{where or 'What is sent'}: {first['msg']}.") from error


def _served(operation: Operation) -> Any:
    def serve(**ids: str) -> Any:
        actor = _let_in()
        if not actor.may(operation.verb):
            raise Refusal("no-right", f"This token may not {VERBS[operation.verb]}.", "Make one that may.")
        sent = _sent(operation)
        with transaction() as work:
            told = operation.run(Call(work, actor, ids, sent))
            if isinstance(told, Response):
                return told
            if isinstance(told, list):
                return jsonify([one.model_dump(mode="json") for one in told])
            return jsonify(told.model_dump(mode="json"))

    return limiter.limit("600/minute", key_func=_who)(serve)


for one in OPERATIONS:
    blueprint.add_url_rule(one.path, one.name, _served(one), methods=[one.method])


@blueprint.errorhandler(Refusal)
def _refused(error: Refusal) -> tuple[Response, int]:
    status = STATUS.get(error.code, error.status)
    return jsonify({"code": error.code, "sentence": str(error)}), status


@blueprint.get("/openapi.json")
def description() -> Response:
    """Everything that programs can ask for, as OpenAPI 3.1 describes it."""
    return jsonify(described())


def described() -> dict[str, Any]:
    """The description, made of the table of operations."""
    kinds = {kind for kind in vars(shapes).values() if isinstance(kind, type) and issubclass(kind, BaseModel)}
    kinds -= {BaseModel, shapes.Sent}
    pairs: list[Any] = [(kind, "validation" if issubclass(kind, shapes.Sent) else "serialization") for kind in kinds]
    template = "#/components/schemas/{model}"
    _, schemas = models_json_schema(sorted(pairs, key=lambda one: one[0].__name__), ref_template=template)
    paths: dict[str, dict[str, Any]] = {}
    for operation in OPERATIONS:
        path = PLACE.sub(r"{\1}", operation.path)
        paths.setdefault(path, {})[operation.method.lower()] = _described(operation)
    return {
        "openapi": "3.1.0",
        "info": {"title": "Glow Reel", "version": "1", "description": "What programs can do for a team."},
        "servers": [{"url": "/api/v1"}],
        "security": [{"token": []}],
        "paths": paths,
        "components": {
            "schemas": schemas["$defs"],
            "securitySchemes": {"token": {"type": "http", "scheme": "bearer"}},
        },
    }


def _described(operation: Operation) -> dict[str, Any]:
    told: dict[str, Any] = {
        "operationId": operation.name, "summary": operation.summary,
        "parameters": [
            {"name": name, "in": "path", "required": True, "schema": {"type": "string"}}
            for name in PLACE.findall(operation.path)
        ],
        "responses": {"200": _answer(operation), "default": _json(shapes.Problem, "Why it was not done")},
    }  # fmt: skip
    if operation.takes is not None:
        told["requestBody"] = {"required": True, "content": _content(operation.takes)}
    if operation.raw:
        octets = {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}
        told["requestBody"] = {"required": True, "content": octets}
        told["parameters"].append({"name": "at", "in": "query", "required": True, "schema": {"type": "integer"}})
    return told


def _answer(operation: Operation) -> dict[str, Any]:
    if operation.gives is None:
        octets = {"schema": {"type": "string", "format": "binary"}}
        kinds = {form.mimetype for form in FILM_FORMS.values()}
        return {"description": "The file", "content": dict.fromkeys(sorted(kinds), octets)}
    return _json(operation.gives, "Done")


def _json(kind: Any, description: str) -> dict[str, Any]:
    return {"description": description, "content": _content(kind)}


def _content(kind: Any) -> dict[str, Any]:
    if get_origin(kind) is list:
        schema: dict[str, Any] = {"type": "array", "items": _reference(get_args(kind)[0])}
    else:
        schema = _reference(kind)
    return {"application/json": {"schema": schema}}


def _reference(kind: Any) -> dict[str, str]:
    return {"$ref": f"#/components/schemas/{kind.__name__}"}
