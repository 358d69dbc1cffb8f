"""Prints the table and writes benchmarks/results.json."""

from __future__ import annotations

import json
import os
import platform
from itertools import chain
from pathlib import Path

from benchmarks.edits import dragging, drawing, edit_to_picture, many_rows
from benchmarks.files import importing, reading
from benchmarks.growth import growth
from benchmarks.kernels import kernels, running_on, topology
from benchmarks.solved import evenness, times
from benchmarks.starting import starting
from benchmarks.unfolding import cutting, unfolding, unfolding_soon
from pivrel.memory import keep_freed_memory

# As the server runs; the references profit from it just as much.
keep_freed_memory()
results = []
TABLE = (
    kernels, topology, running_on, evenness, times, unfolding, unfolding_soon, cutting, reading, importing, edit_to_picture,
    many_rows, dragging, drawing, starting,
)  # fmt: skip
for result in chain.from_iterable(part() for part in TABLE):
    print(result.row(), flush=True)
    results.append(result.json())
grown = []
for found in growth():
    print(found.row(), flush=True)
    grown.append(found.json())
about = {"processors": os.cpu_count(), "machine": platform.machine(), "python": platform.python_version()}
path = Path(__file__).parent / "results.json"
path.write_text(json.dumps({"on": about, "results": results, "growth": grown}, indent=1) + "\n")
print(f"written to {path}", flush=True)
# One of the libraries that are measured leaves an error behind as Python ends, which would be told as ours.
os._exit(0)
