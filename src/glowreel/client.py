"""A small client of an installation: what a program asks over HTTP, with its token. Needs nothing else of Glow Reel."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

import requests

PART_BYTES = 4 * 1024**2
ASKS_EVERY = 1.0
TRIES = 6
AWAY = frozenset({502, 503, 504})

Tell = Callable[[float], None]


class Refused(Exception):
    """Something was not done; `code` is for programs, the text is a sentence."""

    def __init__(self, code: str, sentence: str) -> None:
        super().__init__(sentence)
        self.code = code


class Studio:
    """A team's work at an installation, as its token allows. What is cut off is tried again."""

    def __init__(self, address: str, token: str) -> None:
        self._root = address.rstrip("/") + "/api/v1"
        self._headers = {"Authorization": f"Bearer {token}"}

    def ask(self, method: str, path: str, sent: Mapping[str, Any] | None = None) -> Any:
        """What is answered. Raises `Refused`."""
        return self._answer(method, path, json=sent).json()

    def push(self, path: Path, tell: Tell = lambda share: None) -> dict[str, Any]:
        """Sends a file, going on where a line was cut; answers with it as the Shelf has it, once it was looked at."""
        size = path.stat().st_size
        upload = self.ask("POST", "/uploads", {"name": path.name, "size": size})
        with path.open("rb") as file:
            while upload["media"] is None:
                file.seek(upload["received"])
                part = file.read(PART_BYTES)
                upload = self._answer("PUT", f"/uploads/{upload['id']}?at={upload['received']}", data=part).json()
                tell(upload["received"] / size)
        while (found := self.ask("GET", f"/files/{upload['media']}"))["state"] in ("queued", "running"):
            time.sleep(ASKS_EVERY)
        if found["state"] != "ready":
            raise Refused("not-read", found["error"] or f"{path.name} cannot be used.")
        return dict(found)

    def export(
        self, promo: str, formats: list[str], resolution: int, tell: Tell = lambda share: None, **making: Any
    ) -> dict[str, Any]:
        """Exports a promo and waits until every film is done; `making` is what else an export says, such as `form` and
        `look`. Raises `Refused` where one could not be made."""
        made = self.ask("POST", f"/promos/{promo}/exports", {"formats": formats, "resolution": resolution, **making})
        while True:
            films = made["films"]
            tell(sum(film["share"] for film in films) / len(films))
            wrong = next((film for film in films if film["state"] in ("failed", "cancelled")), None)
            if wrong is not None:
                raise Refused("failed", wrong["error"] or f"{wrong['format']} was cancelled.")
            if all(film["state"] == "done" for film in films):
                return dict(made)
            time.sleep(ASKS_EVERY)
            made = self.ask("GET", f"/exports/{made['id']}")

    def pull(self, film: str, path: Path) -> int:
        """Writes a finished film to a file; answers with its bytes. A file that is there already is written whole or
        not at all."""
        part = path.with_name(f".{path.name}.part")
        with self._answer("GET", f"/films/{film}", stream=True) as answer, part.open("wb") as out:
            for chunk in answer.iter_content(1 << 20):
                out.write(chunk)
        part.replace(path)
        return path.stat().st_size

    def table(self, template: str, rows: list[list[str]], *, exports: bool, tell: Tell = lambda share: None) -> Any:
        """Makes a promo for each row of a table; answers with the table once all are made."""
        made = self.ask("POST", "/tables", {"template": template, "rows": rows})
        made = self.ask("POST", f"/tables/{made['id']}/make", {"exports": exports})
        while made["state"] == "running":
            time.sleep(ASKS_EVERY)
            made = self.ask("GET", f"/tables/{made['id']}")
            tell(sum(row["state"] != "open" for row in made["rows"]) / max(1, len(made["rows"])))
        return made

    def _answer(self, method: str, path: str, **more: Any) -> requests.Response:
        # What makes something anew is not asked for twice: only looking and sending bytes are.
        tries = TRIES if method in ("GET", "PUT") else 1
        for left in range(tries - 1, -1, -1):
            try:
                answer = requests.request(method, self._root + path, headers=self._headers, timeout=60, **more)
            except requests.RequestException as error:
                if not left:
                    raise Refused("away", "The installation cannot be reached.") from error
            else:
                if answer.ok:
                    return answer
                if answer.status_code not in AWAY or not left:
                    raise _refused(answer)
            time.sleep(min(8.0, 2.0 ** (tries - left)))
        raise Refused("away", "The installation cannot be reached.")


def _refused(answer: requests.Response) -> Refused:
    try:
        told = answer.json()
        return Refused(str(told["code"]), str(told["sentence"]))
    except (ValueError, KeyError, TypeError):
        return Refused(f"http-{answer.status_code}", f"The installation answered {answer.status_code}.")
