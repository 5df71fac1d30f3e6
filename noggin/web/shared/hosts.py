"""Under which names an application may be asked for: a page elsewhere must not reach this server under a
host name of its own."""

import re

from flask import Flask, current_app, request
from werkzeug.exceptions import SecurityError

HERE_ALONE = ("127.0.0.1", "localhost", "[::1]")
"""Names of this machine as it asks for itself."""


def checked(app: Flask) -> None:
    """Answer nothing under a name that is not in the application's `HOSTS`, before anything else is done.
    (Werkzeug's own check, `TRUSTED_HOSTS`, knows no addresses of six.)"""

    @app.before_request
    def check() -> None:
        if not is_one_of(request.environ.get("HTTP_HOST", ""), current_app.config["HOSTS"]):
            raise SecurityError


def is_one_of(host: str, names: tuple[str, ...] | list[str]) -> bool:
    """Whether a request's host, with or without a port, is one of some names.

    >>> is_one_of("[::1]:8750", ["[::1]"]), is_one_of("evil.example", ["[::1]"])
    (True, False)
    """
    parts = re.fullmatch(r"([a-z0-9.-]+|\[[a-f0-9:.]+\])(:\d{1,5})?", host.lower(), re.ASCII)
    return parts is not None and parts[1] in {name.lower() for name in names}
