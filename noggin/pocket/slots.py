"""What a phone keeps, in two slots that are written in turn: a tab that is killed while one is written
leaves the other whole.

A slot is 8 letters, a number that rises with each writing and the length of what follows (both 8 bytes, the
most significant first), the SHA-256 of number and content, and the content.
"""

from hashlib import sha256
from struct import Struct
from typing import NamedTuple

MAGIC = b"NOGGIN01"
HEAD = Struct(">8sQQ32s")


class PhoneSlot(NamedTuple):
    """What a slot holds, and its number."""

    number: int
    content: bytes


def written(number: int, content: bytes) -> bytes:
    """A slot as it is written."""
    return HEAD.pack(MAGIC, number, len(content), _digest(number, content)) + content


def read(slot: bytes) -> PhoneSlot | None:
    """What a slot holds; None for one that was never written to its end."""
    if len(slot) < HEAD.size:
        return None
    magic, number, length, digest = HEAD.unpack_from(slot)
    content = slot[HEAD.size : HEAD.size + length]
    if magic != MAGIC or len(content) != length or digest != _digest(number, content):
        return None
    return PhoneSlot(number, content)


def newest(first: bytes, second: bytes) -> PhoneSlot | None:
    """The one of two slots that was written last to its end; None where nothing was ever kept."""
    return max((found for found in map(read, (first, second)) if found), default=None)


def _digest(number: int, content: bytes) -> bytes:
    return sha256(number.to_bytes(8) + content).digest()
