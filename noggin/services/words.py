"""How pages and the terminal say things: figures as they are written, and what methods, roles, rows and
kinds are called."""

from noggin.core import wording
from noggin.core.advice import way_table
from noggin.core.advice.derivations import DERIVATIONS
from noggin.core.advice.reasons import RULE
from noggin.core.advice.verdict_words import (
    VERDICT_WORDS,
    drawbacks_in_words,
    first_lack,
    lacks_in_words,
    landing_words,
    only_just,
)
from noggin.core.daylight.forecast import DAY_ZONES
from noggin.core.planning.ways import WAYS
from noggin.core.pops.faults import BY_KEY as FAULTS_BY_KEY
from noggin.core.setup.light import ROLES
from noggin.core.tables import GROUNDS, SKIES, SOURCES
from noggin.core.wording import UNITS, distances_in
from noggin.documents.fields import YEARS, is_zone, zones
from noggin.documents.gear import GEAR_KINDS
from noggin.forms.gear_classes import GEAR_CLASSES
from noggin.forms.gear_summary import summary
from noggin.forms.light_entries import LIGHT_ENTRIES
from noggin.forms.shoot_entries import SHOOT_ENTRIES
from noggin.services.frames.frame_tags import VERDICTS

__all__ = [
    "DAY_ZONES",
    "DERIVATIONS",
    "FAULTS_BY_KEY",
    "GEAR_CLASSES",
    "GEAR_KINDS",
    "GROUNDS",
    "LIGHT_ENTRIES",
    "ROLES",
    "RULE",
    "SHOOT_ENTRIES",
    "SKIES",
    "SOURCES",
    "UNITS",
    "VERDICTS",
    "VERDICT_WORDS",
    "WAYS",
    "YEARS",
    "distances_in",
    "drawbacks_in_words",
    "first_lack",
    "is_zone",
    "lacks_in_words",
    "landing_words",
    "only_just",
    "summary",
    "way_table",
    "wording",
    "zones",
]
