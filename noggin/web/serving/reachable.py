"""Under which names and addresses a server is asked for."""

import socket
from ipaddress import ip_address


def is_loopback(host: str) -> bool:
    """Whether only this machine can reach a host: a name or an address."""
    if host == "localhost":
        return True
    try:
        return ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return False


def in_url(host: str) -> str:
    """A host as it stands in an address.

    >>> in_url("::1"), in_url("noggin.local")
    ('[::1]', 'noggin.local')
    """
    return f"[{host}]" if ":" in host else host


def own_addresses() -> tuple[str, ...]:
    """This machine's addresses in its networks, the one that leads outward first; nothing is sent."""
    found: dict[str, None] = {}
    for family, outside in ((socket.AF_INET, "192.0.2.1"), (socket.AF_INET6, "2001:db8::1")):
        try:
            with socket.socket(family, socket.SOCK_DGRAM) as probe:
                probe.connect((outside, 9))  # RFC 5737 and RFC 3849: for documentation, nobody is there
                found[probe.getsockname()[0]] = None
        except OSError:
            continue
    try:
        for *_, address in socket.getaddrinfo(socket.gethostname(), None, type=socket.SOCK_STREAM):
            found[str(address[0])] = None
    except OSError:
        pass
    return tuple(address for address in found if not is_loopback(address) and "%" not in address)


def own_names() -> tuple[str, ...]:
    """Names under which this machine may be asked for in its network."""
    name = socket.gethostname()
    return (name, f"{name}.local") if name and "." not in name else (name,)
