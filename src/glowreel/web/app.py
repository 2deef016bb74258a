"""The application factory: settings, security, errors, and the areas."""

from __future__ import annotations

import hashlib
import math
from functools import cache
from pathlib import Path

import orjson
from flask import Flask, Response, request, url_for
from werkzeug.middleware.proxy_fix import ProxyFix

from glowreel.core.commands.transitions import spoken
from glowreel.core.time import TICKS_PER_SECOND, clock, seconds
from glowreel.core.timeline import timeline
from glowreel.engine.limits import MAX_BYTES
from glowreel.services.setup import Runtime, Settings
from glowreel.web import account, desk, editor, exports, history, preview, shelf
from glowreel.web.errors import register_errors, signed_out
from glowreel.web.extensions import csrf, limiter, login

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
        MAX_CONTENT_LENGTH=MAX_BYTES + 1,
        MAX_FORM_MEMORY_SIZE=2 * 1024**2,
        WTF_CSRF_TIME_LIMIT=None,
        RATELIMIT_STORAGE_URI=settings.redis,
        RATELIMIT_HEADERS_ENABLED=False,
        SEND_FILE_MAX_AGE_DEFAULT=31_536_000,
    )
    app.extensions["glowreel"] = runtime
    if settings.proxies:
        near = settings.proxies
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=near, x_proto=near)  # type: ignore[method-assign]
    csrf.init_app(app)
    login.init_app(app)
    login.unauthorized_handler(signed_out)
    limiter.init_app(app)
    for area in (account, desk, editor, shelf, preview, history, exports):
        app.register_blueprint(area.routes.blueprint)
    register_errors(app)
    app.after_request(_harden)
    app.jinja_env.filters["clock"] = clock
    app.jinja_env.filters["megabytes"] = megabytes
    app.jinja_env.filters["seconds"] = seconds
    app.jinja_env.filters["spoken"] = spoken
    app.jinja_env.filters["json"] = lambda value: orjson.dumps(value).decode()
    app.jinja_env.filters["log10"] = math.log10
    app.jinja_env.filters["lasts"] = lambda promo: timeline(promo).length
    app.jinja_env.globals["asset"] = asset
    app.jinja_env.globals["ticks_per_second"] = TICKS_PER_SECOND
    app.jinja_env.globals["demo"] = settings.demo
    return app


def _harden(response: Response) -> Response:
    response.headers.setdefault("Content-Security-Policy", POLICY)
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "same-origin")
    if request.endpoint != "static" and "Cache-Control" not in response.headers:
        response.headers["Cache-Control"] = "private, no-store"
    return response


@cache
def _fingerprint(name: str) -> str:
    return hashlib.blake2b((STATIC / name).read_bytes(), digest_size=6).hexdigest()


def asset(name: str) -> str:
    """Address of a static file that changes when the file does, so that it can be kept for ever."""
    return url_for("static", filename=name, v=_fingerprint(name))


def megabytes(size: int) -> str:
    """A size for people."""
    if size < 1_000_000:
        return f"{max(1, round(size / 1000))} kB"
    return f"{size / 1_000_000:.1f} MB"
