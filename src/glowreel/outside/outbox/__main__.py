"""Shows the letters in a folder: `python -m glowreel.outside.outbox SOCKET FOLDER`."""

from __future__ import annotations

import re
import sys
from email import message_from_bytes
from email.message import EmailMessage
from email.policy import SMTP
from html import escape
from pathlib import Path

import uvicorn
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import HTMLResponse
from starlette.routing import Route

SHOWN = 100
ADDRESS = re.compile(r"https?://[^\s<>\"]+")
PAGE = """<!doctype html><html lang="en"><meta charset="utf-8"><title>Letters</title>
<meta name="viewport" content="width=device-width"><style>
body{{font:16px/1.5 system-ui;background:#eef0f4;color:#22262e;max-width:760px;margin:32px auto;padding:0 16px}}
article{{background:#fff;border-radius:12px;padding:16px 20px;margin:12px 0}}h2{{font-size:1rem;margin:0}}
pre{{font:inherit;white-space:pre-wrap;overflow-wrap:anywhere;margin:8px 0 0}}small{{color:#5a6270}}</style>
<h1>Letters</h1><p>Nothing leaves this machine: letters that would be sent lie here, the newest first.</p>
{letters}</html>"""
LETTER = "<article><h2>{subject}</h2><small>to {to} · {date}</small><pre>{text}</pre></article>"


def _shown(path: Path) -> str:
    letter = message_from_bytes(path.read_bytes(), _class=EmailMessage, policy=SMTP)
    body = letter.get_body(("plain",))
    text = ADDRESS.sub(lambda found: f'<a href="{found[0]}">{found[0]}</a>', escape(body.get_content() if body else ""))
    told = {name: escape(str(letter[name] or "")) for name in ("subject", "to", "date")}
    return LETTER.format(text=text, **told)


def page(request: Request) -> HTMLResponse:
    folder = Path(sys.argv[2])
    paths = sorted(folder.glob("*.eml"), key=lambda one: one.stat().st_mtime, reverse=True)[:SHOWN]
    letters = "".join(map(_shown, paths)) or "<p>There is no letter yet.</p>"
    return HTMLResponse(PAGE.format(letters=letters))


if __name__ == "__main__":
    application = Starlette(routes=[Route("/", page)])
    uvicorn.run(application, fd=int(sys.argv[1]), log_level="warning", access_log=False)
