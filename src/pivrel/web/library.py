"""The library of materials: bringing, sizing, reading, mending, keeping and handing on."""

from __future__ import annotations

import re
import sqlite3
from typing import Annotated, Any, Literal

import numpy as np
from flask import Blueprint, Response, abort, jsonify, request
from pydantic import Field

from pivrel.edits import EditError, resized
from pivrel.formats.laid import safe_file_name
from pivrel.formats.material_files import MANIFEST, read_manifest, unzipped, write_material, write_materialx
from pivrel.materials.bringing import bring, noticed
from pivrel.materials.channels import Channel
from pivrel.materials.images import WHOLE, Image, ImageError, checked_image, decode, encode, reduced
from pivrel.materials.reading import WRAPS_BELOW, read_grain, read_wrap
from pivrel.materials.seamless import made_seamless
from pivrel.recipe import JointsModel
from pivrel.store import blobs, projects
from pivrel.store.projects import Document
from pivrel.web.asked import Angle, Asked, Marks, Side
from pivrel.web.context import database
from pivrel.web.handover import download
from pivrel.web.turns import heavy

bp = Blueprint("library", __name__)

SMALLEST = 16
MOST_MENDED = 4 * WHOLE
"""Pixels of a material that is made seamless: four channels of 4096 x 4096 take 2 GB of memory meanwhile."""


def _told(key: str, document: Document) -> dict[str, Any]:
    return {"key": key, **document.body}


def _found(db: sqlite3.Connection, key: str) -> Document:
    document = projects.library(db).get(key)
    if document is None:
        abort(404, f"the library has no material {key!r}")
    return document


def _own(db: sqlite3.Connection, key: str) -> Document:
    """A material that the artist brought; those that come with Pivrel stay as they are."""
    document = _found(db, key)
    if not document.body.get("own"):
        raise EditError(f"{document.body['name']} comes with Pivrel; duplicate it to change the copy")
    return document


def _keep_new(db: sqlite3.Connection, body: dict[str, Any]) -> dict[str, Any]:
    """Adds a material of the artist's own under a free key and name, and tells it as it is kept."""
    library = projects.library(db)
    taken = set(library) | set(projects.uses_of_materials(db))
    stem = re.sub(r"[^a-z0-9]+", "-", str(body["name"]).lower()).strip("-")[:60] or "material"
    key, count = stem, 2
    while key in taken:
        key, count = f"{stem}-{count}", count + 1
    names = {d.body["name"] for d in library.values()}
    name, count = body["name"], 2
    while body["name"] in names:
        body["name"], count = f"{name} {count}", count + 1
    position = max((d.position for d in library.values()), default=0) + 1
    projects.put_library(db, key, position, {**body, "own": True})
    return {**_told(key, _found(db, key)), "used_in": []}


@bp.get("/library")
def library() -> Response:
    """Every material, in order, with the projects that use it."""
    with database().reading() as db:
        found = projects.library(db)
        uses = projects.uses_of_materials(db)
    return jsonify(
        [
            {**_told(key, document), "used_in": [{"id": i, "name": n} for i, n in uses.get(key, ())]}
            for key, document in found.items()
        ]
    )


@bp.post("/library")
@heavy
def upload() -> tuple[Response, int]:
    """A new material from images, or from a material file; with what was noticed."""
    given = {file.filename or "image": file.read() for file in request.files.getlist("files")}
    zips = [name for name in given if name.lower().endswith(".zip")]
    for name in zips:
        given |= unzipped(given.pop(name), name)
    if MANIFEST in given:
        body, images, said = _from_manifest(given)
    else:
        given = {name: data for name, data in given.items() if not name.startswith(".")}
        brought = bring(given)
        images, said = brought.images, list(brought.said)
        body = _body(brought.name, brought.repeat_mm, brought.normal_y)
        pixels = decode(reduced(images["base_color"]))
        grain = read_grain(pixels, brought.repeat_mm)
        body["grain_deg"] = None if grain.grain_deg is None else round(grain.grain_deg, 1) % 180
    with database().transaction() as db:
        body["images"] = blobs.put_images(db, {str(c): image for c, image in images.items()})
        return jsonify({**_keep_new(db, body), "said": said}), 201


def _body(name: str, repeat_mm: tuple[float, float], normal_y: str) -> dict[str, Any]:
    return {
        "name": name,
        "repeat_mm": list(repeat_mm),
        "grain_deg": None,
        "metallic": 0.0,
        "use": "",
        "joints": None,
        "half_turns": False,
        "mirrors": False,
        "normal_y": normal_y,
        "tags": [],
    }


def _from_manifest(given: dict[str, bytes]) -> tuple[dict[str, Any], dict[Channel, Image], list[str]]:
    model, files = read_manifest(given[MANIFEST])
    images: dict[Channel, Image] = {}
    for channel, name in files.items():
        if name not in given:
            raise ImageError(f"the image {name!r} of {model.name} is missing from the file")
        images[channel] = checked_image(given[name], name)
    if "base_color" not in images:
        raise ImageError(f"{model.name} has no base color")
    stated = model.model_dump(mode="json", exclude={"images"})
    return {**_body(model.name, model.repeat_mm, model.normal_y), **stated}, images, noticed(images)


class MaterialChange(Asked):
    """What of a material of the library is changed; what is left out stays."""

    name: Annotated[str, Field(min_length=1, max_length=200)] | None = None
    repeat_mm: tuple[Side | None, Side | None] | None = None
    linked: bool = True
    grain_deg: Angle | Literal["none"] | None = None
    metallic: Annotated[float, Field(ge=0, le=1)] | None = None
    joints: JointsModel | Literal["none"] | None = None
    half_turns: bool | None = None
    mirrors: bool | None = None
    normal_y: Literal["+", "-"] | None = None
    tags: list[Annotated[str, Field(min_length=1, max_length=40)]] | None = None
    channels: dict[Channel, Channel | None] | None = None


