"""What a way costs, from its own figures: the price that is named with a recommendation."""

from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.wording import listed


def price(setup: SetUp, way: Way) -> str:
    """What a way costs, in a few words; "nothing" where it does."""
    return listed(list(way.kind.price(setup, way))) or "nothing"
