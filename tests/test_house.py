"""The house: no file of the window imports itself through others."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from graphlib import TopologicalSorter
from pathlib import Path

import zinc_margin

ROOT = Path(zinc_margin.__file__).parent
MODULES = {
    ".".join(("zinc_margin", *path.relative_to(ROOT).with_suffix("").parts)): path
    for path in (ROOT / "desktop").rglob("*.py")
}


def imported(node: ast.AST) -> Iterator[str]:
    """Every module that is imported when the program runs, also inside functions."""
    for child in ast.iter_child_nodes(node):
        if isinstance(child, ast.If) and ast.unparse(child.test) == "TYPE_CHECKING":
            continue
        if isinstance(child, ast.ImportFrom) and child.module:
            for name in child.names:
                whole = f"{child.module}.{name.name}"
                yield whole if whole in MODULES else child.module
        yield from imported(child)


def test_the_files_of_the_window_import_each_other_in_one_direction():
    graph = {
        name: {other for other in imported(ast.parse(path.read_text())) if other in MODULES}
        for name, path in MODULES.items()
    }
    order = list(TopologicalSorter(graph).static_order())  # raises CycleError for a cycle
    assert len(order) == len(MODULES) > 60
