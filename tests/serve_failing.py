"""`pivrel serve` for tests of the page: a finish called "Struck" cannot be laid, and one called "Unmeasured" not measured."""

import sys

import pytest

from pivrel.cli.main import main
from pivrel.core import schedule

COMMAND = [sys.executable, "-c", "from tests.serve_failing import serve; serve()"]


def failing(real, name):
    """A function that fails for the finish of a name."""

    def wrapped(*args):
        if any(getattr(arg, "name", None) == name for arg in args):
            raise ZeroDivisionError("made by the test")
        return real(*args)

    return wrapped


def serve():
    """Serves with the arguments of the command line."""
    with pytest.MonkeyPatch.context() as patch:
        for stage, name in (("lay", "Struck"), ("measure", "Unmeasured")):
            patch.setattr(schedule, stage, failing(getattr(schedule, stage), name))
        sys.exit(main())
