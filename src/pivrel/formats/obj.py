"""Wavefront OBJ with its MTL, in and out (format as published in Wavefront's Advanced Visualizer
manual, appendix B1). Polygons, parts, names and normals are kept."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from pivrel.core.arrays import Floats32, Ints
from pivrel.core.geometry.mesh import Mesh, MeshError, SourceMaterial, checked
from pivrel.formats.bundle import Bundle, FormatError
from pivrel.formats.obj_lines import BAD_INDEX, BAD_NUMBER, count_lines, read_lines
from pivrel.formats.units import Convention, from_model

IMAGE_KEYS = {"map_kd", "map_ks", "map_ka", "map_ns", "map_d", "map_bump", "bump", "disp", "norm",
              "map_pr", "map_pm", "map_ke", "decal", "refl"}  # fmt: skip


def read_obj(data: bytes, bundle: Bundle) -> tuple[Mesh, list[str]]:
    """The mesh in the file's own unit and axes, and what was found on the way.

    FormatError names the line that is wrong.
    """
    found: list[str] = []
    # A backslash joins two lines; blanks in its place keep every line number right.
    raw = np.frombuffer(data.replace(b"\\\r\n", b"   ").replace(b"\\\n", b"  "), np.uint8)
    v, vn, f, c, k = count_lines(raw)
    if f == 0:
        what = "is empty" if not data.strip() else "has no faces"
        raise FormatError(f"the file {what}; an OBJ model needs lines that begin with 'f'")
    points, normals = np.empty((v, 3)), np.empty((vn, 3))
    face_start, names = np.empty(f + 1, np.int32), np.empty((k, 3), np.int64)
    corners, corner_normals = np.empty(c, np.int32), np.empty(c, np.int32)
    error, line, what_at = read_lines(raw, points, normals, face_start, corners, corner_normals, names)
    if error:
        raise FormatError(_line_error(error, line, what_at, v, vn))

    named = _named_runs(data, names, f)
    sources, face_source = _sources(named.material_names, named.face_material, bundle, named.libraries, found)
    mesh = Mesh(
        points=points,
        corners=corners,
        face_start=face_start,
        face_part=named.face_part,
        part_names=named.part_names,
        normals=_unit(normals, corner_normals),
        face_source=face_source,
        sources=sources,
    )
    try:
        return checked(mesh), found
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


def _sources(
    names: tuple[str, ...], face_material: Ints, bundle: Bundle, libraries: list[str], found: list[str]
) -> tuple[tuple[SourceMaterial, ...], Ints]:
    colors: dict[str, tuple[float, float, float, float]] = {}
    for library in libraries:
        data = bundle.read(library)
        if data is None:
            found.append(f"the material file {library!r} is not beside the model; colors are left out")
        else:
            colors.update(read_mtl(data, library, bundle))
    sources = tuple(SourceMaterial(n, colors.get(n, SourceMaterial(n).rgba)) for n in names)
    return sources, face_material


def read_mtl(data: bytes, name: str, bundle: Bundle) -> dict[str, tuple[float, float, float, float]]:
    """Base color of each material. FormatError for a missing image or one outside the folder."""
    colors: dict[str, tuple[float, float, float, float]] = {}
    current = ""
    for number, line in enumerate(data.decode("utf-8", "replace").splitlines(), 1):
        key, _, rest = line.strip().partition(" ")
        key, rest = key.lower(), rest.strip()
        if key == "newmtl":
            current = rest
            colors[current] = SourceMaterial(current).rgba
        elif key in ("kd", "d") and current:
            try:
                values = [float(n) for n in rest.split()]
                if not values or not all(np.isfinite(values)):
                    raise ValueError
            except ValueError:
                if rest.startswith(("spectral", "xyz", "-halo")):
                    continue
                raise FormatError(f"{name} line {number}: {rest!r} is not a color or a number") from None
            r, g, b, a = colors[current]
            if key == "kd" and len(values) >= 3:
                r, g, b = values[:3]
            elif key == "d":
                a = values[-1]
            colors[current] = (r, g, b, min(max(a, 0.0), 1.0))
        elif key in IMAGE_KEYS and rest:
            _check_image(rest, f"{name} line {number}", bundle)
    return colors


def _check_image(rest: str, where: str, bundle: Bundle) -> None:
    # Options such as "-bm 0.5" stand before the name, which may itself hold blanks.
    words = rest.split()
    tries = [rest] if not rest.startswith("-") else [" ".join(words[i:]) for i in range(1, len(words))]
    try:
        if any(bundle.read(name) is not None for name in tries):
            return
    except FormatError as unsafe:
        raise FormatError(f"{where}: {unsafe}") from None
    raise FormatError(
        f"{where}: the image {tries[-1]!r} is missing; put it beside the model or leave the .mtl out"
    )


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
    rounded = np.round(values, places) + 0.0
    unique, index = np.unique(rounded, axis=0, return_inverse=True)
    return unique, index.reshape(-1).astype(np.int32)


def one_line(name: str) -> str:
    """A name that cannot end its line early."""
    return " ".join(name.split()) or "part"


def write_mtl(materials: list[tuple[str, tuple[float, float, float], float, dict[str, str]]]) -> str:
    """The text of an MTL: (name, color, opacity, image file by channel) a material."""
    keys = {
        "base_color": "map_Kd", "normal": "norm", "roughness": "map_Pr", "metallic": "map_Pm",
        "height": "disp", "occlusion": "map_Ka",
    }  # fmt: skip
    lines: list[str] = []
    for name, (r, g, b), opacity, images in materials:
        lines += [f"newmtl {name}", f"Kd {r:.4f} {g:.4f} {b:.4f}", f"d {opacity:.4f}", "illum 2"]
        lines += [f"{keys[channel]} {file}" for channel, file in images.items()]
        lines.append("")
    return "\n".join(lines)
