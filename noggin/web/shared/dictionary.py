"""Answers sent as what is new in them: a browser that holds a sample page, which has most of its text in
common with every answer, is sent the rest (RFC 9842, Compression Dictionary Transport)."""

from base64 import b64encode
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from hashlib import sha256

from backports import zstd
from flask import Flask, Response, abort, request

from noggin.web.shared.assets import KEPT_FOR_A_YEAR

CODING = "dcz"
"""Zstandard with a dictionary (RFC 9842, section 5)."""

MAGIC = b"\x5e\x2a\x4d\x18\x20\x00\x00\x00"
"""What stands before the dictionary's SHA-256 in such an answer (RFC 9842, section 5)."""

LEVEL = 9
"""Of Zstandard: 1.7 kB for a board in 0.7 ms, where Brotli's fourth takes 4.9 kB in 1.8 ms."""

LEAST_BYTES = 500
"""Answers smaller than this are sent as they are."""


@dataclass(frozen=True)
class Dictionary:
    """A sample page as compression goes by it; what is worked out from it is worked out once."""

    content: bytes

    @cached_property
    def digest(self) -> bytes:
        """SHA-256 of the page, by which both sides know that they have the same."""
        return sha256(self.content).digest()

    @property
    def name(self) -> str:
        """What it is called in its address."""
        return self.digest.hex()[:20]

    @cached_property
    def available(self) -> str:
        """What the browser that holds it says (RFC 9842, section 2.2)."""
        return f":{b64encode(self.digest).decode()}:"

    @cached_property
    def _known(self) -> zstd.ZstdDict:
        return zstd.ZstdDict(self.content, is_raw=True)

    def squeezed(self, text: bytes) -> bytes:
        """A text by what is new in it."""
        known = self._known.as_digested_dict
        return MAGIC + self.digest + zstd.compress(text, level=LEVEL, zstd_dict=known)


def send_what_is_new(app: Flask, path: str, pages: frozenset[str], sample: Callable[[], str]) -> None:
    """Tell browsers that open one of some pages (endpoints) where the `sample` is, and send answers under a
    path to those that hold it by what is new in them. The sample is made when it is first asked for, from
    nothing of anybody's, and is the same in every process."""
    made = list[Dictionary]()

    def dictionary() -> Dictionary:
        if not made:
            made.append(Dictionary(sample().encode()))
        return made[0]

    @app.get("/dictionary/<name>")
    def sample_page(name: str) -> Response:
        """The sample page, kept by the browser for a year."""
        if name != dictionary().name:
            abort(404)
        answer = Response(dictionary().content, mimetype="text/plain")
        answer.headers["Use-As-Dictionary"] = f'match="{path}"'
        answer.headers["Cache-Control"] = KEPT_FOR_A_YEAR
        return answer

    @app.after_request
    def send(answer: Response) -> Response:
        if answer.mimetype != "text/html" or answer.is_streamed or "Content-Encoding" in answer.headers:
            return answer
        if request.endpoint in pages:
            link = f'</dictionary/{dictionary().name}>; rel="compression-dictionary"'
            answer.headers["Link"] = link
        held = request.headers.get("Available-Dictionary")
        if held is None or not request.accept_encodings[CODING]:
            return answer
        answer.vary.update(("Accept-Encoding", "Available-Dictionary"))
        text = answer.get_data()
        if held == dictionary().available and len(text) >= LEAST_BYTES:
            answer.set_data(dictionary().squeezed(text))
            answer.headers["Content-Encoding"] = CODING
        return answer
