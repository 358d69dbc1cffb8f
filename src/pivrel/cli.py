"""The command line: apply, inspect, measure, revise; demo, serve; backup, check, compact, export."""

from __future__ import annotations

import argparse
import json
import os
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from pivrel.core.arrays import Ints
from pivrel.core.finish import Finish
from pivrel.core.geometry.faults import find_faults
from pivrel.core.geometry.mesh import Mesh, MeshError, SourceMaterial
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, Layers, Piece, Settled, layers, settle
from pivrel.core.measure.figures import Figures, left_areas, measure, shown_by_face
from pivrel.core.picks import PickError, as_faces
from pivrel.formats import KERNEL, MM, READABLE, FormatError, Imported, read_model, suffix_of
from pivrel.formats.bundle import MAX_FILE_BYTES, Folder
from pivrel.formats.handover import WRITABLE, handover_files
from pivrel.formats.laid import LaidModel, Look, lay_model, safe_file_name, upright_normal
from pivrel.importing import memory
from pivrel.importing.job import Asked, Job
from pivrel.importing.report import sentence
from pivrel.materials.checker import checker_for
from pivrel.materials.images import ImageError, checked_image
from pivrel.recipe import (
    DatumModel,
    MaterialModel,
    RecipeError,
    RecipeModel,
    projection_json,
    read_recipe,
    recipe_schema,
    with_ids,
)
from pivrel.store.errors import StorageError, one_line

if TYPE_CHECKING:
    from pivrel.store.database import Database


class CommandError(Exception):
    """What is wrong, with the file it concerns."""

    def __init__(self, file: Path | str, what: str) -> None:
        super().__init__(f"{file}: {what}")


def read_bytes(path: Path) -> bytes:
    """The bytes of a file that must be there."""
    try:
        if path.stat().st_size > MAX_FILE_BYTES:
            raise CommandError(path, f"the file is larger than {MAX_FILE_BYTES >> 30} GB")
        return path.read_bytes()
    except OSError as error:
        raise CommandError(path, (error.strerror or "cannot be read").lower()) from None


def load_model(path: Path, args: argparse.Namespace) -> Imported:
    """The model of a file, or CommandError."""
    data = read_bytes(path)
    asked = Asked(path.name, args.unit, args.up, args.tolerance, check=False)
    try:
        if suffix_of(path.name) in KERNEL:
            return read_aside(asked, path.parent)
        return read_model(path.name, data, Folder(path.parent), args.unit, args.up)
    except FormatError as error:
        raise CommandError(path, str(error)) from None


def read_aside(asked: Asked, folder: Path) -> Imported:
    """The model read in a process of its own, which a broken file may bring down alone."""
    job = Job(asked, folder.resolve())
    try:
        job.wait()
        return job.result()[0]
    finally:
        job.stop()


def load_recipe(path: Path) -> RecipeModel:
    """The recipe of a file, or CommandError."""
    try:
        return read_recipe(read_bytes(path))
    except RecipeError as error:
        raise CommandError(path, str(error)) from None


def load_look(path: Path, material: MaterialModel) -> Look:
    """The images of a recipe's material; a checker where it names none."""
    folder = Folder(path.parent)
    images = {}
    for channel, name in material.images.items():
        try:
            data = folder.read(name)
            if data is None:
                raise CommandError(path, f"the image {name!r} of material {material.name!r} is missing")
            images[str(channel)] = checked_image(data, name)
        except (FormatError, ImageError) as error:
            raise CommandError(path, str(error)) from None
    images = upright_normal(images, material.normal_y)
    return Look(images or {"base_color": checker_for(material.repeat_mm)}, material.metallic)


@dataclass(frozen=True, eq=False)
class Work:
    """A recipe and the model that it is laid on."""

    imported: Imported
    surface: Surface
    recipe: RecipeModel
    finishes: list[Finish]
    layers: Layers

    @cache  # noqa: B019 - a piece of work lives as long as its command
    def settled(self, row: int) -> Settled:
        """What a finish leaves open, measured once."""
        return settle(self.surface, self.finishes[row])

    def drawn(self, row: int) -> Ints:
        """The faces that a finish is laid on."""
        return as_faces(self.layers.singles.get(row, self.layers.base == row))

    def bare(self) -> tuple[Ints, float]:
        """The faces without a finish, and the m² that are bare, beside single sheets too."""
        base = self.layers.base == BARE
        rows = self.layers.singles
        shown = [
            (self.drawn(row), shown_by_face(self.surface, f, self.drawn(row), self.settled(row)))
            for row, f in ((row, self.finishes[row]) for row in rows)
        ]
        for mask in rows.values():
            base = base & ~mask
        left = left_areas(self.surface, shown)
        return as_faces(base), float(left[self.layers.base == BARE].sum()) / 1e6


