"""The application factory: settings, security, errors, and the areas."""

from __future__ import annotations

import hashlib
import math
from functools import cache
from pathlib import Path
from urllib.parse import urlsplit

import orjson
from flask import Flask, Response, current_app, request, url_for
from werkzeug.middleware.proxy_fix import ProxyFix

from glowreel.core.commands.themes import THEMES
from glowreel.core.commands.transitions import spoken
from glowreel.core.equaliser import FLAT, PRESETS
from glowreel.core.fonts import FONTS, MANNERS
from glowreel.core.properties.rows.sound import BUSES
from glowreel.core.time import TICKS_PER_SECOND, clock, seconds
from glowreel.core.timeline import timeline
from glowreel.engine.limits import MAX_BYTES
from glowreel.outside.drive.port import NAME as DRIVE
from glowreel.services import sign_ins
from glowreel.services.figures import Figures
from glowreel.services.setup import Runtime, Settings
from glowreel.store.models import now
from glowreel.web import (
    account,
    activity,
    api,
    batches,
    brands,
    desk,
    editor,
    exports,
    find,
    gallery,
    going,
    help,
    history,
    machines,
    preview,
    said,
    screenings,
    scripts,
    shelf,
    sound,
    sources,
    storage,
    team,
    uploads,
)
from glowreel.web.counting import count_requests
from glowreel.web.editor.details.drawn import drawn
from glowreel.web.errors import register_errors, signed_out
from glowreel.web.extensions import absolute, csrf, initials, limiter, login

STATIC = Path(__file__).parent / "static"

POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' blob: data:",
        "media-src 'self' blob:",
        "font-src 'self'",
        "connect-src 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
    )
)

HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Permissions-Policy": (
        "camera=(self), microphone=(self), display-capture=(self), geolocation=(), payment=(), usb=(), "
        "interest-cohort=()"
    ),
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
"""On every answer, unless a route says otherwise."""

SMALL_BODY = 4 * 1024**2
PIECE_BODY = 64 * 1024**2
"""Of a file that comes in piece by piece: the front keeps so much for whoever is slow."""
BODIES = {
    "said.read": 6 * 1024**2,
    "batches.begin": 9 * 1024**2,
    "batches.again": 9 * 1024**2,
    "scripts.slides": 201 * 1024**2,
    "brands.read": 201 * 1024**2,
    "shelf.upload": MAX_BYTES + 1,
    "uploads.piece": PIECE_BODY,
    "api.send_part": PIECE_BODY,
    "uploads.piece_by_link": PIECE_BODY,
    "desk.open_file": 8 * 1024**3 + 1024**2,
}
"""How many bytes the routes take that take more than a form."""


def create_app(runtime: Runtime) -> Flask:
    """The web application around the shared parts."""
    settings: Settings = runtime.settings
    app = Flask(__name__)
    if not settings.secret:
        raise RuntimeError("GLOWREEL_SECRET must be set: sessions are signed with it")
    app.config.update(
        SECRET_KEY=settings.secret,
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        SESSION_COOKIE_SECURE=settings.secure_cookies,
        REMEMBER_COOKIE_HTTPONLY=True,
        REMEMBER_COOKIE_SAMESITE="Lax",
        REMEMBER_COOKIE_SECURE=settings.secure_cookies,
        REMEMBER_COOKIE_DURATION=sign_ins.LASTS,
        TRUSTED_HOSTS=trusted_hosts(settings.address),
        MAX_CONTENT_LENGTH=SMALL_BODY,
        MAX_FORM_MEMORY_SIZE=SMALL_BODY,
        WTF_CSRF_TIME_LIMIT=None,
        RATELIMIT_STORAGE_URI=settings.redis,
        RATELIMIT_HEADERS_ENABLED=False,
        SEND_FILE_MAX_AGE_DEFAULT=31_536_000,
    )
    app.extensions["glowreel"] = runtime
    if settings.proxies:
        near = settings.proxies
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=near, x_proto=near)  # type: ignore[method-assign]
    count_requests(app, Figures(runtime))
    app.before_request(_limit_body)  # Before anything looks into a form.
    csrf.init_app(app)
    login.init_app(app)
    login.unauthorized_handler(signed_out)
    limiter.init_app(app)
    for area in (
        account,
        desk,
        brands,
        gallery,
        editor,
        shelf,
        preview,
        history,
        exports,
        storage,
        sound,
        said,
        scripts,
        activity,
        find,
        uploads,
        sources,
        team,
        screenings,
        going,
        batches,
        api,
        machines,
        help,
    ):
        app.register_blueprint(area.routes.blueprint)
    app.register_blueprint(editor.alone.blueprint)
    app.register_blueprint(uploads.links.blueprint)
    app.register_blueprint(sources.picturing.blueprint)
    app.register_blueprint(sources.driving.blueprint)
    app.register_blueprint(exports.pages.blueprint)
    app.register_blueprint(exports.turns.blueprint)
    app.register_blueprint(exports.watching.blueprint)
    app.register_blueprint(api.pages.blueprint)
    app.register_blueprint(going.connecting.blueprint)
    app.register_blueprint(going.publishing.blueprint)
    app.register_blueprint(screenings.notes.blueprint)
    app.register_blueprint(screenings.watching.blueprint)
    register_errors(app)
    app.after_request(_harden)
    _equip(app, settings)
    return app


