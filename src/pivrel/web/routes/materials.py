"""Images by their hash, and the checker for the view."""

from __future__ import annotations

from functools import lru_cache

from flask import Blueprint, Response, request

from pivrel.errors import NotFoundError
from pivrel.materials.checker import checker
from pivrel.materials.images import VIEW_PIXELS, Image, for_view, packed_surface, thumbnail
from pivrel.store import blobs
from pivrel.web.context import database

bp = Blueprint("materials", __name__)

YEAR = 31536000


@bp.get("/images/<sha256>")
def image(sha256: str) -> Response:
    """An image as it is kept; with ?size= a small picture of it, with ?view no larger than the view takes."""
    with database().reading() as db:
        found = blobs.find(db, sha256)
    shown = blobs.as_image(found) if found else None
    if shown is None:
        raise NotFoundError("there is no such image")
    size = request.args.get("size", type=int)
    if size:
        shown = thumbnail(shown, min(max(size, 16), VIEW_PIXELS))
    elif "view" in request.args:
        shown = for_view(shown, VIEW_PIXELS)
    response = Response(shown.data, mimetype=shown.mime)
    response.cache_control.max_age = YEAR
    response.cache_control.immutable = True
    return response


@bp.get("/surface")
def surface_image() -> Response:
    """Occlusion, roughness and metal of a material as one image's red, green and blue, no larger than the view takes."""
    named = [request.args.get(channel) for channel in ("roughness", "metallic", "occlusion")]
    with database().reading() as db:
        found = [blobs.find(db, sha256) if sha256 else None for sha256 in named]
    images = [blobs.as_image(data) if data else None for data in found]
    if not any(images):
        raise NotFoundError("there is no such image")
    rough, metal, occlusion = (for_view(image, VIEW_PIXELS) if image else None for image in images)
    response = Response(packed_surface(rough, metal, occlusion).data, mimetype="image/png")
    response.cache_control.max_age = YEAR
    response.cache_control.immutable = True
    return response


@lru_cache(maxsize=8)
def _checker(square_mm: float) -> Image:
    return checker((square_mm * 10, square_mm * 10), (10, 10))


@bp.get("/checker/<square>.png")
def checker_image(square: str) -> Response:
    """Ten by ten squares of `square` mm each, with their places written on them."""
    try:
        side = float(square)
    except ValueError:
        side = 0.0
    if not 1e-3 <= side <= 1e6:
        raise NotFoundError("a checker's squares are between 0.001 mm and 1 km")
    response = Response(_checker(side).data, mimetype="image/png")
    response.cache_control.max_age = YEAR
    return response
