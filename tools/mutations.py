"""One-line faults of a module: a sign, a comparison, a bound, a condition, each as a careless hand would leave it."""

from __future__ import annotations

import ast
import random
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path

COMPARED = {
    ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "==",
    ast.Is: "is not", ast.IsNot: "is", ast.In: "not in", ast.NotIn: "in",
}  # fmt: skip
COMPUTED = {
    ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*", ast.FloorDiv: "*", ast.Mod: "*", ast.BitAnd: "|",
    ast.BitOr: "&", ast.LShift: ">>", ast.RShift: "<<",
}  # fmt: skip
NAMED = {"min": "max", "max": "min", "minimum": "maximum", "maximum": "minimum", "any": "all", "all": "any",
         "argmin": "argmax", "argmax": "argmin", "sin": "cos", "cos": "sin", "floor": "ceil", "ceil": "floor"}  # fmt: skip


@dataclass(frozen=True)
class Fault:
    """A fault in a file: the text of one line, and the text in its place."""

    file: str
    line: int
    before: str
    after: str

    @property
    def name(self) -> str:
        """The fault in a line."""
        return f"{self.file}:{self.line}: {self.before.strip()} -> {self.after.strip()}"

    def within(self, text: str) -> Fault | None:
        """The same fault in a text whose lines have moved since: the nearest such line; None where it is rewritten."""
        there = [at for at, line in enumerate(text.split("\n"), 1) if line == self.before]
        return replace(self, line=min(there, key=lambda at: abs(at - self.line))) if there else None

    def put_into(self, text: str) -> str:
        """The text of the file with the fault."""
        lines = text.split("\n")
        assert lines[self.line - 1] == self.before
        lines[self.line - 1] = self.after
        return "\n".join(lines)


def faults_of(path: Path, name: str) -> list[Fault]:
    """All faults that can be made in a module, of those that stay within one line."""
    text = path.read_text()
    lines = text.split("\n")
    out = {}
    for start, end, line, instead in _places(ast.parse(text), lines):
        before = lines[line - 1]
        # The parser counts bytes.
        raw = before.encode()
        after = (raw[:start] + instead.encode() + raw[end:]).decode()
        if after != before and _parses(lines, line, after):
            out[line, after] = Fault(name, line, before, after)
    return list(out.values())


def _parses(lines: list[str], line: int, after: str) -> bool:
    try:
        ast.parse("\n".join([*lines[: line - 1], after, *lines[line:]]))
    except SyntaxError:
        return False
    return True


def _skipped(tree: ast.AST) -> set[int]:
    """Nodes that no test could meet: annotations, and decorators, whose options are for speed."""
    out: set[int] = set()
    for node in ast.walk(tree):
        away: list[ast.AST | None] = []
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            away = [node.returns, *node.decorator_list]
            away += [
                arg.annotation for arg in (*node.args.args, *node.args.kwonlyargs, *node.args.posonlyargs)
            ]
        elif isinstance(node, ast.AnnAssign):
            away = [node.annotation]
        elif isinstance(node, ast.ClassDef):
            away = [*node.decorator_list]
        out |= {id(inner) for held in away if held is not None for inner in ast.walk(held)}
    return out


def _places(tree: ast.AST, lines: list[str]) -> Iterator[tuple[int, int, int, str]]:
    """(first byte, end, line, what stands there instead) of each fault."""
    skipped = _skipped(tree)
    for node in ast.walk(tree):
        if id(node) in skipped or not hasattr(node, "lineno"):
            continue
        if isinstance(node, ast.Compare):
            for left, operator, right in zip(
                [node.left, *node.comparators], node.ops, node.comparators, strict=False
            ):
                yield from _between(left, right, COMPARED[type(operator)], lines)
        elif isinstance(node, ast.BinOp) and type(node.op) in COMPUTED:
            yield from _between(node.left, node.right, COMPUTED[type(node.op)], lines)
        elif isinstance(node, ast.BoolOp):
            instead = "or" if isinstance(node.op, ast.And) else "and"
            for left, right in zip(node.values, node.values[1:], strict=False):
                yield from _between(left, right, instead, lines)
        elif isinstance(node, ast.UnaryOp) and node.lineno == node.operand.lineno:
            yield node.col_offset, node.operand.col_offset, node.lineno, ""
        elif isinstance(node, ast.Constant) and isinstance(node.value, bool | int | float):
            yield node.col_offset, node.end_col_offset or 0, node.lineno, _other(node.value)
        elif isinstance(node, ast.Name | ast.Attribute):
            name = node.id if isinstance(node, ast.Name) else node.attr
            if name in NAMED and node.end_lineno == node.lineno:
                end = node.end_col_offset or 0
                yield end - len(name), end, node.lineno, NAMED[name]


def _other(value: bool | float) -> str:
    if isinstance(value, bool):
        return str(not value)
    return str(value + 1) if value in (0, 1) or isinstance(value, int) else repr(value * 2)


def _between(
    left: ast.AST, right: ast.AST, instead: str, lines: list[str]
) -> Iterator[tuple[int, int, int, str]]:
    """An operator that stands on the line where its left side ends, and its right side begins."""
    line, end = left.end_lineno, left.end_col_offset  # type: ignore[attr-defined]
    if line != right.lineno:  # type: ignore[attr-defined]
        return
    raw = lines[line - 1].encode()
    written = raw[end : right.col_offset].decode()  # type: ignore[attr-defined]
    operator = written.strip(" ()")
    if operator:
        at = end + len(written.split(operator)[0].encode())
        yield at, at + len(operator.encode()), line, instead


def drawn(root: Path, packages: dict[str, int], seed: int) -> list[Fault]:
    """As many faults of each package as are asked for, no two on one line; the same for a seed and a text."""
    out = []
    for package, count in packages.items():
        chance = random.Random(f"{seed} {package}")
        by_line: dict[tuple[str, int], list[Fault]] = {}
        for path in sorted((root / package).rglob("*.py")):
            for fault in faults_of(path, str(path.relative_to(root))):
                by_line.setdefault((fault.file, fault.line), []).append(fault)
        for place in chance.sample(sorted(by_line), count):
            out.append(chance.choice(by_line[place]))
    return out
