"""Backups, everything as documents, and how the database is."""

from flask import Blueprint, Response, jsonify, render_template
from flask.typing import ResponseReturnValue

from noggin import __version__
from noggin.services.errors import BadDocument, Problem, StoreUnusable
from noggin.services.keeping.kept import Brought
from noggin.services.whole import safekeeping as services
from noggin.services.whole.readable import unreadable
from noggin.web.shared.wiring import file, given_file, wiring

pages = Blueprint("safekeeping", __name__)


@pages.get("/keep")
def page() -> str:
    """Where everything is kept safe."""
    return _page()


@pages.get("/keep/backup.sqlite3")
def backup() -> Response:
    """The database as it is now."""
    store, now = wiring().store, wiring().clock()
    content = services.backup_bytes(store)
    return file(f"{store.path.stem}-{now:%Y%m%d}", "backup.sqlite3", content, "application/vnd.sqlite3")


@pages.get("/keep/everything.zip")
def everything() -> Response:
    """Every document."""
    content = services.zip_of_everything(wiring().store, wiring().clock)
    return file(f"{wiring().clock():%Y-%m-%d}", "everything.zip", content, "application/zip")


@pages.post("/keep/restore")
def restore() -> ResponseReturnValue:
    """A backup in the place of everything."""
    try:
        aside = services.restore_into(wiring().store, wiring().clock, _given())
    except (StoreUnusable, BadDocument) as error:
        return _page(problem_of={"restore": str(error)}), 422
    kept = f" What was there before is in {aside}." if aside else ""
    return _page(done=f"Everything is as it was in the backup.{kept}")


@pages.post("/keep/import")
def bring_in() -> ResponseReturnValue:
    """A ZIP of documents, or one."""
    try:
        brought = services.bring_zip(wiring().store, wiring().clock, _given())
    except BadDocument as bad:
        return _page(problem_of={"import": "; ".join(map(str, bad.problems[:FAULTS_SHOWN]))}), 422
    return _page(brought=brought)


FAULTS_SHOWN = 10


def _given() -> bytes:
    raw = given_file()
    if not raw:
        raise BadDocument([Problem("", "no file was chosen")])
    return raw


def _page(done: str = "", brought: Brought | None = None, problem_of: dict[str, str] | None = None) -> str:
    store = wiring().store
    return render_template(
        "safekeeping/page.html",
        path=store.path,
        copies=services.copies(store),
        unreadable=unreadable(store),
        copies_kept=services.COPIES_KEPT,
        done=done,
        brought=brought,
        problem_of=problem_of or {},
    )


@pages.get("/health")
def health() -> Response:
    """How the database is, for who watches a server; it names nothing that is kept."""
    found = services.health(wiring().store)
    return jsonify(
        {
            "version": __version__,
            "database": "ok",
            "database_bytes": found.size,
            "free_bytes": found.free,
            "last_copy": found.last_copy.isoformat(timespec="seconds") if found.last_copy else None,
            **wiring().memory(),
        }
    )
