"""What the fork server of `nursery` loads: everything that a job needs, its compiled code and the CAD libraries too.

Of numba's threading layers one alone may have run in a process that is forked.
"""

from typing import Any

import numba

from pivrel.formats.model import ifc, step  # noqa: F401
from pivrel.jobs import bake_model, worker  # noqa: F401
from pivrel.jobs.preparing import prepare

config: Any = numba.config
config.THREADING_LAYER = "workqueue"
prepare(lambda: True)
