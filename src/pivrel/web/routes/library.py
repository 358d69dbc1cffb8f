"""The library of materials: bringing, sizing, reading, mending, keeping and handing on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from flask import Blueprint, Response, request

from pivrel.errors import InputError, NotFoundError
from pivrel.formats.laid import safe_file_name
from pivrel.formats.material_files import MANIFEST, read_manifest, unzipped, write_material, write_materialx
from pivrel.materials.bringing import bring, noticed
from pivrel.materials.channels import Channel
from pivrel.materials.images import WHOLE, Image, ImageError, checked_image, decode, encode, reduced
from pivrel.materials.reading import WRAPS_BELOW, read_grain, read_wrap
from pivrel.materials.seamless import made_seamless
from pivrel.project.edits.base import resized
from pivrel.project.marks import Marks
from pivrel.recipe import changed
from pivrel.store import blobs, projects
from pivrel.store.connection import Connection
from pivrel.store.documents import Document, LibraryBody
from pivrel.web.context import database
from pivrel.web.turns import heavy
from pivrel.web.uploads import download, uploaded_files
from pivrel.web.wire.base import answer, answers, asked
from pivrel.web.wire.materials import LibraryMaterial, MaterialChange, Reading, UsedIn

bp = Blueprint("library", __name__)

SMALLEST = 16
MOST_MENDED = 4 * WHOLE
"""Pixels of a material that is made seamless: four channels of 4096 x 4096 take 2 GB of memory meanwhile."""


def _told(
    key: str, body: LibraryBody, used_in: Sequence[tuple[int, str]] = (), said: Sequence[str] = ()
) -> LibraryMaterial:
    fields = {name: getattr(body, name) for name in LibraryBody.model_fields}
    uses = tuple(UsedIn(id=number, name=name) for number, name in used_in)
    return LibraryMaterial(key=key, used_in=uses, said=tuple(said), **fields)


def _found(db: Connection, key: str) -> Document[LibraryBody]:
    document = projects.library(db).get(key)
    if document is None:
        raise NotFoundError(f"the library has no material {key!r}")
    return document


def _own(db: Connection, key: str) -> Document[LibraryBody]:
    """A material that the artist brought; those that come with Pivrel stay as they are."""
    document = _found(db, key)
    if not document.body.own:
        raise InputError(f"{document.body.name} comes with Pivrel; duplicate it to change the copy")
    return document


def _keep_new(db: Connection, body: LibraryBody, said: Sequence[str] = ()) -> Response:
    """Adds a material of the artist's own under a free key and name, and tells it as it is kept."""
    document = projects.add_own(db, body)
    return answer(_told(document.key, document.body, said=said), 201)


def _keep_brought(body: LibraryBody, images: Mapping[Channel, Image], said: Sequence[str] = ()) -> Response:
    """Adds a material with its images, as `_keep_new` does."""
    kept = blobs.hashed(images)
    with database().transaction(ahead=list(kept.values())) as db:
        hashes = {channel: blobs.put(db, blob) for channel, blob in kept.items()}
        return _keep_new(db, changed(body, images=hashes), said)


def _put(db: Connection, document: Document[LibraryBody], body: LibraryBody) -> Response:
    """Changes a material, and tells it as it is kept."""
    projects.put_library(db, document.key, document.position, body)
    return answer(_told(document.key, body, projects.uses_of_materials(db).get(document.key, ())))


@bp.get("/library")
def library() -> Response:
    """Every material, in order, with the projects that use it."""
    with database().reading() as db:
        found = projects.library(db)
        uses = projects.uses_of_materials(db)
    return answers(
        LibraryMaterial, [_told(key, document.body, uses.get(key, ())) for key, document in found.items()]
    )


@bp.post("/library")
@heavy
def upload() -> Response:
    """A new material from images, or from a material file; with what was noticed."""
    files = uploaded_files()
    given: dict[str, bytes] = {}
    for name, file in files.items():
        given |= unzipped(file, name) if name.lower().endswith(".zip") else {name: file.read()}
    body, images, said = _from_manifest(given) if MANIFEST in given else _from_images(given)
    return _keep_brought(body, images, said)


Brought = tuple[LibraryBody, Mapping[Channel, Image], list[str]]
"""A material without its images, its images, and what was noticed."""


def _from_images(given: dict[str, bytes]) -> Brought:
    brought = bring({name: data for name, data in given.items() if not name.startswith(".")})
    grain = read_grain(decode(reduced(brought.images["base_color"])), brought.repeat_mm).grain_deg
    body = LibraryBody(
        name=brought.name,
        repeat_mm=brought.repeat_mm,
        grain_deg=None if grain is None else round(grain, 1) % 180,
        metallic=0.0,
        images={},
        normal_y=brought.normal_y,
    )
    return body, brought.images, list(brought.said)


