"""Who may come in where Noggin is on a network: who knows the pass-phrase, for some hours; and a phone that
was paired by its code, for a day. On this machine alone there is no gate.

Sessions are Flask-Login's; tries are limited by Flask-Limiter, address by address, so that nobody who
guesses locks the owner out.
"""

from dataclasses import dataclass, field
from datetime import timedelta
from urllib.parse import urlsplit

import segno
from flask import Blueprint, Flask, current_app, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user
from itsdangerous import BadSignature, URLSafeTimedSerializer
from werkzeug.exceptions import Unauthorized

from noggin.services.day.today import today
from noggin.services.passphrase import PassPhrase
from noggin.web.shared.wiring import wants_part, wiring

pages = Blueprint("gate", __name__)

SIGNED_IN_FOR = timedelta(hours=12)
PAIRED_FOR = timedelta(hours=24)
CODE_GOOD_FOR = timedelta(minutes=15)

TRIES = "5 per minute; 30 per hour; 100 per day"
"""Wrong or right, from one address."""

OPEN = {
    "static",
    "gate.sign_in_page",
    "gate.sign_in",
    "gate.pair_page",
    "gate.pair",
    "setups.favicon",
    "service_worker",
}
"""What is answered to anybody."""


@dataclass
class Gate:
    """The gate of one application: its pass-phrase, addresses under which it can be reached from elsewhere,
    and codes that were used."""

    passphrase: PassPhrase
    addresses: tuple[str, ...] = ()
    used: set[str] = field(default_factory=set)

    def code(self) -> str:
        """A new code that pairs one phone."""
        return str(_codes().dumps(self.passphrase.mark()))

    def takes(self, code: str) -> bool:
        """Whether a code is good; it is used up so."""
        if not self.is_good(code):
            return False
        self.used.add(code)
        return True

    def is_good(self, code: str) -> bool:
        """Whether a code can still pair a phone."""
        try:
            mark = _codes().loads(code, max_age=round(CODE_GOOD_FOR.total_seconds()))
        except BadSignature:
            return False
        return mark == self.passphrase.mark() and code not in self.used


def _codes() -> URLSafeTimedSerializer:
    return URLSafeTimedSerializer(current_app.secret_key or b"", salt="pair a phone")


class Owner(UserMixin):  # type: ignore[misc]  # it has none
    """Who is signed in; the name carries which pass-phrase it was by."""

    def __init__(self, mark: str) -> None:
        self.id = mark


limiter = Limiter(get_remote_address, storage_uri="memory://")


def put_up(app: Flask, gate: Gate | None) -> None:
    """Ask everybody who comes in, where there is a gate."""
    app.extensions["noggin_gate"] = gate
    app.config.setdefault("RATELIMIT_ENABLED", gate is not None)
    app.config.setdefault("RATELIMIT_HEADERS_ENABLED", False)
    limiter.init_app(app)
    manager = LoginManager(app)
    manager.session_protection = "basic"

    @manager.user_loader  # type: ignore[untyped-decorator]  # it has none
    def known(mark: str) -> Owner | None:
        if gate is None or session.get("until", 0) < wiring().clock().timestamp():
            return None
        return Owner(mark) if mark == gate.passphrase.mark() else None

    @app.before_request
    def ask() -> ResponseReturnValue | None:
        # What leads nowhere, or came under a strange name, is answered as that.
        if gate is None or request.routing_exception or request.endpoint in OPEN:
            return None
        if current_user.is_authenticated:
            return None
        if request.method == "GET" and not wants_part():
            return redirect(url_for("gate.sign_in_page", to=request.full_path.rstrip("?")))
        raise Unauthorized(SIGNED_OUT)


SIGNED_OUT = (
    "You are signed out. Sign in on another tab. Figures that you entered wait here until then; "
    "anything else is to be done again."
)


def present() -> Gate | None:
    """The gate of the present application; None where there is none."""
    gate: Gate | None = current_app.extensions["noggin_gate"]
    return gate


def inner(address: str) -> str:
    """An address on this server as it was given, or the start where it leads anywhere else."""
    parts = urlsplit(address)
    leads_out = parts.scheme or parts.netloc or not address.startswith("/")
    odd = address[1:2] in ("/", "\\") or any(ord(letter) < 32 for letter in address)
    return "/" if leads_out or odd else address


@pages.get("/sign-in")
def sign_in_page() -> ResponseReturnValue:
    """Where the pass-phrase is typed."""
    if present() is None or current_user.is_authenticated:
        return redirect(inner(request.args.get("to", "/")))
    return _sign_in("")


@pages.post("/sign-in")
@limiter.limit(TRIES)
def sign_in() -> ResponseReturnValue:
    """The pass-phrase, right or wrong."""
    gate = present()
    if gate and not gate.passphrase.matches(request.form.get("passphrase", "")):
        return _sign_in("That is not the pass-phrase."), 422
    if gate:
        _let_in(gate, SIGNED_IN_FOR)
    return redirect(inner(request.form.get("to", "/")), 303)


def _sign_in(problem: str) -> str:
    return render_template("gate/sign_in.html", problem=problem, to=inner(request.values.get("to", "/")))


def _let_in(gate: Gate, span: timedelta) -> None:
    session.clear()
    login_user(Owner(gate.passphrase.mark()))
    session.permanent = True  # also when the browser was closed meanwhile
    session["until"] = (wiring().clock() + span).timestamp()


@pages.post("/sign-out")
def sign_out() -> ResponseReturnValue:
    """End the session of this browser."""
    logout_user()
    session.clear()
    answer = redirect(url_for("gate.sign_in_page"), 303)
    # What the browser keeps to be read without the server goes as well.
    answer.headers["Clear-Site-Data"] = '"cache", "storage"'
    return answer


@pages.get("/phone")
def phone() -> str:
    """How a phone gets in."""
    gate = present()
    links = []
    for address in gate.addresses if gate else ():
        link = f"{address}{url_for('gate.pair_page', code=gate.code() if gate else '')}"
        picture = segno.make(link, micro=False).svg_data_uri(scale=5, border=2)
        links.append((address, link, picture))
    return render_template(
        "gate/phone.html",
        on_network=gate is not None,
        links=links,
        next_day=today(wiring().store, wiring().clock).day,
    )


@pages.get("/pair/<code>")
def pair_page(code: str) -> ResponseReturnValue:
    """What a phone opens from its code. It asks once more: programs that look at links before a person does
    use no code up."""
    gate = present()
    if gate is None or not gate.is_good(code):
        return render_template("gate/pair.html", code=""), 410
    return render_template("gate/pair.html", code=code)


@pages.post("/pair/<code>")
@limiter.limit(TRIES)
def pair(code: str) -> ResponseReturnValue:
    """A phone let in for a day."""
    gate = present()
    if gate is None or not gate.takes(code):
        return render_template("gate/pair.html", code=""), 410
    _let_in(gate, PAIRED_FOR)
    return redirect("/", 303)
