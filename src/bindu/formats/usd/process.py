"""The process that reads or writes a layer: it takes a file and leaves a file.

The library's own reader of binary layers is not made for damaged files: what it is given to read,
it reads in a process that is bounded in time and memory and may die without harm.
"""

from __future__ import annotations

import json
import re
import resource
import sys
from pathlib import Path

import numpy as np

from bindu.formats.usd.found import Refused
from bindu.formats.usd.reading import layer_arrays
from bindu.formats.usd.writing import write_layer

MEMORY, FOR_A_BYTE = 3 * 2**29, 64
"""Bytes that reading may take, and how many more for each of the file: a damaged one may ask for
anything."""


def read(source: str, target: str) -> None:
    """Reads a layer, and leaves its transforms as arrays; or what is wrong with it."""
    most = MEMORY + FOR_A_BYTE * Path(source).stat().st_size
    resource.setrlimit(resource.RLIMIT_AS, (most, resource.getrlimit(resource.RLIMIT_AS)[1]))
    try:
        told, arrays = layer_arrays(source)
    except Refused as refused:
        told, arrays = {"refused": str(refused)}, {}
    except Exception as error:
        # The library's errors are of its own kinds; all of them mean that it cannot be read.
        told, arrays = {"refused": _reason(error)}, {}
    np.savez(target, told=np.array(json.dumps(told)), **arrays)


def _reason(error: Exception) -> str:
    """An error of the library in words: the place in the text that it names, and what is there."""
    try:
        text = str(error)
    except UnicodeDecodeError as odd:
        # It quotes the bytes of the file, which need not be text.
        text = bytes(odd.object).decode(errors="replace")
    found = re.search(r"\.usda:(\d+):(\d+): ([^\n]*)", text)
    if not found:
        return "it cannot be read: its parts do not fit together, or it is cut off."
    line, column, what = found.groups()
    what = re.sub(
        "(parse error matching|Error parsing) .*? at '", "something else is expected at '", what
    )
    return f"line {line}, column {column}: {what.strip(chr(39))[:160]}"


def write(source: str, target: str) -> None:
    """Writes a layer from arrays."""
    with np.load(source) as given:
        told = json.loads(str(given["told"]))
        arrays = {name: given[name] for name in given.files if name != "told"}
    write_layer(told, arrays, target)


if __name__ == "__main__":
    way, source, target = sys.argv[1:4]
    assert Path(source).exists()
    {"read": read, "write": write}[way](source, target)
