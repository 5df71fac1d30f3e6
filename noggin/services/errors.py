"""Everything that is refused on purpose, for pages and the terminal to answer."""

from noggin.core.errors import NogginError, OutOfRange, Refused, Unreadable
from noggin.documents.faults import BadDocument, Fault
from noggin.services.form import NoSuchFigure
from noggin.services.kept import TooLate
from noggin.services.kit import NoSuchClass
from noggin.services.measuring import NoSuchSheet
from noggin.services.plan_figures import NoSuchThing
from noggin.services.setups import NoSuchRemedy
from noggin.services.shoots import Mistyped
from noggin.store.errors import StoreDamaged, StoreFailed, StoreTooNew, StoreUnreadable, StoreUnusable
from noggin.store.repository import NoSuchStep, NotKept

__all__ = [
    "BadDocument",
    "Fault",
    "Mistyped",
    "NoSuchClass",
    "NoSuchFigure",
    "NoSuchRemedy",
    "NoSuchSheet",
    "NoSuchStep",
    "NoSuchThing",
    "NogginError",
    "NotKept",
    "OutOfRange",
    "Refused",
    "StoreDamaged",
    "StoreFailed",
    "StoreTooNew",
    "StoreUnreadable",
    "StoreUnusable",
    "TooLate",
    "Unreadable",
]
