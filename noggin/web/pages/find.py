"""Find whatever is kept by its name, from anywhere."""

from flask import Blueprint, render_template, request

from noggin.services.whole.find import find
from noggin.web.shared.wiring import wants_part, wiring

pages = Blueprint("find", __name__)


@pages.get("/find")
def page() -> str:
    """What has the words of `find` in its name."""
    words = request.args.get("find", "").strip()[:120]
    template = "find/_found.html" if wants_part() else "find/page.html"
    return render_template(template, words=words, found=find(wiring().store, words))
