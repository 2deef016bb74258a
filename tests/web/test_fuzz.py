"""Anything at all, sent to every route and as every command: it is done or refused in a sentence, never a fault."""

import json
import re
import uuid
from typing import Any

import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from glowreel.core.commands import AnyCommand
from glowreel.services.setup import Runtime
from glowreel.web.app import create_app
from glowreel.web.extensions import limiter

pytestmark = pytest.mark.long

QUICKLY = settings(
    max_examples=10,
    deadline=None,
    derandomize=True,
    phases=(Phase.generate,),
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow, HealthCheck.filter_too_much],
)

LEFT_OUT = {
    "static", "account.sign_out", "account.demo", "watch.page", "watch.film", "team.begin", "team.switch",
}  # fmt: skip
"""Nothing can be said to them, or they would end the sign-in, or leave the team, that the others need."""

NASTY = st.sampled_from(
    [
        "", "\x00", "a\x00b", "²", "٣", "-1", "0", "1", "1e9", "9" * 30, "NaN", "Infinity", "null", "[]", "{}", "true",
        "[" * 3000, "../../etc/passwd", "%00", "é" * 300, "x" * 5000, "\ud800", "<script>", "' OR 1=1 --", "wide",
        "1080",
    ]
)  # fmt: skip
TEXTS = NASTY | st.text(max_size=30)
NUMBERS = st.sampled_from([0, 1, -1, 2**31, 2**53, 2**63, 10**30, 705_600_000]) | st.integers(-(10**12), 10**12)
FLOATS = st.floats() | st.sampled_from([0.0, 0.5, 1.0, 1e308])
JUNK = st.recursive(
    st.none() | st.booleans() | NUMBERS | FLOATS | TEXTS,
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=6,
)


@pytest.fixture(scope="module")
def app(runtime: Runtime):
    app = create_app(runtime)
    limiter.enabled = False
    return app


class Sender:
    """Somebody signed in who sends anything."""

    def __init__(self, app) -> None:
        self.client = app.test_client()
        page = self.client.get("/sign-up").get_data(as_text=True)
        token = re.search(r'name="csrf_token" value="([^"]+)"', page).group(1)
        self.headers = {"X-CSRFToken": token, "X-Glow": "1"}
        person = {"name": "Fu", "email": f"{uuid.uuid4().hex}@fuzz.example", "password": "seven quiet lanterns"}
        assert self.client.post("/sign-up", data=person, headers=self.headers).status_code == 302
        self.path = self.client.post("/promos", data={"name": "Fuzzed"}, headers=self.headers).location
        for command in ({"do": "insert-filler"}, {"do": "add-words", "text": "Words"}, {"do": "insert-filler"}):
            assert self.command(command).status_code == 200

    def command(self, command: object):
        return self.client.post(self.path + "/edit", data={"command": json.dumps(command)}, headers=self.headers)

    def known(self) -> list[str]:
        """Identifiers of what is in the promo."""
        page = self.client.get(self.path).get_data(as_text=True)
        return sorted(set(re.findall(r"\b[citsx]-[\w-]{16}\b", page)))[:30] or ["c1"]


@pytest.fixture(scope="module")
def sender(app) -> Sender:
    return Sender(app)


def check(answer, what: object) -> None:
    assert answer.status_code < 500 or answer.status_code == 507, (answer.status_code, what)
    if answer.status_code in (404, 422):
        found = answer.get_json(silent=True)
        assert found is None or found["sentence"].endswith((".", ".)")), found
    answer.close()


def names_read(app) -> list[str]:
    """Every name under which a route reads something."""
    found: set[str] = set()
    from pathlib import Path

    import glowreel.web

    for path in Path(glowreel.web.__file__).parent.rglob("routes.py"):
        text = path.read_text()
        found |= set(re.findall(r"(?:args|form|values)\.get(?:list)?\(\"(\w+)\"", text))
        found |= set(re.findall(r"number\(\"(\w+)\"", text))
    return sorted(found)


AT_ONCE = 40


