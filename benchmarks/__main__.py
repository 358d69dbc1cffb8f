"""Prints the table and writes benchmarks/results.json."""

from __future__ import annotations

import json
import os
import platform
from itertools import chain
from pathlib import Path

from benchmarks.edits import edit_to_picture
from benchmarks.files import reading
from benchmarks.kernels import kernels, topology
from pivrel.memory import keep_freed_memory

# As the server runs; the references profit from it just as much.
keep_freed_memory()
results = []
for result in chain(kernels(), topology(), reading(), edit_to_picture()):
    print(result.row(), flush=True)
    results.append(result.json())
about = {"processors": os.cpu_count(), "machine": platform.machine(), "python": platform.python_version()}
path = Path(__file__).parent / "results.json"
path.write_text(json.dumps({"on": about, "results": results}, indent=1) + "\n")
print(f"written to {path}")