def read_work(args: argparse.Namespace) -> Work:
    """The recipe and the model of a command, and which face takes which finish."""
    recipe = load_recipe(args.recipe)
    imported = load_model(args.model, args)
    surface, finishes = Surface(imported.mesh), recipe.to_core()
    try:
        return Work(imported, surface, recipe, finishes, layers(surface, finishes))
    except PickError as error:
        raise CommandError(args.recipe, str(error)) from None


def laid(args: argparse.Namespace, work: Work) -> LaidModel:
    """The recipe laid on the model, with the images that it names."""
    looks = {key: load_look(args.recipe, material) for key, material in work.recipe.materials.items()}
    return lay_model(
        work.surface,
        work.finishes,
        [f.for_axes(looks) for f in work.recipe.finishes],
        work.imported.images,
        work.imported.image_names,
        work.settled,
    )


def measured(work: Work) -> Iterator[tuple[Finish, Settled, Figures]]:
    """Every finish in order, with what was settled and measured of it."""
    for row, finish in enumerate(work.finishes):
        faces = work.drawn(row)
        settled = work.settled(row)
        yield finish, settled, measure(work.surface, finish, faces, settled)


def piece_json(work: Work, piece: Piece) -> dict[str, Any]:
    """Datum and projection with all that was left open, as measured or fitted."""
    return {
        "part": None if piece.part is None else work.surface.mesh.part_names[piece.part],
        "datum": DatumModel.of(piece.datum).model_dump(mode="json"),
        "projection": projection_json(piece.projection),
        "residual_mm": piece.residual_mm,
    }


def apply(args: argparse.Namespace) -> None:
    """Lays a recipe and writes the result, all of it or nothing."""
    suffix = suffix_of(args.output.name)
    if suffix not in WRITABLE:
        raise CommandError(
            args.output,
            f"cannot be written as {suffix or 'a file without ending'!r}; use {', '.join(WRITABLE)}",
        )
    work = read_work(args)
    model = laid(args, work)
    stem = args.output.stem
    files = handover_files(
        model, suffix, stem if suffix == ".glb" else safe_file_name(stem), work.imported.convention
    )
    own = next(iter(files))
    write_all(args.output.parent, {(args.output.name if n == own else n): d for n, d in files.items()})
    for finish, _, f in measured(work):
        if not f.faces:
            print(f"{finish.name}: covers nothing")
            continue
        closed = "".join(f", whole repeats by a scale along of {k:.4f}" for k in f.closings)
        print(
            f"{finish.name}: {f.faces} faces, {f.area_m2:.3f} m², {f.true_share:.1%} true to scale, "
            f"{f.smeared_m2:.3f} m² smeared, {f.seams_m:.2f} m unmatched seam{closed}"
        )
    bare, bare_m2 = work.bare()
    if len(bare):
        print(f"bare: {len(bare)} faces, {bare_m2:.3f} m²")
    for note in model.notes:
        print(f"note: {note}")


def write_all(folder: Path, files: dict[str, bytes]) -> None:
    """Writes files under temporary names and then moves them, so that none is left half-written."""
    waiting: list[tuple[str, Path]] = []
    try:
        for name, data in files.items():
            handle, temporary = tempfile.mkstemp(dir=folder, prefix=".pivrel-")
            waiting.append((temporary, folder / name))
            with os.fdopen(handle, "wb") as file:
                file.write(data)
            Path(temporary).chmod(0o644)
        for temporary, target in waiting:
            Path(temporary).replace(target)
    except OSError as error:
        raise CommandError(folder, f"cannot be written to: {(error.strerror or '').lower()}") from None
    finally:
        for temporary, _ in waiting:
            Path(temporary).unlink(missing_ok=True)


