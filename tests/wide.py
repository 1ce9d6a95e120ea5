"""How widely tests look: on every run what there is time for, all of it with ``./test wide``."""

from __future__ import annotations

import os

import pytest

WIDE = os.environ.get("BINDU_WIDE") == "1"

only_wide = pytest.mark.skipif(not WIDE, reason="./test wide runs it")
"""A test of a by-way: what it does is held by the core's, the server's or components' tests too."""


def cases(usual: int, wide: int) -> int:
    """How many made-up cases are tried."""
    return wide if WIDE else usual
