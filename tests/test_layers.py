"""Imports point inwards: web → store, formats → core; the core imports none of them."""

from __future__ import annotations

import ast
import importlib
import re
from pathlib import Path

import networkx as nx
import pytest

SOURCE = Path(__file__).parents[1] / "src" / "bindu"
ALLOWED = {
    "core": {"core"},
    "formats": {"core", "formats"},
    "demo": {"core", "demo"},
    "receiver": {"core", "receiver"},
    "store": {"core", "store"},
    "web": {"collector", "core", "demo", "formats", "receiver", "store", "web"},
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
    "surface",
    "edits",
    "account",
    "checks",
    "comparing",
)
"""Each imports only those above it."""
CORE_FOR_ALL = {"refusal", "counted"}
"""What all of them may use."""
CORE_LIBRARIES = {"numpy", "scipy", "networkx", "lark"}
FRONT_END = Path(__file__).parents[1] / "frontend" / "src"
FRONT_END_FOLDERS = (
    "api",
    "state",
    "shared",
    "commands",
    "guide",
    "first",
    "parts",
    "ledger",
    "kit",
    "view",
    "time",
    "bench",
    "home",
    "wiring",
    "stops",
    "checks",
    "deliver",
    "app",
)
"""Each imports only those above it."""
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
        *(f"{name}.py" for name in CORE_FOR_ALL),
    }
    for place, folder in enumerate(CORE_FOLDERS):
        allowed = {*CORE_FOLDERS[: place + 1], *CORE_FOR_ALL}
        for path in (core / folder).rglob("*.py"):
            for module in imported(path):
                if module.startswith("bindu.core."):
                    assert module.split(".")[2] in allowed, f"{path} imports {module}"


def front_end_imports() -> list[tuple[str, str]]:
    """Which file of the front end imports which, both from its source folder on."""
    found = []
    for path in sorted(FRONT_END.rglob("*.ts*")):
        for wanted in re.findall(r'(?:from|import\(?)\s*"(\.[^"]+)"', path.read_text()):
            if wanted.endswith("?raw"):
                # A text that is read, not a module.
                assert (path.parent / wanted.removesuffix("?raw")).is_file(), wanted
                continue
            target = (path.parent / wanted).resolve()
            for ending in (".ts", ".tsx", ""):
                imported = target.with_name(target.name + ending)
                if imported.is_file():
                    found.append((_inside(path), _inside(imported)))
                    break
            else:
                raise AssertionError(f"{path} imports {wanted}, which is not there")
    return found


def _inside(path: Path) -> str:
    return path.relative_to(FRONT_END).as_posix()


def test_each_folder_of_the_front_end_imports_only_those_above_it() -> None:
    folders = {path.name for path in FRONT_END.iterdir() if path.is_dir()}
    assert folders == set(FRONT_END_FOLDERS)
    for one, other in front_end_imports():
        if "/" in one and "/" in other:
            place, above = (FRONT_END_FOLDERS.index(p.split("/")[0]) for p in (one, other))
            assert above <= place, f"{one} imports {other}"


def test_no_files_of_the_front_end_import_each_other_in_a_circle() -> None:
    graph: nx.DiGraph[str] = nx.DiGraph(front_end_imports())
    assert not [group for group in nx.strongly_connected_components(graph) if len(group) > 1]


@pytest.mark.parametrize("folder", ["benchmarks", "scripts"])
def test_what_runs_by_hand_still_finds_what_it_imports(folder: str) -> None:
    files = sorted((SOURCE.parents[1] / folder).glob("*.py"))
    assert files
    for path in files:
        importlib.import_module(f"{folder}.{path.stem}")
