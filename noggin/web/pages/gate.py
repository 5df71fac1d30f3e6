"""Who may come in where Noggin is on a network: who knows the pass-phrase, for some hours; and a phone that
was paired by its code, for a day. On this machine alone there is no gate.

A browser's cookie names a session that the server knows: what was ended there is ended. Tries are limited
by Flask-Limiter, address by address, so that nobody who guesses locks the owner out.
"""

from dataclasses import dataclass
from datetime import timedelta
from functools import partial
from urllib.parse import urlsplit

import segno
from flask import (
    Blueprint,
    Flask,
    current_app,
    g,
    make_response,
    redirect,
    render_template,
    request,
    session,
    url_for,
)
from flask.sessions import SecureCookieSessionInterface
from flask.typing import ResponseReturnValue
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user
from itsdangerous import BadSignature, URLSafeTimedSerializer
from werkzeug.exceptions import Unauthorized
from werkzeug.http import parse_cookie

from noggin.services.day.today import today
from noggin.services.passphrase import PassPhrase
from noggin.services.sessions import Sessions
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


AT_THE_SPOT = {"bench", "guide", "layout", "live", "photograph", "proofs", "shoots", "spot"}
"""Blueprints of what a paired phone may change: what is done where the picture is taken."""

AT_THE_SPOT_TOO = {
    "today.first",
    "setups.unit",
    "log.note",
    "log.like",
    "log.put_with",
    "gate.sign_out",
    "practice.answer",
}

NOT_BY_PHONE = {
    *("gate.phone", "log.as_json", "log.as_csv", "log.as_xmp", "practice.answers"),
    *("shoots.bring_in", "shoots.bring_in_page", "shoots.create", "shoots.archive", "shoots.bring_back"),
    *("bench.archive", "bench.bring_back", "bench.put_in_kit", "setups.bring_in_page", "kit.bring_in_page"),
    *("log.bring_in_page", "safekeeping.page", "safekeeping.backup", "safekeeping.everything"),
    "pocket.packed",
}
"""What a paired phone is asked the pass-phrase for, although it only reads or is of those blueprints:
pairing further ones, and everything that comes in or goes out as a whole."""


def by_phone(endpoint: str, *, reads: bool) -> bool:
    """Whether a paired phone may do this without the pass-phrase."""
    if endpoint in NOT_BY_PHONE:
        return False
    return reads or endpoint in AT_THE_SPOT_TOO or endpoint.partition(".")[0] in AT_THE_SPOT


@dataclass
class Gate:
    """The gate of one application: its pass-phrase, who is in, and addresses under which it can be reached
    from elsewhere."""

    passphrase: PassPhrase
    sessions: Sessions
    addresses: tuple[str, ...] = ()

    def code(self) -> str:
        """A new code that pairs one phone."""
        return str(_codes().dumps(self.passphrase.mark()))

    def takes(self, code: str) -> bool:
        """Whether a code is good; it is used up so."""
        if not self.is_good(code):
            return False
        now = wiring().clock().timestamp()
        self.sessions.use_up(code, now, now + CODE_GOOD_FOR.total_seconds())
        return True

    def is_good(self, code: str) -> bool:
        """Whether a code can still pair a phone."""
        try:
            mark = _codes().loads(code, max_age=round(CODE_GOOD_FOR.total_seconds()))
        except BadSignature:
            return False
        return mark == self.passphrase.mark() and not self.sessions.is_used(code)


def _codes() -> URLSafeTimedSerializer:
    return URLSafeTimedSerializer(current_app.secret_key or b"", salt="pair a phone")


class Somebody(UserMixin):  # type: ignore[misc]  # it has none
    """Who is in, by the number of the session; whether by a phone that was paired."""

    def __init__(self, number: str, *, phone: bool) -> None:
        self.id, self.phone = number, phone


limiter = Limiter(get_remote_address, storage_uri="memory://")


def put_up(app: Flask, gate: Gate | None) -> None:
    """Ask everybody who comes in, where there is a gate."""
    app.extensions["noggin_gate"] = gate
    app.extensions["noggin_knows"] = partial(_knows, app, gate) if gate else None
    app.config.setdefault("RATELIMIT_ENABLED", gate is not None)
    app.config.setdefault("RATELIMIT_HEADERS_ENABLED", False)
    limiter.init_app(app)
    manager = LoginManager(app)
    manager.session_protection = "basic"

    @manager.user_loader  # type: ignore[untyped-decorator]  # it has none
    def known(number: str) -> Somebody | None:
        if gate is None or session.get("mark") != gate.passphrase.mark():
            return None
        found = gate.sessions.known(number, wiring().clock().timestamp())
        return Somebody(number, phone=found.phone) if found else None

    @app.before_request
    def ask() -> ResponseReturnValue | None:
        # What leads nowhere, or came under a strange name, is answered as that.
        g.let_in = gate is None
        if gate is None or request.routing_exception or request.endpoint in OPEN:
            return None
        is_in, reads = current_user.is_authenticated, request.method in ("GET", "HEAD")
        g.let_in = is_in  # a stranger is not told by headers which state everything has
        if is_in and (not current_user.phone or by_phone(request.endpoint or "", reads=reads)):
            return None
        if request.method == "GET" and not wants_part():
            return redirect(url_for("gate.sign_in_page", to=request.full_path.rstrip("?")))
        raise Unauthorized(PHONE_ALONE if is_in else SIGNED_OUT)