def inspection(imported: Imported) -> dict[str, Any]:
    """What is known of a model before anything is laid."""
    mesh, surface = imported.mesh, Surface(imported.mesh)
    faces_per_part = np.bincount(mesh.face_part, minlength=len(mesh.part_names)).tolist()
    found = [*imported.found, *(sentence(fault) for fault in find_faults(surface))]
    patches = surface.patches()
    return {
        "parts": [_part_json(mesh, part, faces) for part, faces in enumerate(faces_per_part)],
        "faces": mesh.face_count,
        "triangles": len(surface.triangles),
        "patches": int(patches.max()) + 1,
        **({"surfaces": surfaces_json(mesh)} if mesh.exact else {}),
        "bounds_mm": mesh.bounds().tolist(),
        "area_m2": float(surface.face_areas.sum()) / 1e6,
        "unit": imported.unit,
        "up": imported.up,
        "guessed": imported.guessed,
        **({"why": imported.why} if imported.guessed else {}),
        "materials": [_source_json(source) for source in mesh.sources],
        "images": len(imported.images),
        "uv_sets": len(mesh.uv_sets),
        **({"tolerance_mm": imported.tolerance_mm} if imported.tolerance_mm else {}),
        "found": found,
    }


def _source_json(source: SourceMaterial) -> dict[str, Any]:
    return {
        "name": source.name,
        "color": list(source.rgba),
        "images": [channel for channel, _ in source.textures],
    }


def _part_json(mesh: Mesh, part: int, faces: int) -> dict[str, Any]:
    out: dict[str, Any] = {"name": mesh.part_names[part], "faces": faces}
    if mesh.part_elements:
        out |= {"element": mesh.part_elements[part], "storey": mesh.part_storeys[part]}
    return out


def surfaces_json(mesh: Mesh) -> list[dict[str, Any]]:
    """The exact surface of each patch, with what its kind has."""
    out = []
    for patch, surface in enumerate(mesh.exact):
        stated: dict[str, Any] = {"patch": patch, "kind": surface.kind}
        if surface.kind != "free-form":
            stated |= {"origin_mm": surface.origin_mm, "axis": surface.axis}
        if surface.kind not in ("plane", "free-form"):
            stated["radius_mm"] = surface.radius_mm
        if surface.kind == "torus":
            stated["tube_mm"] = surface.tube_mm
        if surface.kind == "cone":
            stated["half_angle_deg"] = surface.half_angle_deg
        out.append(stated)
    return out


def inspect(args: argparse.Namespace) -> None:
    """Prints what a model is made of."""
    facts = inspection(load_model(args.model, args))
    if args.json:
        print(json.dumps(facts, indent=2, ensure_ascii=False))
        return
    low, high = facts["bounds_mm"]
    size = " x ".join(f"{b - a:,.1f}" for a, b in zip(low, high, strict=True))
    print(f"parts: {len(facts['parts'])}")
    for part in facts["parts"]:
        print(f"  {part['name']}: {part['faces']} faces")
    print(f"faces: {facts['faces']}, triangles: {facts['triangles']}, patches: {facts['patches']}")
    print(f"size: {size} mm, from {np.round(low, 3).tolist()} to {np.round(high, 3).tolist()}")
    print(
        f"unit: {facts['unit']}, up: {facts['up']}{' (guessed: ' + facts['why'] + ')' if facts['guessed'] else ''}"
    )
    print(f"materials: {len(facts['materials'])}, images: {facts['images']}, UV sets: {facts['uv_sets']}")
    for kind, count in Counter(row["kind"] for row in facts.get("surfaces", ())).items():
        print(f"surfaces: {count} of kind {kind}")
    for line in facts["found"] or ["nothing wrong"]:
        print(f"found: {line}")


def measure_command(args: argparse.Namespace) -> None:
    """Prints section 7 of the laying contract, per finish."""
    work = read_work(args)
    finishes = [
        {
            "name": finish.name,
            "faces": f.faces,
            "area_m2": f.area_m2,
            "true_to_scale": f.true_share,
            "least_stretch": f.least_stretch,
            "greatest_stretch": f.greatest_stretch,
            "smeared_m2": f.smeared_m2,
            "mirrored_m2": f.mirrored_m2,
            "unmatched_seam_m": f.seams_m,
            "joints_run_on_m": f.joints_m,
            "worst_gap_mm": f.worst_gap_mm,
            "whole_repeats_k": list(f.closings),
            "pieces": [piece_json(work, piece) for piece in settled.pieces],
            "smeared_faces": f.smeared_faces.tolist(),
            "mirrored_faces": f.mirrored_faces.tolist(),
            "unmatched_faces": f.seam_faces.tolist(),
        }
        for finish, settled, f in measured(work)
    ]
    bare, bare_m2 = work.bare()
    out: dict[str, Any] = {
        "finishes": finishes,
        "bare": {"faces": bare.tolist(), "area_m2": bare_m2},
    }
    if args.json:
        print(json.dumps(out, indent=2, ensure_ascii=False))
        return
    for row in finishes:
        print(f"{row['name']}:")
        for key, value in row.items():
            if key != "name" and not isinstance(value, list):
                print(f"  {key}: {value:g}" if isinstance(value, float) else f"  {key}: {value}")
    print(f"bare: {len(bare)} faces, {out['bare']['area_m2']:g} m²")


