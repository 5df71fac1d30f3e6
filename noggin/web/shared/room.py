"""How much a request may bring: a document's size, and more where files are meant. Said of every route
before anything reads the request, so that no form is refused for a limit that is not its own."""

from flask import Flask, request

KIB, MIB = 1024, 1024 * 1024

DOCUMENT = MIB
"""Bytes of a request that brings figures or a document."""

FILES = 64 * MIB
"""Bytes of the files of frames that one request brings; larger ones come in by the command line."""

FORM = 64 * KIB
"""Bytes of a form around files: its fields, and what stands between them."""

EVERYTHING = 72 * MIB
"""Bytes of a backup, or of everything as documents."""

ROOM = {
    "kit.fit_curve": FILES + FORM,
    "log.bring_in": FILES + FORM,
    "log.bring_in_log": FILES + FORM,
    "log.full_size": FILES + FORM,
    "log.measure": FILES + FORM,
    "photograph.bring": FILES + FORM,
    "photograph.other": FILES + FORM,
    "photograph.scout": FILES + FORM,
    "spot.pop_file": FILES + FORM,
    "safekeeping.bring_in": EVERYTHING + FORM,
    "safekeeping.restore": EVERYTHING + FORM,
}
"""Routes with more room than a document needs, by their endpoint."""


def make_room(app: Flask) -> None:
    """Give every request the room of its route. To be called before anything that reads requests is set
    up."""

    @app.before_request
    def room() -> None:
        request.max_content_length = ROOM.get(request.endpoint or "", DOCUMENT)
