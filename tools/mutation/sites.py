"""Where a fault can be put: numbers, operators and comparisons of the signal code."""

from __future__ import annotations

import ast
import random
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

__all__ = ["Mutant", "sites_of"]

_FACTORS = (0.5, 0.75, 0.9, 0.95, 1.05, 1.1, 1.25, 1.5)
_OPERATORS: dict[type[ast.operator], str] = {
    ast.Add: "-",
    ast.Sub: "+",
    ast.Mult: "/",
    ast.Div: "*",
    ast.FloorDiv: "*",
    ast.Pow: "*",
}
_COMPARISONS: dict[type[ast.cmpop], str] = {
    ast.Lt: "<=",
    ast.LtE: "<",
    ast.Gt: ">=",
    ast.GtE: ">",
    ast.Eq: "!=",
    ast.NotEq: "==",
}


@dataclass(frozen=True)
class Mutant:
    """One fault: what stands at ``start:end`` (offsets in the file) is written as ``new``."""

    path: str
    line: int
    function: str
    """Name of the innermost function, or "" at module level."""
    compiled: bool
    """Whether that function is a compiled kernel."""
    start: int
    end: int
    old: str
    new: str

    def applied_to(self, text: str) -> str:
        return text[: self.start] + self.new + text[self.end :]


def _is_kernel(function: ast.FunctionDef) -> bool:
    return any("njit" in ast.unparse(decorator) for decorator in function.decorator_list)


class _Finder(ast.NodeVisitor):
    def __init__(self, path: str, text: str, chance: random.Random) -> None:
        self.path, self.text, self.chance = path, text, chance
        self.found: list[Mutant] = []
        self.functions: list[ast.FunctionDef] = []
        self.lines = [0]
        for line in text.splitlines(keepends=True):
            self.lines.append(self.lines[-1] + len(line))

    def offset(self, line: int, column: int) -> int:
        begin = self.lines[line - 1]
        return begin + len(self.text[begin:].encode()[:column].decode())

    def add(self, line: int, start: int, end: int, new: str) -> None:
        inner = self.functions[-1] if self.functions else None
        self.found.append(
            Mutant(
                self.path,
                line,
                inner.name if inner else "",
                any(_is_kernel(function) for function in self.functions),
                start,
                end,
                self.text[start:end],
                new,
            )
        )

    def visit_FunctionDef(self, node: ast.FunctionDef) -> None:
        # Decorators and annotations are no signal code.
        self.functions.append(node)
        for default in [*node.args.defaults, *node.args.kw_defaults]:
            if default is not None:
                self.visit(default)
        for statement in node.body:
            self.visit(statement)
        self.functions.pop()

    def visit_AnnAssign(self, node: ast.AnnAssign) -> None:
        if node.value is not None:
            self.visit(node.value)

    def visit_Raise(self, node: ast.Raise) -> None:
        """What an error says is no signal."""

    def visit_JoinedStr(self, node: ast.JoinedStr) -> None:
        """Texts are no signal."""

    def visit_Constant(self, node: ast.Constant) -> None:
        value = node.value
        if isinstance(value, bool) or not isinstance(value, int | float):
            return
        assert node.end_lineno is not None
        assert node.end_col_offset is not None
        start = self.offset(node.lineno, node.col_offset)
        end = self.offset(node.end_lineno, node.end_col_offset)
        if isinstance(value, int):
            new = repr(value + 1) if value == 0 or self.chance.random() < 0.5 else repr(value - 1)
        else:
            new = repr(value * self.chance.choice(_FACTORS)) if value else "0.1"
        self.add(node.lineno, start, end, new)

    def between(self, left: ast.expr, right: ast.expr, symbols: tuple[str, ...], new: str) -> None:
        """Replace the operator that stands between two operands."""
        assert left.end_lineno is not None
        assert left.end_col_offset is not None
        start = self.offset(left.end_lineno, left.end_col_offset)
        end = self.offset(right.lineno, right.col_offset)
        gap = self.text[start:end]
        for symbol in symbols:
            if symbol in gap and "#" not in gap:
                at = start + gap.index(symbol)
                self.add(left.end_lineno, at, at + len(symbol), new)
                return

    def visit_BinOp(self, node: ast.BinOp) -> None:
        new = _OPERATORS.get(type(node.op))
        if new is not None:
            self.between(node.left, node.right, ("**", "//", "+", "-", "*", "/"), new)
        self.generic_visit(node)

    def visit_Compare(self, node: ast.Compare) -> None:
        new = _COMPARISONS.get(type(node.ops[0]))
        if new is not None:
            self.between(node.left, node.comparators[0], ("<=", ">=", "==", "!=", "<", ">"), new)
        self.generic_visit(node)


def sites_of(root: Path, folders: list[str], chance: random.Random) -> Iterator[Mutant]:
    """Every place below ``root``/``folders`` where a fault can be put, with one fault each."""
    for folder in folders:
        for path in sorted((root / folder).rglob("*.py")):
            text = path.read_text()
            finder = _Finder(str(path.relative_to(root)), text, chance)
            finder.visit(ast.parse(text))
            yield from finder.found
