"""What a page needs to draw a figure that can be typed."""

from noggin.core.setup.setup import SetUp
from noggin.forms.entry import Entry
from noggin.services.form import Pending

__all__ = ["Entry", "Pending", "SetUp"]
