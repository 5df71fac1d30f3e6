"""Every way of making a picture: one file each, joined into one table. A new way is a file and a row
here."""

from noggin.core.planning.way import WayKind
from noggin.core.planning.ways.hss import HSS
from noggin.core.planning.ways.mixed import MIXED
from noggin.core.planning.ways.nd import ND
from noggin.core.planning.ways.stop_down import STOP_DOWN
from noggin.core.planning.ways.within_sync import WITHIN_SYNC

__all__ = ["HSS", "MIXED", "ND", "STOP_DOWN", "WAYS", "WITHIN_SYNC"]

WAYS: dict[str, WayKind] = {kind.key: kind for kind in (WITHIN_SYNC, STOP_DOWN, ND, MIXED, HSS)}
"""Every kind of way by its key, in the order the trade lists them."""
