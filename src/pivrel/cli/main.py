"""The command line: apply, bake, inspect, measure, revise; demo, serve; backup, check, compact, export.

What a command needs is loaded when it runs, so that `pivrel --help` is there at once.
"""

from __future__ import annotations

import argparse
import gc
import os
import sys
from collections.abc import Callable, Sequence
from pathlib import Path

from pivrel import __version__
from pivrel.errors import PivrelError
from pivrel.formats.loading import loaded
from pivrel.formats.registry import READABLE, WRITABLE
from pivrel.formats.units import MM

LEVELS = ("debug", "info", "warning", "error")


def port_number(text: str) -> int:
    """A port as typed; 0 for any that is free."""
    if not text.isdecimal() or int(text) > 65535:
        raise argparse.ArgumentTypeError(f"{text!r} is no port: ports are between 0 and 65535")
    return int(text)


def _command(
    commands: argparse._SubParsersAction[argparse.ArgumentParser], name: str, runs: str, text: str
) -> argparse.ArgumentParser:
    """A command. runs: "module:function" of this package."""

    def run(args: argparse.Namespace) -> None:
        _say_what_is_compiled()
        _carried_out_by(runs)(args)

    sub = commands.add_parser(name, help=text, description=text)
    sub.set_defaults(run=run)
    return sub


def _carried_out_by(runs: str) -> Callable[[argparse.Namespace], None]:
    """A function of this package. What is loaded with it stays: it is not swept as often as Python sweeps what is made."""
    gc.disable()
    try:
        function: Callable[[argparse.Namespace], None] = loaded(f"pivrel.cli.{runs}")
        return function
    finally:
        gc.freeze()
        gc.enable()


def _data_option(sub: argparse.ArgumentParser) -> None:
    data = Path(os.environ.get("PIVREL_DATA", "data"))
    sub.add_argument("--data", type=Path, default=data, help="the data folder (default: %(default)s)")


def _model_options(sub: argparse.ArgumentParser) -> None:
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


