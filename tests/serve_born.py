"""`pivrel serve` for tests of the page, which are not about how jobs begin: its jobs are born (`nursery`)."""

import sys

import pytest

from pivrel.cli.main import main
from pivrel.jobs import spare
from tests.nursery import started


def serve():
    """Serves with the arguments of the command line; no process stands ready, for none takes long to be born."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(spare, "started", started)
        patch.setattr(spare.Spare, "keep", lambda self: None)
        sys.exit(main())