def _from_manifest(given: dict[str, bytes]) -> Brought:
    model, files = read_manifest(given[MANIFEST])
    images: dict[Channel, Image] = {}
    for channel, name in files.items():
        if name not in given:
            raise ImageError(f"the image {name!r} of {model.name} is missing from the file")
        images[channel] = checked_image(given[name], name)
    if "base_color" not in images:
        raise ImageError(f"{model.name} has no base color")
    stated = {name: getattr(model, name) for name in type(model).model_fields if name != "images"}
    return LibraryBody(**stated, images={}), images, noticed(images)


@bp.patch("/library/<key>")
def change(key: str) -> Response:
    """Changes a material that the artist brought."""
    wanted = asked(MaterialChange)
    with database().transaction() as db:
        document = _own(db, key)
        return _put(db, document, _changed(document.body, wanted))


def _changed(body: LibraryBody, wanted: MaterialChange) -> LibraryBody:
    """The material with what was asked; what was left out stays."""
    plain = ("name", "metallic", "half_turns", "mirrors", "normal_y", "tags")
    fields: dict[str, object] = {k: v for k in plain if (v := getattr(wanted, k)) is not None}
    if wanted.repeat_mm is not None:
        fields["repeat_mm"] = resized(body.repeat_mm, wanted.repeat_mm, wanted.linked)
    if wanted.grain_deg is not None:
        fields["grain_deg"] = None if wanted.grain_deg == "none" else wanted.grain_deg % 180
    if wanted.joints is not None:
        fields["joints"] = None if wanted.joints == "none" else wanted.joints
    images = dict(body.images)
    for was, now in (wanted.channels or {}).items():
        _reassign(images, was, now)
    return changed(body, **fields, images=images)


def _reassign(images: dict[Channel, str], was: Channel, now: Channel | None) -> None:
    """Moves an image to another channel, which gives its own in exchange; None puts it away."""
    if was not in images:
        raise InputError(f"there is no image for {was}")
    image = images.pop(was)
    if now is None:
        if was == "base_color":
            raise InputError("a material needs a base color; put another image in its place first")
        return
    if now in images:
        images[was] = images[now]
    images[now] = image


@bp.post("/library/<key>/calibrate")
def calibrate(key: str) -> Response:
    """Sizes a material by a known distance on its image."""
    marks = asked(Marks)
    with database().transaction() as db:
        document = _own(db, key)
        body = document.body
        return _put(db, document, changed(body, repeat_mm=marks.size(body.repeat_mm)))


@bp.get("/reading/<sha256>")
def reading(sha256: str) -> Response:
    """What is read off an image: its grain, and how much its borders show where it repeats.

    ?width= and ?height= are its real size, where its pixels are not square.
    """
    with database().reading() as db:
        found = blobs.find(db, sha256)
    image = blobs.as_image(found) if found else None
    if image is None:
        raise NotFoundError("there is no such image")
    pixels = decode(reduced(image))
    width, height = (request.args.get(k, type=float) for k in ("width", "height"))
    grain = read_grain(pixels, (width, height) if width and height else None)
    wrap = read_wrap(pixels)
    return answer(
        Reading(
            grain_deg=grain.grain_deg,
            confidence=grain.confidence,
            wrap_along=wrap.along,
            wrap_up=wrap.up,
            shows_from=WRAPS_BELOW,
            pixels=image.pixels,
            bits=image.bits,
        )
    )


@bp.post("/library/<key>/duplicate")
def duplicate(key: str) -> Response:
    """A copy of a material as the artist's own."""
    with database().transaction() as db:
        body = _found(db, key).body
        return _keep_new(db, changed(body, name=f"{body.name}, copy"))


@bp.post("/library/<key>/seamless")
@heavy
def seamless(key: str) -> Response:
    """A copy whose images repeat without a line; their middle is as it was, and so is the original."""
    with database().reading() as db:
        body = _found(db, key).body
        images = blobs.get_images(db, body.images)
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
    encoded = {channel: encode(mended[channel]) for channel in body.images}
    return _keep_brought(changed(body, name=f"{body.name}, seamless"), encoded)


@bp.delete("/library/<key>")
def delete(key: str) -> Response:
    """Takes a material out of the library; the projects that use it keep it."""
    with database().transaction(frees=True) as db:
        _own(db, key)
        projects.delete_library(db, key)
    return Response(status=204)


@bp.get("/library/<key>/file")
def as_file(key: str) -> Response:
    """A material as one file: its images and a JSON."""
    with database().reading() as db:
        document = _found(db, key)
        data = write_material(document.fields, blobs.get_images(db, document.body.images))
    return download(f"{safe_file_name(document.body.name)}.zip", data, "application/zip")


@bp.get("/library/<key>/materialx")
def as_materialx(key: str) -> Response:
    """A material as MaterialX, with its images."""
    with database().reading() as db:
        document = _found(db, key)
        data = write_materialx(document.fields, blobs.get_images(db, document.body.images))
    return download(f"{safe_file_name(document.body.name)}_materialx.zip", data, "application/zip")
