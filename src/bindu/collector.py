"""How often Python looks for garbage."""

from __future__ import annotations

import gc


def calm_collector() -> None:
    """Lets Python look for cyclic garbage less often: a graph of thousands of nodes is data, not
    garbage, and looking through it at every few hundred new objects costs a third of an
    evaluation. What is there already is looked through no more."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 20)
