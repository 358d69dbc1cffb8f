"""The commands that work on a data folder: demo, serve, backup, check, compact, export."""

from __future__ import annotations

import argparse
import logging
import subprocess
import sys
import threading
from collections.abc import Iterator

from pivrel.cli.files import CommandError, new_file
from pivrel.jobs import memory
from pivrel.parent import environment
from pivrel.project.housekeeping import faults, write_everything
from pivrel.store.database import FILE, Database


def demo(args: argparse.Namespace) -> None:
    """Fills the data folder with the library and the demo projects; what is there stays as it is."""
    from pivrel.demo import fill

    for line in fill(Database(args.data)):
        print(line, flush=True)


def serve(args: argparse.Namespace) -> None:
    """Serves the application until it is stopped."""
    from pivrel.web.server import run

    logging.basicConfig(level=args.log.upper(), format="%(asctime)s %(levelname)s %(name)s: %(message)s")
    first = (lambda _: ()) if args.empty else _first_start
    run(args.data, args.host, args.port, args.token, first, _load_beside)


def _first_start(database: Database) -> Iterator[str]:
    """Fills the library of a new data folder, in lines; what artists use is compiled beside, and after it."""
    from pivrel.store.library import fill_at_first_start

    for number, line in enumerate(fill_at_first_start(database)):
        if number == 0:
            subprocess.Popen(
                [sys.executable, "-m", "pivrel.cli.warming", "--beside"],
                stdin=subprocess.DEVNULL,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
                env=environment(),
            )
        yield line


def _load_beside() -> None:
    """Loads what the first minute needs while the server answers already, and ends with it."""

    def load() -> None:
        from pivrel.demo import loading

        loading.load()

    threading.Thread(target=load, name="loading", daemon=True).start()


def stored(args: argparse.Namespace) -> Database:
    """The database of a data folder that must be there."""
    if not (args.data / FILE).is_file():
        raise CommandError(args.data, "there is no data of Pivrel in this folder")
    return Database(args.data)


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
    projects, materials = write_everything(stored(args), new_file(args.output))
    print(f"{args.output}: {projects} projects, {materials} materials")