def test_every_route(app, sender: Sender) -> None:
    names = names_read(app)
    assert {"frame", "command", "find", "press"} <= set(names)
    rules = [
        (rule.rule, method)
        for rule in app.url_map.iter_rules()
        if rule.endpoint not in LEFT_OUT
        for method in sorted(rule.methods - {"HEAD", "OPTIONS"})
    ]
    promo = sender.path.rpartition("/")[2]
    parts = st.sampled_from([promo, "x", "1", "²", "9" * 25, "%00", "poster.jpg", "crossfade"])

    # A few routes with each example: one of all of them would be larger than what Hypothesis draws at once.
    some: list[tuple[str, str]] = []

    @settings(QUICKLY, max_examples=6)
    @given(st.data())
    def sent(data) -> None:
        for rule, method in some:
            path = re.sub(r"<[^>]+>", lambda _: data.draw(parts), rule)
            values = data.draw(st.dictionaries(st.sampled_from(names), TEXTS, max_size=4))
            values = {key: value.encode("utf-8", "replace") for key, value in values.items()}
            if data.draw(st.booleans()) and "remove" not in rule:
                path = path.replace("/x", f"/{promo}", 1)
            where = {"query_string": values} if method == "GET" else {"data": values}
            check(sender.client.open(path, method=method, headers=sender.headers, **where), (method, path, values))

    for first in range(0, len(rules), AT_ONCE):
        some[:] = rules[first : first + AT_ONCE]
        sent()
    sender.client.post(f"/promos/{promo}/restore", headers=sender.headers)


def of_schema(schema: dict[str, Any], root: dict[str, Any], known: list[str], depth: int = 0) -> st.SearchStrategy[Any]:
    """Values that a JSON schema allows, and now and then others."""
    if "$ref" in schema:
        schema = root["$defs"][schema["$ref"].rpartition("/")[2]]
    if "const" in schema:
        return st.just(schema["const"])
    if "enum" in schema:
        return st.sampled_from(schema["enum"])
    if depth > 4:
        return st.none()
    for word in ("anyOf", "oneOf"):
        if word in schema:
            return st.one_of(*(of_schema(part, root, known, depth + 1) for part in schema[word]))
    kind = schema.get("type")
    if kind == "object":
        fields = {key: of_schema(part, root, known, depth + 1) for key, part in schema.get("properties", {}).items()}
        needed = set(schema.get("required", ()))
        return st.fixed_dictionaries(
            {key: part for key, part in fields.items() if key in needed},
            optional={key: part for key, part in fields.items() if key not in needed},
        )
    if kind == "array":
        items = schema.get("items") or (schema.get("prefixItems") or [{}])[0]
        low, high = schema.get("minItems", 0), schema.get("maxItems", 4)
        return st.lists(of_schema(items, root, known, depth + 1), min_size=min(low, 4), max_size=max(low, min(high, 4)))
    plain = {
        "integer": NUMBERS | st.integers(0, 10 * 705_600_000),
        "number": FLOATS | st.floats(0, 1),
        "boolean": st.booleans(),
        "string": st.sampled_from(known) | TEXTS,
        "null": st.none(),
    }
    return plain.get(kind, JUNK)


SCHEMA = TypeAdapter(AnyCommand).json_schema()
COMMANDS = sorted({part["$ref"].rpartition("/")[2] for part in SCHEMA.get("oneOf", SCHEMA.get("anyOf", []))})


PARTS = 4
"""One example can hold so much: the commands are sent in parts."""


@pytest.mark.parametrize("part", range(PARTS))
def test_every_command(sender: Sender, part: int) -> None:
    assert len(COMMANDS) > 50
    known, some = sender.known(), COMMANDS[part::PARTS]
    one_of_each = {name: of_schema(SCHEMA["$defs"][name], SCHEMA, known) for name in some}

    @QUICKLY
    @given(st.data())
    def sent(data) -> None:
        for name in some:
            command = {**data.draw(one_of_each[name]), "do": SCHEMA["$defs"][name]["properties"]["do"]["const"]}
            if data.draw(st.integers(0, 4)) == 0:
                command[data.draw(st.sampled_from(sorted(command)))] = data.draw(JUNK)
            check(sender.command(command), command)

    sent()
    # Whatever was done meanwhile: the promo opens, and its frames are drawn.
    assert sender.client.get(sender.path).status_code == 200
    check(sender.client.get(sender.path + "/frame.jpg?frame=0&short=72", headers=sender.headers), "a frame")