@bp.patch("/library/<key>")
def change(key: str) -> Response:
    """Changes a material that the artist brought. channels: where the image of a channel belongs, or None."""
    asked = MaterialChange.model_validate(request.get_json())
    with database().transaction() as db:
        document = _own(db, key)
        body = {**document.body, "images": dict(document.body["images"])}
        plain = ("name", "metallic", "half_turns", "mirrors", "normal_y", "tags")
        body |= {k: v for k in plain if (v := getattr(asked, k)) is not None}
        if asked.repeat_mm is not None:
            body["repeat_mm"] = resized(body["repeat_mm"], asked.repeat_mm, asked.linked)
        if asked.grain_deg is not None:
            body["grain_deg"] = None if asked.grain_deg == "none" else asked.grain_deg % 180
        if asked.joints is not None:
            body["joints"] = None if asked.joints == "none" else asked.joints.model_dump(mode="json")
        for was, now in (asked.channels or {}).items():
            _reassign(body["images"], was, now)
        projects.put_library(db, key, document.position, body)
        return jsonify(_told(key, _found(db, key)))


def _reassign(images: dict[str, str], was: Channel, now: Channel | None) -> None:
    """Moves an image to another channel, which gives its own in exchange; None puts it away."""
    if was not in images:
        raise EditError(f"there is no image for {was}")
    image = images.pop(was)
    if now is None:
        if was == "base_color":
            raise EditError("a material needs a base color; put another image in its place first")
        return
    if now in images:
        images[was] = images[now]
    images[now] = image


@bp.post("/library/<key>/calibrate")
def calibrate(key: str) -> Response:
    """Sizes a material by a known distance on its image."""
    asked = Marks.model_validate(request.get_json())
    with database().transaction() as db:
        document = _own(db, key)
        width, height = document.body["repeat_mm"]
        body = {**document.body, "repeat_mm": list(asked.size((width, height)))}
        projects.put_library(db, key, document.position, body)
        return jsonify(_told(key, _found(db, key)))


@bp.get("/reading/<sha256>")
def reading(sha256: str) -> Response:
    """What is read off an image: its grain, and how much its borders show where it repeats.

    ?width= and ?height= are its real size, where its pixels are not square.
    """
    with database().reading() as db:
        found = blobs.find(db, sha256)
    image = blobs.as_image(found) if found else None
    if image is None:
        abort(404, "there is no such image")
    pixels = decode(reduced(image))
    width, height = (request.args.get(k, type=float) for k in ("width", "height"))
    grain = read_grain(pixels, (width, height) if width and height else None)
    wrap = read_wrap(pixels)
    return jsonify(
        {
            "grain_deg": grain.grain_deg,
            "confidence": grain.confidence,
            "wrap_along": wrap.along,
            "wrap_up": wrap.up,
            "shows_from": WRAPS_BELOW,
            "pixels": image.pixels,
            "bits": image.bits,
        }
    )


@bp.post("/library/<key>/duplicate")
def duplicate(key: str) -> tuple[Response, int]:
    """A copy of a material as the artist's own."""
    with database().transaction() as db:
        body = dict(_found(db, key).body)
        return jsonify(_keep_new(db, {**body, "name": f"{body['name']}, copy"})), 201


@bp.post("/library/<key>/seamless")
@heavy
def seamless(key: str) -> tuple[Response, int]:
    """A copy whose images repeat without a line; their middle is as it was, and so is the original."""
    with database().reading() as db:
        body = dict(_found(db, key).body)
        images = blobs.get_images(db, body["images"])
    sizes = {image.pixels for image in images.values()}
    if min(min(size) for size in sizes) < SMALLEST:
        raise ImageError(
            f"an image of less than {SMALLEST} pixels either way has no middle to mend its borders with"
        )
    if sum(image.pixels[0] * image.pixels[1] for image in images.values()) > MOST_MENDED:
        raise ImageError(
            f"the channels have more than {MOST_MENDED / 1e6:.0f} million pixels together; make them smaller first"
        )
    if len(sizes) > 1:
        raise ImageError("the channels differ in size, so they cannot be cut along the same line")
    mended = made_seamless({channel: decode(image).astype(np.float32) for channel, image in images.items()})
    encoded = {channel: encode(pixels) for channel, pixels in mended.items()}
    with database().transaction() as db:
        body |= {"images": blobs.put_images(db, encoded), "name": f"{body['name']}, seamless"}
        return jsonify(_keep_new(db, body)), 201


@bp.delete("/library/<key>")
def delete(key: str) -> Response:
    """Takes a material out of the library; the projects that use it keep it."""
    with database().transaction() as db:
        _own(db, key)
        projects.delete_library(db, key)
    return Response(status=204)


@bp.get("/library/<key>/file")
def as_file(key: str) -> Response:
    """A material as one file: its images and a JSON."""
    with database().reading() as db:
        body = _found(db, key).body
        data = write_material(body, blobs.get_images(db, body["images"]))
    return download(f"{safe_file_name(body['name'])}.zip", data, "application/zip")


@bp.get("/library/<key>/materialx")
def as_materialx(key: str) -> Response:
    """A material as MaterialX, with its images."""
    with database().reading() as db:
        body = _found(db, key).body
        data = write_materialx(body, blobs.get_images(db, body["images"]))
    return download(f"{safe_file_name(body['name'])}_materialx.zip", data, "application/zip")
