"""One name for one thing: in Python, and among the types that the front end shares."""

from __future__ import annotations

import ast
import re
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCE, FRONT_END = ROOT / "src" / "bindu", ROOT / "frontend" / "src"


def test_no_two_classes_have_one_name() -> None:
    places: dict[str, list[str]] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ClassDef):
                places.setdefault(node.name, []).append(path.name)
    assert len(places) > 300
    assert {name: found for name, found in places.items() if len(found) > 1} == {}


def test_no_two_types_that_files_of_the_front_end_share_have_one_name() -> None:
    places: dict[str, list[str]] = {}
    for path in sorted(FRONT_END.rglob("*.ts*")):
        if path.name != "schema.ts":
            for name in re.findall(r"(?m)^export (?:interface|class) (\w+)", path.read_text()):
                places.setdefault(name, []).append(path.name)
    assert len(places) > 50
    assert {name: found for name, found in places.items() if len(found) > 1} == {}
