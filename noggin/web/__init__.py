"""The web application: thin pages over the services."""

from collections.abc import Mapping
from hashlib import sha256
from pathlib import Path
from typing import Any

from flask import Flask
from flask_talisman import Talisman
from flask_wtf import CSRFProtect
from jinja2 import FileSystemBytecodeCache, StrictUndefined
from werkzeug.middleware.proxy_fix import ProxyFix

from noggin.services import words
from noggin.services.clock import system_clock
from noggin.services.passphrase import PassPhrase
from noggin.services.sessions import Sessions
from noggin.services.setups.inside_shutter import SEEN_INSIDE
from noggin.services.setups.proofs import parts_shown, proof_in_words
from noggin.services.whole.opening import open_store
from noggin.web import drawings
from noggin.web.pages import (
    bags,
    bench,
    find,
    gate,
    guide,
    hours,
    kit,
    layout,
    live,
    log,
    open_formats,
    photograph,
    places,
    pocket,
    practice,
    proofs,
    reach,
    safekeeping,
    setups,
    shoots,
    spot,
    today,
)
from noggin.web.shared import errors, log_words, spot_words
from noggin.web.shared.assets import travel_light
from noggin.web.shared.dictionary import send_what_is_new
from noggin.web.shared.hints import HINTS
from noggin.web.shared.hosts import HERE_ALONE, checked
from noggin.web.shared.parts import remember_addresses, written
from noggin.web.shared.room import make_room
from noggin.web.shared.secret import kept_secret
from noggin.web.shared.shortcuts import SHORTCUTS, shortcut_keys
from noggin.web.shared.wiring import Wiring, in_one_moment, in_readers_unit, stamped, with_the_pages_token

POLICY = {
    "default-src": "'none'",
    "script-src": "'self'",
    "style-src": "'self'",
    "connect-src": "'self'",
    "font-src": "'self'",
    "form-action": "'self'",
    "img-src": "'self' data:",
    "manifest-src": "'self'",
    "base-uri": "'none'",
    "frame-ancestors": "'none'",
}
"""No inline script or style, no request to any other host."""


def create_app(config: Mapping[str, Any]) -> Flask:
    """The application on the database file `config["DATABASE"]`; `CLOCK` may replace the clock,
    `TEMPLATE_CACHE` is a folder in which compiled templates are kept. `ADDRESSES` puts a gate up: those
    under which Noggin is reached from elsewhere; `BEHIND_PROXY` says that a proxy with TLS is before it;
    `REQUEST_LOG` is a file in which a server notes requests; `HOSTS` are the names that it is asked for
    by; `POCKET` says that its pages stand in a page of the same site (the pocket edition), which keeps them
    itself."""
    app = Flask(__name__)
    database = Path(config["DATABASE"])
    app.config.from_mapping(
        SECRET_KEY=kept_secret(database.parent),
        # Cookies do not know ports: another program, or another database, may have a session of its own.
        SESSION_COOKIE_NAME=f"noggin_session_{sha256(str(database.resolve()).encode()).hexdigest()[:8]}",
        # A page opened the evening before must still work on the spot.
        WTF_CSRF_TIME_LIMIT=None,
        PERMANENT_SESSION_LIFETIME=gate.PAIRED_FOR,
        BEHIND_PROXY=False,
        REQUEST_LOG=None,
        GIVEN=tuple(config),
        HOSTS=HERE_ALONE,
        POCKET=False,
    )
    app.config.from_mapping(config)
    _prepare_templates(app)
    clock = app.config.get("CLOCK", system_clock)
    app.extensions["noggin"] = Wiring(open_store(database, clock), clock)
    if app.config["BEHIND_PROXY"]:
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=1, x_proto=1, x_host=1)  # type: ignore[method-assign]
    checked(app)
    errors.told_beforehand(app)
    addresses = app.config.get("ADDRESSES")
    gate.put_up(
        app, None if addresses is None else gate.Gate(PassPhrase(database), Sessions(database), addresses)
    )
    make_room(app)
    stamped(app)
    in_readers_unit(app)
    in_one_moment(app)
    travel_light(app)
    if not app.config["POCKET"]:
        send_what_is_new(app, "/setups/*", frozenset(("bench.page",)), bench.sample)
    CSRFProtect(app)
    with_the_pages_token(app)
    talisman = Talisman(
        app,
        force_https=False,
        session_cookie_samesite="Strict",
        session_cookie_secure=app.config["BEHIND_PROXY"],
        strict_transport_security=app.config["BEHIND_PROXY"],
        content_security_policy=POLICY | ({"frame-ancestors": "'self'"} if app.config["POCKET"] else {}),
        referrer_policy="same-origin",
    )
    for area in (
        today,
        setups,
        bench,
        open_formats,
        find,
        layout,
        places,
        photograph,
        proofs,
        kit,
        bags,
        reach,
        guide,
        hours,
        practice,
        shoots,
        live,
        spot,
        log,
        safekeeping,
        gate,
    ):
        app.register_blueprint(area.pages)
    if not app.config["POCKET"]:
        app.register_blueprint(pocket.pages)
        with_policy = talisman(content_security_policy=pocket.POLICY)
        app.view_functions["pocket.file"] = with_policy(app.view_functions["pocket.file"])
    errors.register(app)
    return app


def _prepare_templates(app: Flask) -> None:
    app.jinja_env.undefined = StrictUndefined  # a name that is not there is a fault, not an empty place
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    if app.config.get("TEMPLATE_CACHE"):
        app.jinja_env.bytecode_cache = FileSystemBytecodeCache(str(app.config["TEMPLATE_CACHE"]))
    remember_addresses(app)
    app.jinja_env.globals |= {
        "pocket": app.config["POCKET"],
        "wording": words.wording,
        "written": written,
        "way_table": words.way_table,
        "drawings": drawings,
        "proof_name": proofs.proof_name,
        "board_of": proofs.board_of,
        "proof_data": proofs.proof_data,
        "proof_show": proofs.show,
        "parts_shown": parts_shown,
        "proof_in_words": proof_in_words,
        "way_kinds": words.WAYS,
        "rule": words.RULE,
        "sources": words.SOURCES,
        "lacks_in_words": words.lacks_in_words,
        "first_lack": words.first_lack,
        "landing_words": words.landing_words,
        "verdict_words": words.VERDICT_WORDS,
        "drawbacks_in_words": words.drawbacks_in_words,
        "change_words": spot_words.change_words,
        "shot_words": spot_words.shot_words,
        "log_words": log_words,
        "seen_words": spot_words.seen_words,
        "spread_words": spot_words.spread_words,
        "frame_verdicts": words.VERDICTS,
        "faults": words.FAULTS_BY_KEY,
        "shortcuts": SHORTCUTS,
        "shortcut_keys": shortcut_keys(),
        "hints": HINTS,
        "seen_inside": SEEN_INSIDE,
    }
