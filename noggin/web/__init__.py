"""The web application: thin pages over the services."""

from collections.abc import Mapping
from pathlib import Path
from typing import Any

from flask import Flask
from flask_talisman import Talisman
from flask_wtf import CSRFProtect

from noggin.core import board, weighing, wording
from noggin.core.comparison import comparison
from noggin.core.feasibility import NOTHING_TO_TAKE_AWAY
from noggin.core.particulars import particulars
from noggin.core.plan import METHODS
from noggin.services.clock import system_clock
from noggin.store.kept import Store
from noggin.web import bags, bench, drawings, errors, kit, measure, open_formats, reach, setups, shoots
from noggin.web.secret import kept_secret
from noggin.web.wiring import Wiring, in_readers_unit

POLICY = {
    "default-src": "'none'",
    "script-src": "'self'",
    "style-src": "'self'",
    "connect-src": "'self'",
    "font-src": "'self'",
    "form-action": "'self'",
    "img-src": "'self' data:",
    "base-uri": "'none'",
    "frame-ancestors": "'none'",
}
"""No inline script or style, no request to any other host."""


def create_app(config: Mapping[str, Any]) -> Flask:
    """The application on the database file `config["DATABASE"]`; `CLOCK` may replace the clock."""
    app = Flask(__name__)
    database = Path(config["DATABASE"])
    app.config.from_mapping(
        SECRET_KEY=kept_secret(database.parent),
        # Cookies do not know ports: another program on this machine may have a session of its own.
        SESSION_COOKIE_NAME="noggin_session",
        SESSION_COOKIE_SAMESITE="Strict",
        # A page opened the evening before must still work on the spot.
        WTF_CSRF_TIME_LIMIT=None,
        MAX_CONTENT_LENGTH=1024 * 1024,
        # A page elsewhere must not reach this server under a host name of its own.
        TRUSTED_HOSTS=["127.0.0.1", "localhost", "[::1]"],
    )
    app.config.from_mapping(config)
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.jinja_env.globals |= {
        "wording": wording,
        "board": board,
        "drawings": drawings,
        "particulars": particulars,
        "weighing_rule": weighing.RULE,
        "comparison": comparison,
        "methods": METHODS,
        "nothing_to_take_away": NOTHING_TO_TAKE_AWAY,
    }
    store = Store.on_file(database)
    app.extensions["noggin"] = Wiring(store, app.config.get("CLOCK", system_clock))
    in_readers_unit(app)
    CSRFProtect(app)
    Talisman(
        app,
        force_https=False,
        session_cookie_secure=False,
        content_security_policy=POLICY,
        referrer_policy="same-origin",
    )
    app.register_blueprint(setups.pages)
    app.register_blueprint(bench.pages)
    app.register_blueprint(open_formats.pages)
    app.register_blueprint(measure.pages)
    app.register_blueprint(kit.pages)
    app.register_blueprint(bags.pages)
    app.register_blueprint(reach.pages)
    app.register_blueprint(shoots.pages)
    errors.register(app)
    return app
