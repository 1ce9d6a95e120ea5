"""How widely tests look: on every run what there is time for, all of it with ``./test wide``."""

from __future__ import annotations

import os
from typing import TypeVar

import pytest

Given = TypeVar("Given")

WIDE = os.environ.get("BINDU_WIDE") == "1"

only_wide = pytest.mark.skipif(not WIDE, reason="./test wide runs it")
"""A test of a by-way: what it does is held by the core's, the server's or components' tests too."""


def cases(usual: Given, wide: Given) -> Given:
    """How many made-up cases are tried, or which."""
    return wide if WIDE else usual
