"""Which tests reach a fault: by the functions they call, and by who calls a compiled kernel."""

from __future__ import annotations

import ast
from collections import defaultdict
from pathlib import Path
from typing import Any

from tools.mutation.sites import Mutant

__all__ = ["Reach", "importers"]

_CORE = "nest_crate/core"


def _module_path(module: str) -> str:
    return module.replace(".", "/") + ".py"


def importers(root: Path) -> dict[str, set[str]]:
    """For every file of the core, the files that import it, also by way of others."""
    direct: dict[str, set[str]] = defaultdict(set)
    for path in (root / _CORE).rglob("*.py"):
        own = str(path.relative_to(root))
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ImportFrom) and node.module:
                direct[_module_path(node.module)].add(own)
                for name in node.names:
                    direct[_module_path(f"{node.module}.{name.name}")].add(own)
    result: dict[str, set[str]] = {}
    for path_name in list(direct):
        seen: set[str] = set()
        waiting = [path_name]
        while waiting:
            for other in direct.get(waiting.pop(), ()):
                if other not in seen:
                    seen.add(other)
                    waiting.append(other)
        result[path_name] = seen
    return result


class Reach:
    """Tests by the functions that they call."""

    def __init__(self, root: Path, tests: dict[str, dict[str, Any]]) -> None:
        self.seconds = {test: entry["seconds"] for test, entry in tests.items()}
        self.by_function: dict[str, set[str]] = defaultdict(set)
        self.by_file: dict[str, set[str]] = defaultdict(set)
        for test, entry in tests.items():
            for function in entry["functions"]:
                self.by_function[function].add(test)
                self.by_file[function.split(":")[0]].add(test)
        # Which functions name which others, as kernels are called by name.
        self.naming: dict[str, set[str]] = defaultdict(set)
        for path in (root / _CORE).rglob("*.py"):
            own = str(path.relative_to(root))
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.FunctionDef):
                    for inner in ast.walk(node):
                        name = inner.id if isinstance(inner, ast.Name) else None
                        name = inner.attr if isinstance(inner, ast.Attribute) else name
                        if name:
                            self.naming[name].add(f"{own}:{node.name}")

    def _of_function(self, key: str, seen: set[str]) -> set[str]:
        if key in seen:
            return set()
        seen.add(key)
        tests = set(self.by_function.get(key, ()))
        if not tests:
            for caller in self.naming.get(key.split(":")[1], ()):
                tests |= self._of_function(caller, seen)
        return tests

    def tests_of(self, mutant: Mutant) -> list[str]:
        """Tests that reach it: those of files named like its own first, then the quickest."""
        tests: set[str] = set()
        if mutant.function:
            tests = self._of_function(f"{mutant.path}:{mutant.function}", set())
        if not tests:
            tests = self.by_file.get(mutant.path, set())
        stem = Path(mutant.path).stem.rstrip("s")[:6]
        return sorted(tests, key=lambda test: (stem not in test, self.seconds[test]))
