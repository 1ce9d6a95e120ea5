"""Imports point inwards: web → store, formats → core; the core imports none of them."""

from __future__ import annotations

import ast
from pathlib import Path

SOURCE = Path(__file__).parents[2] / "src" / "bindu"
ALLOWED = {
    "core": {"core"},
    "formats": {"core", "formats"},
    "demo": {"core", "demo"},
    "store": {"core", "store"},
    "web": {"core", "demo", "formats", "store", "web"},
    "run": {"run", "store"},
}
CORE_FOLDERS = (
    "curves",
    "scene",
    "geometry",
    "nodes",
    "formula",
    "steps",
    "graph",
    "evaluation",
    "placing",
    "clips",
    "drivers",
    "edits",
    "account",
    "checks",
    "comparing",
)
"""Each imports only those above it, and ``refusal``, which all may use."""
CORE_LIBRARIES = {"numpy", "scipy", "networkx", "lark"}
FOREIGN = {"flask", "sqlalchemy", "pydantic", "flask_openapi3", "pymysql", "alembic", "requests"}


def imported(path: Path) -> set[str]:
    """The modules that a file imports."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {name.name for name in node.names}
        elif isinstance(node, ast.ImportFrom):
            found.add(node.module or "")
    return found


def test_imports_point_inwards() -> None:
    for layer, allowed in ALLOWED.items():
        files = list((SOURCE / layer).rglob("*.py"))
        assert files
        for path in files:
            for module in imported(path):
                if module.startswith("bindu."):
                    assert module.split(".")[1] in allowed, f"{path} imports {module}"


def test_the_core_touches_no_web_database_file_or_network() -> None:
    banned = FOREIGN | {"socket", "pathlib", "os", "sqlite3", "urllib", "pickle"}
    for path in (SOURCE / "core").rglob("*.py"):
        roots = {module.split(".")[0] for module in imported(path)}
        assert not roots & banned, path
        assert " eval(" not in path.read_text()


def test_each_folder_of_the_core_imports_only_those_above_it() -> None:
    core = SOURCE / "core"
    assert {path.name for path in core.iterdir() if path.name[0] != "_"} == {
        *CORE_FOLDERS,
        "refusal.py",
    }
    for place, folder in enumerate(CORE_FOLDERS):
        allowed = {*CORE_FOLDERS[: place + 1], "refusal"}
        for path in (core / folder).rglob("*.py"):
            for module in imported(path):
                if module.startswith("bindu.core."):
                    assert module.split(".")[2] in allowed, f"{path} imports {module}"
