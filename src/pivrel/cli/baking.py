"""`pivrel bake`: a recipe laid on a model, its finishes as images that hold all of their coats."""

from __future__ import annotations

import argparse
import sys

from pivrel.cli.files import CommandError
from pivrel.cli.laying import Work, read_work
from pivrel.cli.recipes import load_look, output_format, write_model
from pivrel.errors import InputError
from pivrel.formats.baking.asked import Asked
from pivrel.formats.baking.bake import bake
from pivrel.formats.baking.plan import planned
from pivrel.formats.laid import safe_file_name


def bake_command(args: argparse.Namespace) -> None:
    """Bakes and writes the result, all of it or nothing; says first what it will make."""
    kind = output_format(args.output)
    work = read_work(args)
    looks = {key: load_look(args.recipe, material) for key, material in work.recipe.materials.items()}
    by_axis = [finish.for_axes(looks) for finish in work.recipe.finishes]
    try:
        plan = planned(
            work.schedule,
            by_axis,
            (work.imported.images, work.imported.image_names),
            _asked(args, work),
            _tell,
        )
    except InputError as error:
        raise CommandError(args.recipe, str(error)) from None
    _clear()
    names = [work.schedule.finishes[key].name for key in plan.baked]
    print(f"to be baked: {', '.join(names)}")
    for sentence in plan.said():
        print(sentence)
    if args.plan:
        return
    found = bake(plan, looks, _tell)
    _clear()
    beside = {} if kind.name == "OBJ" else found.beside(safe_file_name(args.output.stem))
    write_model(args.output, kind, found.model, work.imported.convention, beside)
    for sentence in (*work.troubles(), *(f"note: {note}" for note in found.model.notes)):
        print(sentence)


def _asked(args: argparse.Namespace, work: Work) -> Asked:
    """What the command's options ask for. CommandError where a name is none of the recipe's."""
    finishes: tuple[str, ...] | None = None
    if args.all:
        finishes = tuple(work.schedule.keys)
    elif args.finish:
        by_name = {finish.name: key for key, finish in work.schedule.finishes.items()}
        for name in args.finish:
            if name not in by_name:
                raise CommandError(args.recipe, f"has no finish {name!r}; it has {', '.join(by_name)}")
        finishes = tuple(by_name[name] for name in args.finish)
    return Asked(args.px_per_m, args.size, args.padding, finishes, args.unfold, height_bits=args.height_bits)


def _tell(doing: str, share: float) -> None:
    """Shows how far it is, where somebody is looking."""
    if sys.stderr.isatty():
        print(f"\r\033[K{doing}, {share:.0%}", end="", file=sys.stderr, flush=True)


def _clear() -> None:
    if sys.stderr.isatty():
        print("\r\033[K", end="", file=sys.stderr, flush=True)
