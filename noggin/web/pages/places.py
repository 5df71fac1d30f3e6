"""Places by name, while one types; nothing is asked of anybody else."""

from flask import Blueprint, render_template, request

from noggin.services.places import places_called

pages = Blueprint("places", __name__)


@pages.get("/places")
def towns() -> str:
    """The towns that may be meant, as options of a list."""
    return render_template("forms/_towns.html", towns=places_called(request.args.get("find", "")))
