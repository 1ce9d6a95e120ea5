"""Binary answers taken apart."""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np


def unpacked(content: bytes) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    """The header of sampled numbers, and the arrays that came along."""
    (length,) = struct.unpack_from("<I", content)
    head = json.loads(content[4 : 4 + length])
    arrays = {}
    for block in head["blocks"]:
        if "offset" in block:
            count = block["frames"] * block["width"]
            start = 4 + length + block["offset"]
            arrays[block["want"]] = np.frombuffer(content, "<f4", count, start)
    return head, arrays
