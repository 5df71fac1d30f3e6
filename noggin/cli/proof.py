"""A set-up document in, the picture that one of its ways gives out."""

import json
import sys
from pathlib import Path
from typing import Any, BinaryIO, NoReturn

import click

from noggin.cli.common import faults_told
from noggin.services.errors import Refused
from noggin.services.setups.proof_file import FORMATS, proof_of
from noggin.services.whole.files import plan_file, read_bytes
from noggin.services.words import wording


def _fail(name: str, problem: str) -> NoReturn:
    """Say what is wrong with an option in one line, and end."""
    click.echo(f"{name}: {problem}", err=True)
    sys.exit(2)


class ASize(click.ParamType[tuple[int, int]]):
    """A picture's width and height in pixels, as 600x400."""

    name = "size"

    def convert(
        self, value: Any, param: click.Parameter | None, ctx: click.Context | None
    ) -> tuple[int, int]:
        """Both sides, or a usage error."""
        if isinstance(value, tuple):
            return value
        width, _, height = value.partition("x")
        if not (width.isdecimal() and height.isdecimal()):
            self.fail(f"{value!r} is not a size. Try 600x400", param, ctx)
        return int(width), int(height)


@click.command()
@click.argument("file", type=click.File("rb"))
@click.option(
    "--out", type=click.Path(path_type=Path), required=True, help="The file to write, .png or .webp."
)
@click.option("--way", help="A method's key, as nd; the recommended one where it is not said.")
@click.option("--size", type=ASize(), default=(600, 400), help="Width and height in pixels, as 600x400.")
@click.option("--card", is_flag=True, help="Hold a grey card beside the nearest face, square to the key.")
@click.option("--only", help="One part of the light: flash, daylight, or a light's name.")
@click.option("--json", "as_json", is_flag=True, help="Print what was read off the picture.")
def proof(
    file: BinaryIO,
    out: Path,
    way: str | None,
    size: tuple[int, int],
    card: bool,
    only: str | None,
    as_json: bool,
) -> None:
    """Render the picture that one way of a set-up document (- for standard input) gives, as PNG or WebP."""
    kind = out.suffix.lower().removeprefix(".")
    if kind not in FORMATS:
        _fail("out", f"{out.name} does not end in {wording.listed([f'.{one}' for one in FORMATS], 'or')}")
    with faults_told():
        plan = plan_file(read_bytes(file)).plan
    try:
        made = proof_of(plan, way, size, card, only)
    except Refused as refusal:
        _fail(refusal.name, refusal.problem)
    try:
        out.write_bytes(made.encoded(kind))
    except OSError as error:
        _fail("out", f"{out}: {error.strerror}")
    if plan.setup.scene.photograph:
        click.echo(
            "The photograph of the place is no part of a document: this place is invented.", err=True
        )
    if as_json:
        click.echo(json.dumps(made.document, ensure_ascii=False).encode())


COMMANDS = (proof,)