def _recipe_option(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("recipe", type=Path, metavar="RECIPE")
    _model_options(sub)


def _bake_options(sub: argparse.ArgumentParser) -> None:
    sub.add_argument(
        "-o", "--output", type=Path, required=True, metavar="OUT", help=f"a {', '.join(WRITABLE)} file"
    )
    sub.add_argument(
        "--px-per-m", type=float, required=True, metavar="N", help="pixels per metre of the surface"
    )
    sub.add_argument(
        "--size",
        type=int,
        default=4096,
        metavar="PX",
        help="the longest side of an image (default: %(default)s)",
    )
    which = sub.add_mutually_exclusive_group()
    which.add_argument(
        "--finish", action="append", metavar="NAME",
        help="a finish that is baked; again for more. Without it, all that images that repeat cannot hold",
    )  # fmt: skip
    which.add_argument("--all", action="store_true", help="bake every finish")
    sub.add_argument(
        "--padding",
        type=int,
        default=8,
        metavar="PX",
        help="pixels filled about each piece (default: %(default)s)",
    )
    sub.add_argument(
        "--unfold", choices=["own", "anew"], default="own",
        help="by a finish's own pieces where they lie true (default), or all anew",
    )  # fmt: skip
    sub.add_argument(
        "--height-bits", type=int, choices=[8, 16], default=16, help="of height images (default: %(default)s)"
    )
    sub.add_argument("--plan", action="store_true", help="say what it would make, and make nothing")


def _laying_commands(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    sub = _command(commands, "apply", "laying:apply", "lay a recipe on a model and write the result")
    _recipe_option(sub)
    sub.add_argument(
        "-o", "--output", type=Path, required=True, metavar="OUT", help=f"a {', '.join(WRITABLE)} file"
    )
    sub = _command(
        commands, "bake", "baking:bake_command",
        "lay a recipe on a model and write it with its finishes as images that hold all of their coats",
    )  # fmt: skip
    _recipe_option(sub)
    _bake_options(sub)
    sub = _command(
        commands, "inspect", "inspecting:inspect", "say what a model is made of and what is wrong with it"
    )
    _model_options(sub)
    sub.add_argument("--json", action="store_true")
    sub = _command(commands, "measure", "laying:measure_command", "lay a recipe and print what is measured")
    _recipe_option(sub)
    sub.add_argument("--json", action="store_true")
    sub = _command(commands, "revise", "revising:revise", "carry a recipe over to a newer model")
    _recipe_option(sub)
    sub.add_argument("newer", type=Path, metavar="NEWER", help="the model that takes its place")
    sub.add_argument("-o", "--output", type=Path, required=True, metavar="OUT", help="the new recipe")
    _command(commands, "schema", "schema:schema", "print the recipe's JSON Schema")


def _data_commands(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    _data_option(_command(commands, "demo", "data:demo", "fill the data folder with the demo projects"))
    sub = _command(commands, "serve", "data:serve", "serve the application")
    _data_option(sub)
    sub.add_argument("--host", default="127.0.0.1", help="the address to answer at (default: %(default)s)")
    sub.add_argument(
        "--port", type=port_number, default=8017, help="0 for any that is free (default: %(default)s)"
    )
    sub.add_argument(
        "--token", default=os.environ.get("PIVREL_TOKEN"),
        help="what visitors must know where --host lets other machines in; made up when left out",
    )  # fmt: skip
    sub.add_argument(
        "--empty", action="store_true", help="do not make the built-in materials at the first start"
    )
    sub.add_argument(
        "--log", choices=LEVELS, default="warning",
        help="how much is written down of requests that fail (default: %(default)s)",
    )  # fmt: skip
    for name, text in (
        ("backup", "copy the whole data folder into one file, also while the application is in use"),
        ("check", "look through all data for damage"),
        ("compact", "give the room of what was deleted back to the disk"),
        ("export", "write every project and every material into one ZIP"),
    ):
        sub = _command(commands, name, f"data:{name}", text)
        _data_option(sub)
        if name in ("backup", "export"):
            sub.add_argument("output", type=Path, metavar="FILE")


def build_parser() -> argparse.ArgumentParser:
    """The commands and their options."""
    parser = argparse.ArgumentParser("pivrel", description="Lays tiling materials on models in millimetres.")
    parser.add_argument("--version", action="version", version=f"pivrel {__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    _laying_commands(commands)
    _data_commands(commands)
    return parser


def main(argv: Sequence[str] | None = None) -> int:
    """Runs one command; 0, or 2 with one line on standard error."""
    args = build_parser().parse_args(argv)
    try:
        args.run(args)
    except PivrelError as error:
        return _refused(f"{_about(error, args)}{error}", error.exit_code)
    except MemoryError:
        return _refused("there is not enough memory for this model", 2)
    except OSError as error:
        import tempfile

        from pivrel.store.errors import one_line

        return _refused(one_line(error, error.filename or tempfile.gettempdir()), 2)
    return 0


def _about(error: PivrelError, args: argparse.Namespace) -> str:
    """The file that an error of the core is about, which does not know of any."""
    from pivrel.core.geometry.mesh import MeshError
    from pivrel.core.picks.rules import PickError

    if isinstance(error, PickError):
        return f"{args.recipe}: "
    return f"{args.model}: " if isinstance(error, MeshError) else ""


def _say_what_is_compiled() -> None:
    """Says on standard error when something has to be compiled."""
    import logging

    from pivrel.jobs.compiling import listen

    handler = logging.StreamHandler()
    handler.setFormatter(logging.Formatter("%(message)s"))
    listen(handler)


def _refused(why: str, code: int) -> int:
    print(f"error: {why}", file=sys.stderr)
    return code


if __name__ == "__main__":
    sys.exit(main())
