"""Which tests reach a line: by what was measured while they ran, and, where a line is compiled, by who calls it."""

from __future__ import annotations

import ast
from collections import defaultdict
from dataclasses import dataclass, field
from pathlib import Path

from coverage import CoverageData

PUBLISHED = "tests.test_recipe.test_the_published_schema_is_the_codes_own"
"""Meets what the recipe's models state as their modules are read: it compares the schema that they publish."""


@dataclass
class Function:
    """A function of the package: its lines, whether it is compiled, and the lines on which it names others."""

    file: str
    name: str
    first: int
    last: int
    compiled: bool
    names: dict[str, set[int]] = field(default_factory=lambda: defaultdict(set))


def functions_of(root: Path) -> list[Function]:
    """Every function of a package; a method under its own name."""
    out = []
    for path in sorted(root.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                marks = {n.id for d in node.decorator_list for n in ast.walk(d) if isinstance(n, ast.Name)}
                found = Function(
                    str(path.relative_to(root)),
                    node.name,
                    node.lineno,
                    node.end_lineno or 0,
                    "kernel" in marks,
                )
                for inner in ast.walk(node):
                    name = getattr(inner, "id", None) or getattr(inner, "attr", None)
                    if isinstance(name, str):
                        found.names[name].add(inner.lineno)  # type: ignore[attr-defined]
                out.append(found)
    return out


class Reaching:
    """What was measured, asked line by line. data: of a run whose contexts are test functions."""

    def __init__(self, root: Path, data: CoverageData) -> None:
        self.root = root
        self.functions = functions_of(root)
        self.by_file = {Path(file).relative_to(root): file for file in data.measured_files()
                        if root in Path(file).parents}  # fmt: skip
        self.data = data
        self._lines: dict[str, dict[int, set[str]]] = {}

    def of_line(self, file: str, line: int) -> set[str]:
        """The tests that reach a line; those that reach its module where it runs as the module is read."""
        within = [f for f in self.functions if f.file == file and f.first <= line <= f.last]
        if within and within[-1].compiled:
            return self._callers(within[-1], set())
        own = self._measured(file).get(line, set())
        if own:
            return own
        if within:
            # Of a statement of many lines the first is measured.
            return set().union(*(self._measured(file).get(n, set()) for n in range(within[-1].first, line)))
        stated = {PUBLISHED} if file.startswith("recipe/") else set()
        return stated.union(*self._measured(file).values(), *(
            self._callers(f, set()) for f in self.functions if f.file == file and f.compiled
        ))  # fmt: skip

    def _measured(self, file: str) -> dict[int, set[str]]:
        if file not in self._lines:
            held = self.by_file.get(Path(file))
            contexts = self.data.contexts_by_lineno(held) if held else {}
            self._lines[file] = {line: {c for c in found if c} for line, found in contexts.items()}
        return self._lines[file]

    def _callers(self, kernel: Function, met: set[str]) -> set[str]:
        """The tests that reach a line which names a kernel, or a kernel that names it."""
        out: set[str] = set()
        for other in self.functions:
            if kernel.name in other.names and other is not kernel:
                key = f"{other.file}:{other.name}"
                if other.compiled and key not in met:
                    out |= self._callers(other, met | {key})
                elif not other.compiled:
                    lines = self._measured(other.file)
                    out |= set().union(*(lines.get(line, set()) for line in other.names[kernel.name]))
        return out
