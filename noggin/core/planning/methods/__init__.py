"""Every way of making a picture: one file each, joined into one table. A new way is a file and a row
here."""

from collections.abc import Mapping

from noggin.core.planning.methods.hss import HSS
from noggin.core.planning.methods.mixed import MIXED
from noggin.core.planning.methods.nd import ND
from noggin.core.planning.methods.stop_down import STOP_DOWN
from noggin.core.planning.methods.within_sync import WITHIN_SYNC
from noggin.core.planning.way import Method

__all__ = ["HSS", "METHODS", "MIXED", "ND", "STOP_DOWN", "WITHIN_SYNC"]

METHODS: Mapping[str, Method] = {method.key: method for method in (WITHIN_SYNC, STOP_DOWN, ND, MIXED, HSS)}
"""Every method by its key, in the order the trade lists them."""
