"""300 broken copies of a good file of each format: read or refused in one sentence, never a crash or a hang.

The libraries that read STEP and IFC do come down on some. The application runs them in a process of their own, and
whoever opened the file gets a sentence.
"""

import subprocess
import sys

import pytest

from pivrel.cli.main import main
from pivrel.formats.registry import readable
from tests.formats.hostile import broken, good, outcomes, timed
from tests.lengths import at_length

COUNT = at_length(12, 300)
FORMATS = ["a.obj", "a.gltf", "a.glb", "a.stl", "text.stl", "a.ply", "text.ply", "a.ifc", "a.step"]


def in_a_process_of_its_own(name):
    """What reading them comes to: number, how, and seconds, where the reader can bring its process down."""
    run = subprocess.run(
        [sys.executable, "-m", "tests.formats.hostile", name, str(COUNT)],
        capture_output=True,
        text=True,
        check=True,
    )
    rows = (line.split() for line in run.stdout.splitlines() if line[:1].isdigit())
    return [(int(number), how, float(seconds)) for number, how, seconds in rows]


@pytest.mark.slow
@pytest.mark.parametrize("name", FORMATS)
def test_broken_files(name, tmp_path, capsys):
    rows = in_a_process_of_its_own(name) if readable(name).aside else list(timed(outcomes(name, COUNT)))
    assert len(rows) == COUNT
    assert max(seconds for _, _, seconds in rows) < 120, "none of them hangs, not even on a slow machine"
    found = {how for _, how, _ in rows}
    assert "refused" in found and not found & {"raised", "hung"}
    down = [number for number, how, _ in rows if how == "down"]
    assert not down or readable(name).aside
    # As a user meets it: one line, exit 2, and nothing left behind. What the CAD libraries make of a broken
    # file can depend on what lies in their memory; then it is read, and the command itself never comes down.
    refused = next(number for number, how, _ in rows if how == "refused")
    for number in (refused, *down[:2], None):
        (tmp_path / name).write_bytes(good(name)[:30] if number is None else broken(name, number))
        before = sorted(tmp_path.iterdir())
        code = main(["inspect", str(tmp_path / name)])
        told = capsys.readouterr().err
        assert code == 2 or (code == 0 and number is not None and readable(name).aside)
        if code == 2:
            assert told.startswith(f"error: {tmp_path / name}: ") and told.count("\n") == 1
        assert sorted(tmp_path.iterdir()) == before
