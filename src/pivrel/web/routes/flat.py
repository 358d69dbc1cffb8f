"""The flat view of a finish: its faces as they lie on the sheet, in mm of the model."""

from __future__ import annotations

import numpy as np
from flask import Blueprint, Response, request

from pivrel.core.content_key import content_key
from pivrel.core.laying import Finish
from pivrel.core.measure.aside import MOST_FACES, left_aside, set_aside
from pivrel.core.measure.pieces import Pieces
from pivrel.core.set_out.avoiding import Marked, pieces_touching
from pivrel.errors import InputError
from pivrel.formats.flat_picture import Ground, Window, draw, noted_window, placed, window_of
from pivrel.formats.laid import safe_file_name
from pivrel.materials.checker import checker
from pivrel.materials.images import Image, checked_image
from pivrel.project.appearance import laid
from pivrel.project.laid import LaidProject
from pivrel.store import blobs, projects
from pivrel.store.documents import LibraryBody
from pivrel.web.context import computing, database, known_finish, laid_by_id, laid_pieces, outdated
from pivrel.web.packet import packet
from pivrel.web.turns import heavy
from pivrel.web.uploads import download, uploaded
from pivrel.web.wire.base import answer
from pivrel.web.wire.flat import FlatHeader, FlatPicture, FlatPiece, PaintedPicture

bp = Blueprint("flat", __name__)


@bp.get("/projects/<int:project_id>/flat/<finish>")
def flat(project_id: int, finish: str) -> Response:
    """faces (K,), piece (K,), st: (N, 2) for their corners, face after face, rims: (R, 2, 2), rim_piece (R,).

    The bare faces that stand aside come last, as pieces of their own that the header does not list.
    """
    _, found = laid_by_id(project_id)
    schedule = found.schedule
    if outdated(schedule.laying_key(known_finish(found, finish))):
        return Response(status=204)
    with computing().short:
        pieces = schedule.pieces(finish)
        marked = Marked.on(schedule.finishes[finish])
        bare = left_aside(found.surface, schedule.bare(), pieces.faces)
        shown = [pieces]
        if pieces.count and 0 < len(bare) <= MOST_FACES:
            shown.append(set_aside(found.surface, bare, pieces))
        header = FlatHeader(
            pieces=_told(pieces),
            overlap_m2=pieces.overlap_mm2 / 1e6,
            avoid_mm=marked.boxes,
            touching=pieces_touching(pieces, marked).tolist(),
            bare_faces=len(bare),
            bare_m2=float(found.surface.face_areas[bare].sum()) / 1e6,
        )
        # What stands aside is numbered on from the pieces.
        first = (0, pieces.count)
        return packet(
            header,
            faces=np.concatenate([own.faces for own in shown]).astype("<u4"),
            piece=np.concatenate([own.piece + first[row] for row, own in enumerate(shown)]).astype("<u4"),
            st=np.concatenate([own.final for own in shown]).astype("<f4"),
            rims=np.concatenate([own.rims for own in shown]).astype("<f4"),
            rim_piece=np.concatenate([own.rim_piece + first[row] for row, own in enumerate(shown)]).astype(
                "<u4"
            ),
        )


def _told(pieces: Pieces) -> list[FlatPiece]:
    _, first, faces = np.unique(pieces.piece, return_index=True, return_counts=True)
    sizes = np.sqrt(pieces.sheet_areas / np.maximum(pieces.areas, 1e-12))
    return [
        FlatPiece(
            face=int(pieces.faces[first[row]]),
            faces=int(faces[row]),
            area_m2=float(pieces.areas[row]) / 1e6,
            size=float(sizes[row]),
            box_mm=(float(a), float(b), float(c), float(d)),
        )
        for row, (a, b, c, d) in enumerate(pieces.boxes)
    ]


@bp.get("/projects/<int:project_id>/flat/<finish>.png")
@heavy
def picture(project_id: int, finish: str) -> Response:
    """The flat view as a picture to paint on, true to the pixels per mm that it notes."""
    asked = FlatPicture.model_validate(request.args.to_dict())
    with database().reading() as db:
        project = projects.existing(db, project_id)
        found = laid(db, computing(), project)
        body = found.contents.materials[found.stated(known_finish(found, finish)).material].body
        images = blobs.get_images(db, body.images)
    pieces = _paintable(found, finish)
    window = _window(found, finish, pieces, asked)
    ground = _ground(asked, found.finish(finish), images.get("base_color"))
    data = draw(pieces, window, ground, asked.bleed_mm, asked.outlines)
    return download(f"{safe_file_name(project.name)}_{finish}.png", data, "image/png")


@bp.post("/projects/<int:project_id>/flat/<finish>/painted")
@heavy
def painted(project_id: int, finish: str) -> Response:
    """A painted picture as a material of the artist's own, and where on the sheet it belongs."""
    asked = FlatPicture.model_validate(request.args.to_dict())
    given = uploaded()
    if len(given) != 1:
        raise InputError("give one picture")
    ((name, data),) = given.items()
    image = checked_image(data, name)
    _, found = laid_by_id(project_id)
    pieces = _paintable(found, finish)
    noted = noted_window(Image(data, image.mime)) if image.data == data else None
    now = _window(found, finish, pieces, asked)
    window = noted or placed(image, now.low_mm, now.size_mm, now.laying)
    said = ""
    if noted is None:
        said = "the picture no longer notes its place, so it lies over the pieces as they lie now"
    elif window.laying != now.laying:
        said = "pieces have moved or changed since the picture was taken out; it lies where it was painted"
    stated = found.stated(finish)
    body = LibraryBody(
        name=f"{stated.name}, painted",
        repeat_mm=window.size_mm,
        grain_deg=found.contents.materials[stated.material].body.grain_deg,
        metallic=0.0,
        images={},
    )
    with database().transaction() as db:
        kept = body.model_copy(update={"images": {"base_color": blobs.put(db, image.data)}})
        key = projects.add_own(db, kept).key
    return answer(PaintedPicture(material=key, low_mm=window.low_mm, said=said), 201)


def _paintable(found: LaidProject, finish: str) -> Pieces:
    """The pieces of a finish; InputError where no one picture shows them."""
    return laid_pieces(found, finish, blended="no one picture shows it", bare="paint on")


def _window(found: LaidProject, finish: str, pieces: Pieces, asked: FlatPicture) -> Window:
    # What the sheet shows changes nothing of where its pieces lie.
    laying = content_key(finish, np.round(pieces.final, 2).tobytes())
    return window_of(pieces, asked.bleed_mm, asked.per_m, asked.longest, laying)


def _ground(asked: FlatPicture, finish: Finish, image: Image | None) -> Ground:
    if asked.shows == "checker":
        side = 10 * asked.square_mm
        return Ground(checker((side, side), (10, 10)), (side, side))
    if asked.shows == "plain":
        return Ground(None, (1.0, 1.0))
    width, height = finish.material.repeat_mm
    return Ground(image, (width * finish.scale[0], height * finish.scale[1]), finish.tile)
