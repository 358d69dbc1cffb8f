"""Wavefront OBJ with its MTL, in and out (format as published in Wavefront's Advanced Visualizer
manual, appendix B1). Polygons, parts, names and normals are kept."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from pivrel.core.arrays import Floats32, Ints
from pivrel.core.geometry.mesh import Mesh, MeshError, SourceMaterial, checked
from pivrel.formats.bundle import Bundle, FormatError
from pivrel.formats.convention import Convention, from_model
from pivrel.formats.found_model import FoundModel, GivenFile
from pivrel.formats.model.mtl import MtlReader
from pivrel.formats.model.obj_lines import BAD_INDEX, BAD_NUMBER, count_lines, read_lines, room_for
from pivrel.formats.source_images import SourceImages


def read_obj(data: bytes, bundle: Bundle) -> tuple[Mesh, SourceImages]:
    """The mesh in the file's own unit and axes, its images, and what was found on the way.

    FormatError names the line that is wrong.
    """
    reader = MtlReader(bundle)
    # A backslash joins two lines; blanks in its place keep every line number right.
    raw = np.frombuffer(data.replace(b"\\\r\n", b"   ").replace(b"\\\n", b"  "), np.uint8)
    counts = count_lines(raw)
    v, vn, f, *_ = counts
    if f == 0:
        what = "is empty" if not data.strip() else "has no faces"
        raise FormatError(f"the file {what}; an OBJ model needs lines that begin with 'f'")
    lines = room_for(*counts)
    error, line, what_at = read_lines(raw, lines)
    if error:
        raise FormatError(_line_error(error, line, what_at, v, vn))

    named = _named_runs(data, lines.names, f)
    sources = _sources(named.material_names, reader, named.libraries)
    mesh = Mesh(
        points=lines.points,
        corners=lines.corners,
        face_start=lines.face_start,
        face_part=named.face_part,
        part_names=named.part_names,
        normals=_unit(lines.normals, lines.corner_normals),
        face_source=named.face_material,
        sources=sources,
        uv_sets=(lines.corner_uv,) if np.isfinite(lines.corner_uv).any() else (),
    )
    try:
        return checked(mesh), reader.images
    except MeshError as error_found:
        raise FormatError(str(error_found)) from None


def _line_error(error: int, line: int, what: int, points: int, normals: int) -> str:
    if error == BAD_NUMBER:
        return f"line {line} has something that is not a finite number"
    if error == BAD_INDEX:
        return (
            f"line {line} refers to index {what}, but the file has {points} points "
            f"and {normals} normals, counted from 1"
        )
    return f"line {line} is a face with {what} corners; it needs at least 3"


class _Named:
    """Parts, materials and libraries as the naming lines give them, run by run."""

    def __init__(self) -> None:
        self.part_names: tuple[str, ...] = ()
        self.material_names: tuple[str, ...] = ()
        self.libraries: list[str] = []
        self.face_part: Ints
        self.face_material: Ints


def _named_runs(data: bytes, names: Ints, faces: int) -> _Named:
    out = _Named()
    parts: dict[str, int] = {}
    materials: dict[str, int] = {}
    runs: list[tuple[int, int, int]] = []
    object_name = group = ""
    material = -1

    def mark(face: int) -> None:
        part = "/".join(dict.fromkeys(n for n in (object_name, group) if n)) or "part"
        run = (face, parts.setdefault(part, len(parts)), material)
        if runs and runs[-1][0] == face:
            runs[-1] = run
        else:
            runs.append(run)

    # Parts are numbered when a face uses them, so a name without faces leaves no empty part.
    boundaries = [*names[:, 2].tolist(), faces]
    if not len(names) or boundaries[0] > 0:
        mark(0)
    for row, (begin, end, face) in enumerate(names.tolist()):
        key, _, rest = data[begin:end].decode("utf-8", "replace").strip().partition(" ")
        rest = rest.strip()
        if key == "mtllib":
            out.libraries.append(rest)
        elif key == "o":
            object_name, group = rest, ""
        elif key == "g":
            group = "" if rest in ("default", "") else rest
        elif key == "usemtl":
            material = materials.setdefault(rest, len(materials))
        if boundaries[row + 1] > face:
            mark(face)
    starts = np.array([r[0] for r in runs] + [faces])
    lengths = np.diff(starts)
    out.face_part = np.repeat(np.array([r[1] for r in runs], np.int32), lengths)
    out.face_material = np.repeat(np.array([r[2] for r in runs], np.int32), lengths)
    out.part_names, out.material_names = tuple(parts), tuple(materials)
    return out


def _unit(normals: np.ndarray, index: Ints) -> Floats32 | None:
    """(C, 3) unit normals, or None where a corner has none or one without length."""
    if not len(normals) or (index < 0).any():
        return None
    chosen = normals[index]
    length = np.linalg.norm(chosen, axis=1, keepdims=True)
    if (length < 1e-12).any():
        return None
    return (chosen / length).astype(np.float32)


def _sources(names: tuple[str, ...], reader: MtlReader, libraries: list[str]) -> tuple[SourceMaterial, ...]:
    for library in libraries:
        data = reader.bundle.read(library)
        if data is None:
            reader.images.found.append(
                f"the material file {library!r} is not beside the model; colors and images are left out"
            )
        else:
            reader.read(data, library)
    return tuple(reader.materials.get(name, SourceMaterial(name)) for name in names)


def write_obj(
    mesh: Mesh,
    normals: Floats32,
    uv: np.ndarray,
    face_name: Ints,
    names: list[str],
    library: str,
    convention: Convention,
) -> str:
    """The text of an OBJ: faces in their order, a `usemtl` where the name changes.

    uv: (C, 2), NaN for corners without. face_name: (F,) into names.
    """
    size = np.abs(mesh.points).max() / convention.mm
    # Enough places for a hundredth of a micrometre near the origin, float64's reach far from it.
    places = int(np.clip(15 - np.ceil(np.log10(max(size, 1.0))), 4, 9))
    lines = [f"mtllib {library}"]
    lines += _rows("v", from_model(mesh.points, convention), places)
    unique_uv, uv_index = _unique_rows(np.nan_to_num(uv), 7)
    lines += _rows("vt", unique_uv, 7)
    turned = from_model(normals.astype(np.float64), replace(convention, mm=1.0))
    unique_normals, normal_index = _unique_rows(turned, 6)
    lines += _rows("vn", unique_normals, 6)

    textured = ~np.isnan(uv[:, 0])
    vi, ti, ni = (mesh.corners + 1).tolist(), (uv_index + 1).tolist(), (normal_index + 1).tolist()
    words = [
        f"{v}/{t}/{n}" if has else f"{v}//{n}"
        for v, t, n, has in zip(vi, ti, ni, textured.tolist(), strict=True)
    ]
    starts, parts, chosen = mesh.face_start.tolist(), mesh.face_part.tolist(), face_name.tolist()
    part_now = name_now = -1
    for f in range(mesh.face_count):
        if parts[f] != part_now:
            part_now, name_now = parts[f], -1
            lines.append(f"o {one_line(mesh.part_names[part_now])}")
        if chosen[f] != name_now:
            name_now = chosen[f]
            lines.append(f"usemtl {names[name_now]}")
        lines.append("f " + " ".join(words[starts[f] : starts[f + 1]]))
    return "\n".join(lines) + "\n"


def _rows(key: str, values: np.ndarray, places: int) -> list[str]:
    row = key + f" %.{places}f" * values.shape[1]
    return [row % tuple(v) for v in values.tolist()]


def _unique_rows(values: np.ndarray, places: int) -> tuple[np.ndarray, Ints]:
    """The rows that differ, in order, and which of them each row is.

    By one whole number a row, which is sorted many times faster than rows are, and without keeping other threads
    from their work.
    """
    rounded = np.round(values, places) + 0.0
    key = np.zeros(len(rounded), np.int64)
    for column in rounded.T:
        levels, rank = np.unique(column, return_inverse=True)
        # Ranks of pairs, so that the number never grows beyond the rows squared.
        key = np.unique(key * len(levels) + rank, return_inverse=True)[1]
    _, first = np.unique(key, return_index=True)
    return rounded[first], key.astype(np.int32)


def one_line(name: str) -> str:
    """A name that cannot end its line early."""
    return " ".join(name.split()) or "part"


def read(given: GivenFile) -> FoundModel:
    """An OBJ with its materials."""
    if b"\0" in given.data[:4096]:
        raise FormatError("this is not an OBJ file: it holds binary data")
    mesh, images = read_obj(given.data, given.bundle)
    return FoundModel(mesh, images=images)