FORGET_HEADER = "Noggin-Forget"
"""Tells a browser's service worker that the pages it keeps are not this browser's to read any more: the
pass-phrase was changed, or somebody signed out. Figures that wait there stay, and go out when somebody
signs in."""


PHONE_ALONE = "A paired phone may do what is done at the spot. Sign in with the pass-phrase for the rest."

SIGNED_OUT = (
    "You are signed out. Sign in on another tab. Figures that you entered wait here until then; "
    "anything else is to be done again."
)


def present() -> Gate | None:
    """The gate of the present application; None where there is none."""
    gate: Gate | None = current_app.extensions["noggin_gate"]
    return gate


def _knows(app: Flask, gate: Gate, cookies: str) -> bool:
    """Whether whoever sends these cookies is in, told before a request is read."""
    signed = SecureCookieSessionInterface().get_signing_serializer(app)
    sent = parse_cookie(cookies).get(app.config["SESSION_COOKIE_NAME"], "")
    if signed is None:
        return False
    try:
        found = signed.loads(sent)
    except BadSignature:
        return False
    now = app.extensions["noggin"].clock().timestamp()
    is_known = gate.sessions.known(str(found.get("_user_id", "")), now) is not None
    return is_known and found.get("mark") == gate.passphrase.mark()


def inner(address: str) -> str:
    """An address on this server as it was given, or the start where it leads anywhere else."""
    parts = urlsplit(address)
    leads_out = parts.scheme or parts.netloc or not address.startswith("/")
    odd = address[1:2] in ("/", "\\") or any(ord(letter) < 32 for letter in address)
    return "/" if leads_out or odd else address


@pages.get("/sign-in")
def sign_in_page() -> ResponseReturnValue:
    """Where the pass-phrase is typed."""
    if present() is None or (current_user.is_authenticated and not current_user.phone):
        return redirect(inner(request.args.get("to", "/")))
    answer = make_response(_sign_in(""))
    gate = present()
    others = gate and session.get("mark", gate.passphrase.mark()) != gate.passphrase.mark()
    if others or session.pop("signed_out", False):
        answer.headers[FORGET_HEADER] = "pages"
    return answer


@pages.post("/sign-in")
@limiter.limit(TRIES)
def sign_in() -> ResponseReturnValue:
    """The pass-phrase, right or wrong."""
    gate = present()
    if gate and not gate.passphrase.matches(request.form.get("passphrase", "")):
        return _sign_in("That is not the pass-phrase."), 422
    if gate:
        _let_in(gate, SIGNED_IN_FOR, phone=False)
    return redirect(inner(request.form.get("to", "/")), 303)


def _sign_in(problem: str) -> str:
    asked_again = PHONE_ALONE if current_user.is_authenticated else ""
    to = inner(request.values.get("to", "/"))
    return render_template("gate/sign_in.html", problem=problem, to=to, asked_again=asked_again)


def _let_in(gate: Gate, span: timedelta, *, phone: bool) -> None:
    _end(gate)
    session.clear()
    now = wiring().clock()
    number = gate.sessions.begin(now.timestamp(), (now + span).timestamp(), phone=phone)
    login_user(Somebody(number, phone=phone))
    session.permanent = True  # also when the browser was closed meanwhile
    session["mark"] = gate.passphrase.mark()


def _end(gate: Gate | None) -> None:
    """End the session of this browser on the server, where it has one."""
    if gate and current_user.is_authenticated:
        gate.sessions.end(current_user.id)


@pages.post("/sign-out")
def sign_out() -> ResponseReturnValue:
    """End the session of this browser."""
    _end(present())
    logout_user()
    session.clear()
    # What the browser keeps to be read without the server goes as well; what a pocket edition of the same
    # address keeps is its own.
    session["signed_out"] = True
    answer = redirect(url_for("gate.sign_in_page"), 303)
    answer.headers["Clear-Site-Data"] = '"cache"'
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
    _let_in(gate, PAIRED_FOR, phone=True)
    return redirect("/", 303)
