"""The application factory, and how errors are told."""

from __future__ import annotations

from pathlib import Path

from flask import Flask, Response, abort, jsonify, send_from_directory
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException, RequestEntityTooLarge

from pivrel.core.fitting import FitError
from pivrel.core.geometry.frames import FrameError
from pivrel.core.moves import SetOutError
from pivrel.core.picks import PickError
from pivrel.core.quantity import QuantityError
from pivrel.edits import EditError
from pivrel.formats.bundle import FormatError
from pivrel.materials.images import ImageError
from pivrel.recipe import first_error
from pivrel.store.archive import ArchiveError
from pivrel.store.database import Database
from pivrel.store.errors import StorageError
from pivrel.store.journal import NothingToDoError, OutdatedError
from pivrel.web import (
    edits,
    geometry,
    handover,
    imports,
    library,
    looks,
    materials,
    picks,
    placing,
    projects,
    quantities,
    revisions,
    sources,
    tape,
)

MAX_UPLOAD = 1 << 30
STATIC = Path(__file__).parent / "static"


def create_app(database: Database) -> Flask:
    """The application over one database."""
    app = Flask(__name__, static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = MAX_UPLOAD
    app.extensions["pivrel"] = database
    app.extensions["pivrel.imports"] = imports.Imports()
    for blueprint in (
        projects.bp,
        imports.bp,
        edits.bp,
        geometry.bp,
        looks.bp,
        placing.bp,
        picks.bp,
        materials.bp,
        library.bp,
        handover.bp,
        quantities.bp,
        revisions.bp,
        sources.bp,
        tape.bp,
    ):
        app.register_blueprint(blueprint, url_prefix="/api")
    _tell_errors(app)
    _serve_page(app)
    return app


def _tell_errors(app: Flask) -> None:
    def sentence(text: str, status: int, **more: object) -> tuple[Response, int]:
        return jsonify({"error": text, **more}), status

    for kind in (
        FormatError,
        ImageError,
        ArchiveError,
        EditError,
        PickError,
        SetOutError,
        FrameError,
        FitError,
        QuantityError,
    ):
        app.register_error_handler(kind, lambda error: sentence(str(error), 422))

    @app.errorhandler(ValidationError)
    def invalid(error: ValidationError) -> tuple[Response, int]:
        return sentence(first_error(error), 422)

    @app.errorhandler(OutdatedError)
    def outdated(error: OutdatedError) -> tuple[Response, int]:
        changes = "; ".join(error.since)
        text = f"the project was changed elsewhere meanwhile ({changes}); nothing was overwritten"
        return sentence(text, 409, revision=error.revision, since=error.since)

    @app.errorhandler(NothingToDoError)
    def nothing(error: NothingToDoError) -> tuple[Response, int]:
        return sentence(str(error), 409)

    @app.errorhandler(RequestEntityTooLarge)
    def large(_: RequestEntityTooLarge) -> tuple[Response, int]:
        return sentence(f"the files are larger than {MAX_UPLOAD >> 30} GB together", 413)

    @app.errorhandler(StorageError)
    def storage(error: StorageError) -> tuple[Response, int]:
        return sentence(str(error), error.status)

    @app.errorhandler(MemoryError)
    def memory(_: MemoryError) -> tuple[Response, int]:
        return sentence("there is not enough memory for this model", 413)

    @app.errorhandler(HTTPException)
    def other(error: HTTPException) -> tuple[Response, int]:
        return sentence((error.description or "that went wrong").lower(), error.code or 500)


def _serve_page(app: Flask) -> None:
    """The front end: built files as they are, and its page for every address of its own."""

    @app.get("/", defaults={"path": ""})
    @app.get("/<path:path>")
    def page(path: str) -> Response:
        if path == "api" or path.startswith("api/"):
            # A page in the place of an answer would be taken for one.
            abort(404, f"there is no address /{path[:200]}")
        if path and (STATIC / path).is_file():
            # Vite names built files by their content, so they never change.
            return send_from_directory(STATIC, path, max_age=31536000 if path.startswith("assets/") else 0)
        return send_from_directory(STATIC, "index.html", max_age=0)
