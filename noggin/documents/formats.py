"""Every open format, a row each: its name and version, and the model that documents of it are. Schemas and
the list in `docs/formats.md` follow from it."""

from dataclasses import dataclass

from pydantic import BaseModel

from noggin.documents.daylight_table import LightOfDay
from noggin.documents.kit import KitDocument
from noggin.documents.log import LogDocument
from noggin.documents.photograph import PlacesDocument
from noggin.documents.plan import PlanDocument
from noggin.documents.pops import PopsAnswer, PopsDocument
from noggin.documents.practice import PracticeDocument
from noggin.documents.setup import SetUpDocument
from noggin.documents.shoot import ShootDocument
from noggin.documents.takes import PicturesDocument, TakesDocument


@dataclass(frozen=True)
class Format:
    """One open format."""

    name: str
    version: int
    model: type[BaseModel]

    @property
    def schema(self) -> str:
        """The name of its schema's file in `docs/schema/`."""
        return f"{self.name}-{self.version}.json"


FORMATS = (
    Format("noggin-setup", 1, SetUpDocument),
    Format("noggin-plan", 1, PlanDocument),
    Format("noggin-pops", 1, PopsDocument),
    Format("noggin-pops-answer", 1, PopsAnswer),
    Format("noggin-light", 1, LightOfDay),
    Format("noggin-kit", 1, KitDocument),
    Format("noggin-shoot", 1, ShootDocument),
    Format("noggin-log", 1, LogDocument),
    Format("noggin-takes", 1, TakesDocument),
    Format("noggin-pictures", 1, PicturesDocument),
    Format("noggin-places", 1, PlacesDocument),
    Format("noggin-practice", 1, PracticeDocument),
)
"""Each format once."""
