"""The server that ships: waitress on one address."""

import errno
from typing import Any

import waitress
from flask import Flask

from noggin.core.errors import NogginError


class PortTaken(NogginError):
    """Another program listens there already."""


def listen(app: Flask, host: str, port: int) -> Any:
    """A server bound to the address; its `run()` serves. Raises PortTaken."""
    try:
        return waitress.create_server(app, host=host, port=port, threads=4)
    except OSError as error:
        if error.errno != errno.EADDRINUSE:
            raise
        problem = f"Port {port} is taken by another program. Choose another: make demo PORT={port + 1}"
        raise PortTaken(problem) from None
