"""A bag's figures as they are typed."""

from noggin.forms.entry import Entry, read_name


def _stripped(text: str) -> str:
    return text.strip()


BAG_ENTRIES = {
    entry.key: entry
    for entry in (
        Entry("name", "Name", ("name",), read_name, str),
        Entry("day", "For the day", ("day",), _stripped, str, blank="no day in particular"),
        Entry("notes", "Notes", ("notes",), _stripped, str, blank="none", empty=""),
    )
}
"""Every figure of a bag."""