def _equip(app: Flask, settings: Settings) -> None:
    """What every template can use."""
    app.jinja_env.filters["clock"] = clock
    app.jinja_env.filters["megabytes"] = megabytes
    app.jinja_env.filters["seconds"] = seconds
    app.jinja_env.filters["remaining"] = remaining
    app.jinja_env.filters["spoken"] = spoken
    app.jinja_env.filters["json"] = lambda value: orjson.dumps(value).decode()
    app.jinja_env.filters["initials"] = initials
    app.jinja_env.filters["log10"] = math.log10
    app.jinja_env.filters["lasts"] = lambda promo: timeline(promo).length
    app.jinja_env.globals["asset"] = asset
    app.jinja_env.globals["absolute"] = absolute
    app.jinja_env.globals["now"] = now
    app.jinja_env.globals["help_about"] = help.reading.about
    app.jinja_env.globals["shipped_fonts"] = FONTS
    app.jinja_env.globals["font_manners"] = MANNERS
    app.jinja_env.globals["equaliser_presets"] = PRESETS
    app.jinja_env.globals["equaliser_flat"] = FLAT
    app.jinja_env.globals["sound_kinds"] = tuple(BUSES)
    app.jinja_env.globals["library_moods"] = sound.routes.moods()
    app.jinja_env.globals["ticks_per_second"] = TICKS_PER_SECOND
    app.jinja_env.globals["control_line"] = drawn
    app.jinja_env.globals["demo"] = settings.demo
    app.jinja_env.globals["outbox"] = settings.outbox
    app.jinja_env.globals["drive_name"] = DRIVE
    app.jinja_env.globals["recording_themes"] = THEMES


def trusted_hosts(address: str) -> list[str] | None:
    """The hosts under which this installation is asked for; any where it is not said where it is."""
    host = urlsplit(address).hostname
    return [host, "localhost", "127.0.0.1"] if host else None


def _limit_body() -> None:
    """How much a request may carry is known before any of it is read."""
    request.max_content_length = BODIES.get(request.endpoint or "", SMALL_BODY)


def _harden(response: Response) -> Response:
    for name, value in HEADERS.items():
        response.headers.setdefault(name, value)
    if current_app.config["SESSION_COOKIE_SECURE"]:
        response.headers.setdefault("Strict-Transport-Security", "max-age=31536000")
    if request.endpoint != "static" and "Cache-Control" not in response.headers:
        response.headers["Cache-Control"] = "private, no-store"
    return response


@cache
def _fingerprint(name: str) -> str:
    return hashlib.blake2b((STATIC / name).read_bytes(), digest_size=6).hexdigest()


def asset(name: str) -> str:
    """Address of a static file that changes when the file does, so that it can be kept for ever."""
    return url_for("static", filename=name, v=_fingerprint(name))


def remaining(value: float) -> str:
    """How long something still takes, no more exactly than it is known.

    >>> remaining(4.2), remaining(47.0), remaining(200.0), remaining(4000.0)
    ('5 s', '50 s', '3 min', '1 h 7 min')
    """
    if value < 60:
        step = 1 if value < 10 else 5
        return f"{max(1, -int(-value // step)) * step} s"
    minutes = round(value / 60)
    return f"{minutes} min" if minutes < 60 else f"{minutes // 60} h {minutes % 60} min"


def megabytes(size: int) -> str:
    """A size for people."""
    if not size:
        return "nothing"
    if size < 1_000_000:
        return f"{max(1, round(size / 1000))} kB"
    return f"{size / 1_000_000:.1f} MB" if size < 2_000_000_000 else f"{size / 1_000_000_000:.1f} GB"