def revise(args: argparse.Namespace) -> None:
    """Carries a recipe over to a newer model, writes it, and lists what became of the faces."""
    from pivrel.edits import counted
    from pivrel.revision import revised
    from pivrel.store.projects import Contents, Document

    recipe = load_recipe(args.recipe)
    old, new = (Surface(load_model(path, args).mesh) for path in (args.model, args.newer))
    stated = [finish.model_dump(mode="json", by_alias=True) for finish in recipe.finishes]
    contents = Contents({str(row): Document(str(row), row, body) for row, body in enumerate(stated)})
    try:
        done = revised(contents, old, new)
    except PickError as error:
        raise CommandError(args.recipe, str(error)) from None
    finishes = [document.body for document in done.contents.finishes.values()]
    whole = {**json.loads(recipe.model_dump_json(by_alias=True)), "finishes": finishes}
    text = json.dumps(with_ids(whole), indent=1)
    write_all(args.output.parent, {args.output.name: text.encode()})
    names = [finish["name"] for finish in stated]
    for item in done.items:
        was, now = (names[int(key)] if key else "bare" for key in (item.was, item.finish))
        laid_on = f"was {was}, now {now}" if item.what != "gone" else f"was {was}"
        renamed = f" (was {item.former})" if item.former else ""
        asks = "; is that right?" if item.asks else ""
        count = counted(len(item.faces), "face")
        print(f"{item.what}: {item.part}{renamed}: {count}, {item.area_m2:.3f} m², {laid_on}{asks}")


def demo(args: argparse.Namespace) -> None:
    """Fills the data folder with the library and the demo projects; what is there stays as it is."""
    from pivrel.demo import fill
    from pivrel.store.database import Database

    for line in fill(Database(args.data)):
        print(line, flush=True)


def serve(args: argparse.Namespace) -> None:
    """Serves the application until it is stopped."""
    from pivrel.web.server import run

    run(args.data, args.host, args.port, args.token)


def stored(args: argparse.Namespace) -> Database:
    """The database of a data folder that must be there."""
    from pivrel.store.database import FILE, Database

    if not (args.data / FILE).is_file():
        raise CommandError(args.data, "there is no data of Pivrel in this folder")
    return Database(args.data)


def new_file(path: Path) -> Path:
    """A file to be written that must not be there yet, in a folder that must."""
    if path.exists():
        raise CommandError(path, "is there already; name another file")
    if not path.absolute().parent.is_dir():
        raise CommandError(path.parent, "there is no such folder")
    return path


def backup(args: argparse.Namespace) -> None:
    """Copies the whole database into one file, also while the application is in use."""
    target = new_file(args.output)
    stored(args).copy_to(target)
    print(
        f"{target}: {memory.in_words(target.stat().st_size)}. To go back to it, stop Pivrel and put it "
        "in the place of pivrel.sqlite in the data folder, without the files beside it that begin alike"
    )


def check(args: argparse.Namespace) -> None:
    """Looks through all data for damage; changes nothing."""
    from pivrel.housekeeping import faults

    found = list(faults(stored(args)))
    for line in found:
        print(line)
    if found:
        raise CommandError(args.data, f"{len(found)} {'fault' if len(found) == 1 else 'faults'} found")
    print("all data is whole: every row, every image, every model")


def compact(args: argparse.Namespace) -> None:
    """Writes the database anew, as small as it can be."""
    database = stored(args)
    before = database.bytes_on_disk
    database.compact()
    print(f"{memory.in_words(before)} before, {memory.in_words(database.bytes_on_disk)} now")


def export(args: argparse.Namespace) -> None:
    """Writes every project and every material into one ZIP."""
    from pivrel.housekeeping import write_everything

    projects, materials = write_everything(stored(args), new_file(args.output))
    print(f"{args.output}: {projects} projects, {materials} materials")


