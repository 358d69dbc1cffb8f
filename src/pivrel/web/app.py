"""The application factory, and how errors are told."""

from __future__ import annotations

from pathlib import Path
from tempfile import gettempdir
from typing import Any

from flask import Flask, Response, jsonify, send_from_directory
from flask.json.provider import DefaultJSONProvider
from pydantic import ValidationError
from werkzeug.exceptions import BadRequest, HTTPException, RequestEntityTooLarge
from werkzeug.routing import IntegerConverter, Map

from pivrel.bounded_json import read_json
from pivrel.errors import NotFoundError, PivrelError
from pivrel.project.computing import Computing
from pivrel.recipe import first_error
from pivrel.store.database import Database
from pivrel.store.errors import told
from pivrel.store.journal import OutdatedError
from pivrel.web.compressing import compress_text
from pivrel.web.context import Service
from pivrel.web.guard import Door, keep_door
from pivrel.web.held import Held
from pivrel.web.log import log_failures
from pivrel.web.routes import (
    baking,
    coat_sets,
    coats,
    edits,
    flat,
    geometry,
    handover,
    imports,
    library,
    looks,
    materials,
    parts,
    pattern,
    picks,
    placing,
    projects,
    quantities,
    revisions,
    sides,
    sources,
    tape,
    trials,
)
from pivrel.web.wire.base import MOST

MAX_UPLOAD = 1_000_000_000
"""Bytes of an upload: what SQLite keeps as one value."""

SCREENS = ("/", "/projects/<int:id>", "/projects/<int:id>/materials", "/projects/<int:id>/hand-over")
"""The addresses of the screens, as `frontend/src/App.tsx` routes them."""

STATIC = Path(__file__).parent / "static"


class Ids(IntegerConverter):
    """The numbers of addresses; others than those that can be stored lead nowhere."""

    def __init__(self, map: Map) -> None:
        super().__init__(map, max=MOST)


class Json(DefaultJSONProvider):
    """JSON as Flask reads it; what is nested without end is no JSON of ours."""

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        return read_json(s)


def create_app(database: Database, door: Door | None = None) -> Flask:
    """The application over one database. door: whom it lets in; this machine alone where None."""
    app = Flask(__name__, static_folder=None)
    app.url_map.converters["int"] = Ids
    app.json = Json(app)
    keep_door(app, door or Door())
    app.config["MAX_CONTENT_LENGTH"] = MAX_UPLOAD
    app.extensions["pivrel"] = Service(
        database,
        Computing(),
        imports=Held("this import is over; open the file again"),
        bakes=Held("this bake is over; begin it anew"),
        trials={},
    )
    for blueprint in (
        baking.bp,
        coat_sets.bp,
        projects.bp,
        imports.bp,
        coats.bp,
        edits.bp,
        flat.bp,
        geometry.bp,
        looks.bp,
        placing.bp,
        trials.bp,
        picks.bp,
        materials.bp,
        library.bp,
        handover.bp,
        quantities.bp,
        revisions.bp,
        parts.bp,
        pattern.bp,
        sides.bp,
        sources.bp,
        tape.bp,
    ):
        app.register_blueprint(blueprint, url_prefix="/api")
    compress_text(app)
    _tell_errors(app)
    log_failures(app)
    _serve_page(app)
    return app


def _tell_errors(app: Flask) -> None:
    def sentence(text: str, status: int, **more: object) -> tuple[Response, int]:
        return jsonify({"error": text, **more}), status

    @app.errorhandler(PivrelError)
    def refused(error: PivrelError) -> tuple[Response, int]:
        return sentence(str(error), error.status)

    @app.errorhandler(ValidationError)
    def invalid(error: ValidationError) -> tuple[Response, int]:
        return sentence(first_error(error), 400)

    @app.errorhandler(OutdatedError)
    def outdated(error: OutdatedError) -> tuple[Response, int]:
        return sentence(str(error), error.status, revision=error.revision, since=error.since)

    @app.errorhandler(RequestEntityTooLarge)
    def large(_: RequestEntityTooLarge) -> tuple[Response, int]:
        return sentence(f"the files are larger than {MAX_UPLOAD // 10**9} GB together", 413)

    @app.errorhandler(MemoryError)
    def memory(_: MemoryError) -> tuple[Response, int]:
        return sentence("there is not enough memory for this model", 413)

    @app.errorhandler(OSError)
    def disk(error: OSError) -> tuple[Response, int]:
        trouble = told(error, error.filename or gettempdir())
        if trouble is None:
            raise error
        return refused(trouble)

    @app.errorhandler(BadRequest)
    def bad(error: BadRequest) -> tuple[Response, int]:
        return sentence("the request is no JSON that can be read", 400)

    @app.errorhandler(HTTPException)
    def other(error: HTTPException) -> tuple[Response, int]:
        return sentence(_small_first(error.description or "that went wrong"), error.code or 500)


def _small_first(text: str) -> str:
    return text[0].lower() + text[1:]


def _is_built(path: str) -> bool:
    """Whether the front end has a file of this name."""
    try:
        return bool(path) and (STATIC / path).is_file()
    except (OSError, ValueError):
        # No disk has a name so long, or with such signs.
        return False


def _serve_page(app: Flask) -> None:
    """The front end: built files as they are, and its page for the addresses of its screens.

    Its page says itself that there is nothing at any other address; the status says so too.
    """

    def screen(status: int = 200, **_: int) -> tuple[Response, int]:
        return send_from_directory(STATIC, "index.html", max_age=0), status

    for at, address in enumerate(SCREENS):
        app.add_url_rule(address, f"screen{at}", screen)

    @app.get("/favicon.ico")
    def icon() -> Response:
        """What a browser asks for beside all that is no page of ours: a picture in a tab of its own, a drawing."""
        return send_from_directory(STATIC, "mark.svg")

    @app.get("/<path:path>")
    def file(path: str) -> Response | tuple[Response, int]:
        if path.partition("/")[0] in ("api", "assets") and not _is_built(path):
            # A page in the place of an answer would be taken for one.
            raise NotFoundError(f"there is no address /{path[:200]}")
        if _is_built(path):
            # Vite names built files by their content, so they never change.
            named = path.startswith("assets/")
            response = send_from_directory(STATIC, path, max_age=31536000 if named else 0)
            if named:
                response.cache_control.immutable = True
            # Read whole, so that it can be compressed as every other text.
            response.make_sequence()
            return response
        return screen(404)
