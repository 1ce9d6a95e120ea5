"""The process that reads or writes a layer: it takes a file and leaves a file.

The library's own reader of binary layers is not made for damaged files: what it is given to read,
it reads in a process that is bounded in time and memory and may die without harm.
"""

from __future__ import annotations

import json
import resource
import sys
from pathlib import Path

import numpy as np

from bindu.formats.usd.found import Refused
from bindu.formats.usd.reading import layer_arrays
from bindu.formats.usd.writing import write_layer

MEMORY = 4 * 2**30
"""Bytes that reading may take."""


def read(source: str, target: str) -> None:
    """Reads a layer, and leaves its transforms as arrays; or what is wrong with it."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    try:
        told, arrays = layer_arrays(source)
    except Refused as refused:
        told, arrays = {"refused": str(refused)}, {}
    except Exception as error:
        # The library's errors are of its own kinds; all of them mean that it cannot be read.
        told, arrays = {"refused": f"it cannot be read: {str(error).strip()[:200]}"}, {}
    np.savez(target, told=np.array(json.dumps(told)), **arrays)


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
