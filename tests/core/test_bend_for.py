"""By how much something is bent to be as long as is wanted, found again with SciPy."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import brentq

from bindu.core.curves.model import Array
from bindu.core.geometry.bend_for import bend_for

COUNT = 300


class Chains:
    """Chains in a plane whose segments turn from its line by shares of an angle."""

    def __init__(self, segments: int, most: float) -> None:
        random = np.random.default_rng(segments)
        self.lengths = random.uniform(0.05, 1.0, (segments, COUNT))
        self.shares = random.uniform(-1.0, 1.0, (segments, COUNT))
        self.most = np.full(COUNT, most)
        self.asked = 0

    def far(self, bend: Array) -> Array:
        """How far the end is out."""
        self.asked += 1
        along, aside = np.zeros(COUNT), np.zeros(COUNT)
        for size, share in zip(self.lengths, self.shares, strict=True):
            along, aside = along + size * np.cos(share * bend), aside + size * np.sin(share * bend)
        return np.hypot(along, aside)

    def wanted(self) -> Array:
        """Half of them anywhere between bent and straight, half ever nearer to straight."""
        random = np.random.default_rng(5)
        near = 1.0 - 10.0 ** random.uniform(-14, -2, COUNT // 2)
        low, high = self.far(self.most), self.far(np.zeros(COUNT))
        share = np.concatenate([random.uniform(0.01, 0.99, COUNT // 2), near])
        return np.asarray(low + share * (high - low))


@pytest.mark.parametrize(("segments", "most"), [(2, np.pi / 2), (4, 1.0), (9, np.pi / 2)])
def test_the_bend_is_that_which_scipy_finds_and_is_found_soon(segments: int, most: float) -> None:
    chains = Chains(segments, most)
    wanted, straight = chains.wanted(), chains.far(np.zeros(COUNT))
    chains.asked = 0
    found = bend_for(chains.far, chains.most, wanted)
    assert chains.asked < 30
    assert np.abs(chains.far(found) - wanted).max() < 1e-14 * straight.max()
    # Near straight its length says little about a bend: those that are clearly bent.
    for n in range(60):
        size, share = chains.lengths[:, n], chains.shares[:, n]
        other = brentq(lambda b: abs((size * np.exp(1j * share * b)).sum()) - wanted[n], 0.0, most)  # noqa: B023
        assert found[n] == pytest.approx(other, abs=1e-9)


def test_where_no_bend_is_enough_it_is_none_or_the_most() -> None:
    chains = Chains(3, 1.0)
    longer, shorter = chains.far(np.zeros(COUNT)) * 1.001, chains.far(chains.most) * 0.999
    assert not bend_for(chains.far, chains.most, longer).any()
    assert np.array_equal(bend_for(chains.far, chains.most, shorter), chains.most)