def schema(_: argparse.Namespace) -> None:
    """Prints the recipe's JSON Schema."""
    print(json.dumps(recipe_schema(), indent=2))


def port_number(text: str) -> int:
    """A port as typed; 0 for any that is free."""
    if not text.isdecimal() or int(text) > 65535:
        raise argparse.ArgumentTypeError(f"{text!r} is no port: ports are between 0 and 65535")
    return int(text)


def build_parser() -> argparse.ArgumentParser:
    """The commands and their options."""
    parser = argparse.ArgumentParser("pivrel", description="Lays tiling materials on models in millimetres.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    def command(name: str, run: Any, text: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=text, description=text)
        sub.set_defaults(run=run)
        return sub

    def data_option(sub: argparse.ArgumentParser) -> None:
        data = Path(os.environ.get("PIVREL_DATA", "data"))
        sub.add_argument("--data", type=Path, default=data, help="the data folder (default: %(default)s)")

    def model_options(sub: argparse.ArgumentParser) -> None:
        sub.add_argument("model", type=Path, metavar="MODEL", help=f"a model: {', '.join(READABLE)}")
        sub.add_argument(
            "--unit", choices=list(MM), help="unit of an OBJ, STL or PLY; without it the likeliest is taken"
        )
        sub.add_argument(
            "--up", choices=["y", "z"], help="its upward axis; without it y for OBJ, z for STL and PLY"
        )
        sub.add_argument(
            "--tolerance", type=float, metavar="MM",
            help="how far the facets of a STEP model may lie from its true surfaces; by its size without",
        )  # fmt: skip

    sub = command("apply", apply, "lay a recipe on a model and write the result")
    sub.add_argument("recipe", type=Path, metavar="RECIPE")
    model_options(sub)
    sub.add_argument(
        "-o", "--output", type=Path, required=True, metavar="OUT", help="a .glb, .gltf or .obj file"
    )
    sub = command("inspect", inspect, "say what a model is made of and what is wrong with it")
    model_options(sub)
    sub.add_argument("--json", action="store_true")
    sub = command("measure", measure_command, "lay a recipe and print what is measured")
    sub.add_argument("recipe", type=Path, metavar="RECIPE")
    model_options(sub)
    sub.add_argument("--json", action="store_true")
    sub = command("revise", revise, "carry a recipe over to a newer model")
    sub.add_argument("recipe", type=Path, metavar="RECIPE")
    model_options(sub)
    sub.add_argument("newer", type=Path, metavar="NEWER", help="the model that takes its place")
    sub.add_argument("-o", "--output", type=Path, required=True, metavar="OUT", help="the new recipe")
    command("schema", schema, "print the recipe's JSON Schema")
    sub = command("demo", demo, "fill the data folder with the demo projects")
    data_option(sub)
    sub = command("serve", serve, "serve the application")
    data_option(sub)
    sub.add_argument("--host", default="127.0.0.1", help="the address to answer at (default: %(default)s)")
    sub.add_argument(
        "--port", type=port_number, default=8017, help="0 for any that is free (default: %(default)s)"
    )
    sub.add_argument(
        "--token", default=os.environ.get("PIVREL_TOKEN"),
        help="what visitors must know where --host lets other machines in; made up when left out",
    )  # fmt: skip
    for name, run, text in (
        ("backup", backup, "copy the whole data folder into one file, also while the application is in use"),
        ("check", check, "look through all data for damage"),
        ("compact", compact, "give the room of what was deleted back to the disk"),
        ("export", export, "write every project and every material into one ZIP"),
    ):
        sub = command(name, run, text)
        data_option(sub)
        if name in ("backup", "export"):
            sub.add_argument("output", type=Path, metavar="FILE")
    return parser


def main(argv: Sequence[str] | None = None) -> int:
    """Runs one command; 0, or 2 with one line on standard error."""
    args = build_parser().parse_args(argv)
    try:
        args.run(args)
    except (CommandError, StorageError) as error:
        print(f"error: {error}", file=sys.stderr)
        return 2
    except (MeshError, PickError) as error:
        about = args.recipe if isinstance(error, PickError) else args.model
        print(f"error: {about}: {error}", file=sys.stderr)
        return 2
    except MemoryError:
        print("error: there is not enough memory for this model", file=sys.stderr)
        return 2
    except OSError as error:
        print(f"error: {one_line(error, error.filename or tempfile.gettempdir())}", file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main())
