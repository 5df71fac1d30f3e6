"""What somebody may send before they are let in: little, and on few connections. A body is taken in before
any page is asked, so whoever is in is told from the head of a request alone."""

from collections.abc import Callable
from copy import copy
from typing import Any

from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser

from noggin.web.serving.reachable import is_loopback

BODY_MOST = 64 * 1024
"""Bytes of a stranger's request: a pass-phrase fits, and nothing is put on the disk for it."""

CONNECTIONS_MOST = 60
"""Connections from one address; a browser opens six or so."""

Knows = Callable[[str], bool]
"""Whether whoever sends these cookies is let in."""


def guarded(knows: Knows) -> Callable[..., HTTPChannel | None]:
    """What makes a channel for each connection that a server accepts (waitress's `channel_class`)."""

    class Narrow(HTTPRequestParser):  # type: ignore[misc]  # it has none
        """Reads a request; after its head a stranger's may not be long."""

        def parse_header(self, header_plus: bytes) -> None:
            """Read the head. Raises as waitress's own does."""
            super().parse_header(header_plus)
            if (self.content_length or self.chunked) and not knows(self.headers.get("COOKIE", "")):
                narrow = copy(self.adj)  # type: ignore[has-type]
                narrow.max_request_body_size = BODY_MOST
                self.adj = narrow

    class Channel(HTTPChannel):  # type: ignore[misc]  # it has none
        """One connection."""

        parser_class = Narrow

    def accepted(server: Any, connection: Any, address: Any, adj: Any, map: Any = None) -> Channel | None:  # noqa: A002 - waitress's own name
        others = [channel for channel in server.active_channels.values() if channel.addr[0] == address[0]]
        if len(others) >= CONNECTIONS_MOST and not is_loopback(address[0]):
            connection.close()
            return None
        return Channel(server, connection, address, adj, map=map)

    return accepted
