"""Every figure of a picture as it is typed on the Bench."""

from noggin.forms.camera_entries import CAMERA_ENTRIES
from noggin.forms.composition_entries import COMPOSITION_ENTRIES
from noggin.forms.daylight_entries import DAYLIGHT_ENTRIES
from noggin.forms.intent_entries import INTENT_ENTRIES

PICTURE_ENTRIES = {
    entry.key: entry
    for entry in (*COMPOSITION_ENTRIES, *DAYLIGHT_ENTRIES, *INTENT_ENTRIES, *CAMERA_ENTRIES)
}
"""Every figure of the picture, by its key."""
