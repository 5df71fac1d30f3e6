"""Everything that is refused on purpose, for pages and the terminal to answer."""

from noggin.core.errors import NogginError, OutOfRange, Refused, Unreadable
from noggin.documents.problems import BadDocument, Problem
from noggin.services.day.shoots import Mistyped
from noggin.services.gear.kit import NoSuchClass
from noggin.services.gear.measuring import NoSuchSheet
from noggin.services.keeping.form import NoSuchFigure
from noggin.services.keeping.kept import TooLate
from noggin.services.setups.layout_figures import NoSuchThing
from noggin.services.setups.setups import NoSuchRemedy
from noggin.store.errors import StoreDamaged, StoreFailed, StoreTooNew, StoreUnreadable, StoreUnusable
from noggin.store.repository import NothingToUndo, NotKept

__all__ = [
    "BadDocument",
    "Mistyped",
    "NoSuchClass",
    "NoSuchFigure",
    "NoSuchRemedy",
    "NoSuchSheet",
    "NoSuchThing",
    "NogginError",
    "NotKept",
    "NothingToUndo",
    "OutOfRange",
    "Problem",
    "Refused",
    "StoreDamaged",
    "StoreFailed",
    "StoreTooNew",
    "StoreUnreadable",
    "StoreUnusable",
    "TooLate",
    "Unreadable",
]
