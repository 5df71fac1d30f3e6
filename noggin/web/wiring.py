"""What the pages work with: the store and the clock, held by the application."""

from dataclasses import dataclass
from typing import cast

from flask import current_app, request

from noggin.services import Clock
from noggin.store.setups import Store


@dataclass(frozen=True)
class Wiring:
    """Store and clock of one application."""

    store: Store
    clock: Clock


def wiring() -> Wiring:
    """The present application's."""
    return cast(Wiring, current_app.extensions["noggin"])


def wants_part() -> bool:
    """Whether the request comes from the page itself and takes a part of it."""
    return request.headers.get("HX-Request") == "true"
