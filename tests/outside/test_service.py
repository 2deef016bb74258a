"""Services outside that are away, slow or talk nonsense: one sentence each; and the made-up ones as such."""

from __future__ import annotations

import io
import threading
from collections.abc import Callable, Iterator
from http.server import BaseHTTPRequestHandler, HTTPServer

import pytest

from glowreel.core.errors import Refusal
from glowreel.outside.drive.kept import folders_of, kept
from glowreel.outside.maker.port import Wish
from glowreel.outside.maker.reading import read, seeds
from glowreel.outside.service import TEXT_BYTES, Service
from glowreel.outside.stock.catalogue import catalogue
from glowreel.outside.stock.entries import PAGE, Query
from glowreel.outside.stock.port import Stock
from glowreel.outside.stock.searching import search

Serve = Callable[[int, bytes, dict[str, str]], str]


@pytest.fixture
def serve() -> Iterator[Serve]:
    """Answers everything with one answer; its address."""
    servers: list[HTTPServer] = []

    def begin(status: int, body: bytes, headers: dict[str, str]) -> str:
        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                self.send_response(status)
                for name, value in headers.items():
                    self.send_header(name, value)
                self.end_headers()
                self.wfile.write(body)

            def log_message(self, *_: object) -> None:
                pass

        server = HTTPServer(("127.0.0.1", 0), Handler)
        servers.append(server)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        return f"http://127.0.0.1:{server.server_port}"

    yield begin
    for server in servers:
        server.shutdown()
        server.server_close()


@pytest.mark.parametrize(("status", "body", "sentence"), [
    (200, b"not json", "cannot be used"), (200, b'{"entries": [{"id": 3}]}', "cannot be used"),
    (500, b"", "cannot be used"), (302, b"", "cannot be used"), (401, b"", "Connect it again"),
    (402, b"", "needs a licence"), (404, b"", "no such thing"), (200, b"[" * (TEXT_BYTES + 10), "larger than"),
])  # fmt: skip
def test_an_odd_answer_is_one_sentence(serve: Serve, status: int, body: bytes, sentence: str) -> None:
    with pytest.raises(Refusal, match=sentence):
        Stock(serve(status, body, {"Location": "http://127.0.0.1:1/"})).search(Query())


def test_a_service_that_is_away_or_not_set_up_is_one_sentence() -> None:
    with pytest.raises(Refusal, match="cannot be reached"):
        Stock("http://127.0.0.1:1").search(Query())
    with pytest.raises(Refusal, match="not set up"):
        Stock("")


def test_a_file_that_breaks_off_or_is_too_large_is_none(serve: Serve) -> None:
    short = Service(serve(200, b"x" * 10, {"Content-Length": "50"}), "It")
    with pytest.raises(Refusal, match="in whole"):
        short.save("/file", io.BytesIO(), 1000, lambda size: None)
    for headers in ({"Content-Length": "5000"}, {}):
        large = Service(serve(200, b"x" * 5000, headers), "It")
        with pytest.raises(Refusal, match="larger than"):
            large.save("/file", io.BytesIO(), 1000, lambda size: None)
    with pytest.raises(Refusal, match="cannot be used"):
        Service(serve(200, b"<html>", {"Content-Type": "text/html"}), "It").file("/poster.jpg", ("image/",), 1000)


def test_the_catalogue_has_hundreds_of_entries_of_every_kind() -> None:
    entries = [recipe.entry for recipe in catalogue().values()]
    assert len(entries) >= 300
    assert len({entry.id for entry in entries}) == len(entries)
    counts = {kind: sum(1 for entry in entries if entry.kind == kind) for kind in {entry.kind for entry in entries}}
    assert min(counts.values()) >= 40
    assert 20 < sum(1 for entry in entries if entry.price) < len(entries) / 2
    assert all(entry.licence and entry.credit and entry.words and entry.mood for entry in entries)
    paintings = [recipe.painting for recipe in catalogue().values() if recipe.painting]
    assert len(set(paintings)) == len(paintings), "no two are the same picture"


@pytest.mark.parametrize(("query", "right"), [
    (Query(words="coffee"), lambda e: "coffee" in e.words), (Query(words="cofee mugg"), lambda e: "coffee" in e.words),
    (Query(kind="music", mood="happy"), lambda e: (e.kind, e.mood) == ("music", "happy")),
    (Query(kind="footage", shape="tall"), lambda e: e.kind == "footage" and e.height > e.width),
    (Query(licence="paid"), lambda e: e.price > 0), (Query(licence="free"), lambda e: e.price == 0),
    (Query(length="short"), lambda e: 0 < e.seconds <= 3), (Query(length="long"), lambda e: e.seconds > 20),
    (Query(colour="teal"), lambda e: "teal" in e.colours),
])  # fmt: skip
def test_filters_and_words_find_what_they_say(query: Query, right: Callable[[object], bool]) -> None:
    found = search(query)
    assert found.total > 0
    assert all(right(entry) for entry in found.entries)
    everything = search(Query())
    assert found.total < everything.total


def test_pages_of_what_was_found_follow_on_each_other() -> None:
    first, second = search(Query()), search(Query(after=PAGE))
    assert len(first.entries) == PAGE
    assert not {entry.id for entry in first.entries} & {entry.id for entry in second.entries}
    assert search(Query(after=100000)).entries == ()
    assert search(Query(words="xqzzy")).total == 0


def test_words_are_read_for_subject_hour_weather_season_colours_and_manner() -> None:
    painting = read(Wish(words="A quiet lake in the evening, in the rain, as an ink drawing", seed=7))
    assert (painting.subject, painting.hour, painting.weather, painting.style) == ("lake", "evening", "rain", "ink")
    assert read(Wish(words="snowy mountains at night")).season == "winter"
    assert read(Wish(words="purple balloons")).palette == "plum"
    assert read(Wish(words="a street", style="poster", colours=("#102030", "#FFEEDD"))).colours == (
        "#102030",
        "#FFEEDD",
    )
    assert read(Wish(words="zzz")).subject == "waves"
    wish = Wish(words="the sea", seed=12)
    assert read(wish) == read(wish)
    assert seeds(wish)[0] == 12
    assert len(set(seeds(wish))) == 4


def test_the_drive_has_folders_in_folders() -> None:
    there = {one.folder for one in kept().values()}
    assert folders_of("", there) == ["Autumn flights", "Music", "Shop", "Team"]
    assert folders_of("Autumn flights", there) == ["Autumn flights/Raw footage"]
    assert folders_of("Shop", there) == []
    assert len(kept()) >= 15
