"""What the pages work with: the store, the clock and chance, held by the application."""

import re
from collections.abc import Callable
from contextlib import ExitStack, closing
from dataclasses import dataclass, field
from random import Random, SystemRandom
from typing import Any, cast

from flask import Flask, Response, abort, current_app, g, request

from noggin.services.clock import Clock
from noggin.services.keeping.results import forget_plans
from noggin.services.whole.opening import Store
from noggin.services.words import distances_in, wording
from noggin.web.shared.memory import give_back
from noggin.web.shared.pictures import Pictures
from noggin.web.shared.windows import Windows


@dataclass
class Wiring:
    """Store, clock and chance of one application, the windows that are open on it and the pictures in them;
    and how much memory its processes hold, where a server says so."""

    store: Store
    clock: Clock
    chance: Random = field(default_factory=SystemRandom)
    windows: Windows = field(default_factory=Windows)
    pictures: Pictures = field(default_factory=Pictures)
    memory: Callable[[], dict[str, Any]] = field(default=dict)

    def __post_init__(self) -> None:
        self.pictures.take_photographs_from(self.store.photographs.get)

    def let_go(self) -> None:
        """Keep nothing that can be made again."""
        self.pictures.let_go()
        forget_plans()
        give_back()


def wiring() -> Wiring:
    """The present application's."""
    return cast(Wiring, current_app.extensions["noggin"])


def wants_part() -> bool:
    """Whether the request comes from the page itself and takes a part of it, not the whole page anew."""
    full = request.headers.get("HX-Request-Type") == "full"
    return request.headers.get("HX-Request") == "true" and not full


def steps(text: str | None) -> int | None:
    """How many steps a stepper asks for, which are several where it was held; None where a figure was
    typed instead."""
    if text is None:
        return None
    if not re.fullmatch(r"-?[1-9]\d?", text):
        abort(400, f"A stepper moves 1 to {STEPS_MOST} steps up or down.")
    return int(text)


STEPS_MOST = 99
"""Steps that one request may ask for."""


def file(name: str, ending: str, content: bytes | str, kind: str) -> Response:
    """Something to be saved under the name of what it is of."""
    answer = Response(content, content_type=f"{kind}; charset=utf-8")
    answer.headers["Content-Disposition"] = f'attachment; filename="{wording.slug(name)}-{ending}"'
    return answer


UNIT_COOKIE = "noggin_unit"
"""Where the reader's unit of distance is kept."""


def in_readers_unit(app: Flask) -> None:
    """Read and write distances in the unit that the reader chose, request by request."""

    @app.before_request
    def begin() -> None:
        g.unit = ExitStack()
        g.unit.enter_context(distances_in(request.cookies.get(UNIT_COOKIE, "m")))

    @app.teardown_request
    def end(_: BaseException | None) -> None:
        unit = g.pop("unit", None)
        if unit:
            unit.close()


def in_one_moment(app: Flask) -> None:
    """What a page reads is of one moment of the store: one transaction for each request that changes
    nothing."""

    @app.before_request
    def begin() -> None:
        g.moment = ExitStack()
        if request.method in ("GET", "HEAD") and request.endpoint != "static":
            g.moment.enter_context(wiring().store.read_transaction())

    @app.teardown_request
    def end(_: BaseException | None) -> None:
        moment = g.pop("moment", None)
        if moment:
            moment.close()


STAMP_HEADER = "Noggin-Stamp"
"""Names the state of everything kept that an answer is of; pages ask anew when it has moved on."""


def stamped(app: Flask) -> None:
    """Say with every answer which state of everything kept it is of: for a page, the one when its reading
    began, and for a change, the one after it."""

    @app.before_request
    def note() -> None:
        if request.endpoint != "static":
            g.stamp = wiring().store.stamp()

    @app.after_request
    def say_so(answer: Response) -> Response:
        if request.method not in ("GET", "HEAD") and answer.status_code < 500:
            g.stamp = wiring().store.stamp()
        if g.get("let_in", True):
            answer.headers[STAMP_HEADER] = g.get("stamp", "")
        return answer

    @app.get("/alive")
    def alive() -> tuple[str, int]:
        """Whether Noggin answers, and by its header which state it has."""
        return "", 204

    app.jinja_env.globals["stamp"] = lambda: g.get("stamp", "")


def with_the_pages_token(app: Flask) -> None:
    """Answer a page with the token that it sent, which was found good by then: a new one would make every
    form of the answer differ from the one in the page, and all of them would be swapped."""

    @app.before_request
    def keep() -> None:
        sent = request.form.get("csrf_token") if request.method == "POST" else None
        if sent:
            g.csrf_token = sent


def read_after_act() -> None:
    """From here to the end of the request everything is read in one transaction; for the answer to a
    change."""
    if request.method not in ("GET", "HEAD"):
        g.moment.enter_context(wiring().store.read_transaction())


def given_bytes() -> tuple[bytes, str]:
    """A document given by file or by paste, and what of it is shown again beside what is wrong with it."""
    pasted = request.form.get("document", "")
    raw = given_file() or pasted.encode()
    return raw, pasted or raw[:SHOWN_AGAIN].decode(errors="replace")


def given_file() -> bytes:
    """The file that was chosen; empty where there is none."""
    given = request.files.get("file")
    if given is None or not given.filename:
        return b""
    with closing(given):
        raw: bytes = given.read()
        return raw


SHOWN_AGAIN = 20_000
"""Bytes of a refused file that are shown again."""
