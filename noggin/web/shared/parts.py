"""What is the same on one page after another, worked out once and remembered: parts of pages that depend
on nothing but what is given to them, and addresses."""

from collections.abc import Hashable, Mapping
from functools import lru_cache

from flask import Flask, current_app
from jinja2 import Environment
from markupsafe import Markup, escape

MOST = 4000
"""So many parts and addresses are remembered while the server runs."""


def written(template: str, blanks: Mapping[str, str], **given: Hashable) -> Markup:
    """A part written out from nothing but what is `given` (so it may not ask for the reader's unit or who
    asks); `blanks` differ from page to page and are filled in afterwards."""
    text = _text_of(current_app.jinja_env, template, tuple(blanks), tuple(given.items()))
    for name, value in blanks.items():
        text = text.replace(_blank(name), escape(value))
    return Markup(text)  # noqa: S704 - a template wrote it, and the blanks are escaped


@lru_cache(maxsize=MOST)
def _text_of(
    environment: Environment,
    template: str,
    blanks: tuple[str, ...],
    given: tuple[tuple[str, Hashable], ...],
) -> str:
    marks = {name: _blank(name) for name in blanks}
    return environment.get_template(template).render(**marks, **dict(given))


def _blank(name: str) -> str:
    # No page holds a NUL. Text that was typed with one waits to be mended, and would show the address or
    # the token of its own page.
    return f"\0{name}\0"


def remember_addresses(app: Flask) -> None:
    """Let templates ask for an address over and over: it depends on nothing but what is given for it."""

    @lru_cache(maxsize=MOST)
    def known(endpoint: str, values: tuple[tuple[str, type, Hashable], ...]) -> str:
        return app.url_for(endpoint, **{name: value for name, _, value in values})  # type: ignore[arg-type]

    def url_for(endpoint: str, **values: Hashable) -> str:
        return known(endpoint, tuple((name, type(value), value) for name, value in values.items()))

    app.jinja_env.globals["url_for"] = url_for
