"""The functions, operators, constants and measures that formulas can use.

All work on float64 arrays of any shape, the last dimension the frames, and broadcast. Angles are
degrees. Truth is a number: 0 is false, anything else true; comparisons give 0 or 1. Where an
operation has no finite result, and in all that is computed from it, there is no value: the compiler
sees to that.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from bindu.core.curves.model import Array

Calculation = Callable[..., Array]


@dataclass(frozen=True)
class Function:
    """How many arguments a function takes (``most`` None: any number) and what it computes."""

    least: int
    most: int | None
    compute: Calculation
    signature: str


def _truth(condition: np.ndarray) -> Array:
    return condition.astype(np.float64)


def _smoothstep(a: Array, b: Array, x: Array) -> Array:
    t = np.clip((x - a) / (b - a), 0.0, 1.0)
    return t * t * (3.0 - 2.0 * t)


def _rounded(x: Array) -> Array:
    """The nearest whole number, halves upward; x + 0.5 would itself be rounded."""
    below = np.floor(x)
    return np.asarray(below + (x - below >= 0.5))


def _either(condition: Array, a: Array, b: Array) -> Array:
    return np.asarray(np.where(condition != 0.0, a, b))


def _fold(pick: np.ufunc) -> Calculation:
    def folded(*values: Array) -> Array:
        result = values[0]
        for value in values[1:]:
            result = pick(result, value)
        return result

    return folded


OPERATORS: dict[str, Calculation] = {
    "+": np.add,
    "-": np.subtract,
    "*": np.multiply,
    "/": np.divide,
    "%": np.mod,
    "^": np.power,
    "<": lambda a, b: _truth(a < b),
    "<=": lambda a, b: _truth(a <= b),
    ">": lambda a, b: _truth(a > b),
    ">=": lambda a, b: _truth(a >= b),
    "==": lambda a, b: _truth(a == b),
    "!=": lambda a, b: _truth(a != b),
    "and": lambda a, b: _truth((a != 0.0) & (b != 0.0)),
    "or": lambda a, b: _truth((a != 0.0) | (b != 0.0)),
    "not": lambda a: _truth(a == 0.0),
    "minus": np.negative,
}


def _one(name: str, compute: Calculation) -> tuple[str, Function]:
    return name, Function(1, 1, compute, f"{name}(x)")


def _of(signature: str, compute: Calculation) -> tuple[str, Function]:
    name, _, arguments = signature.partition("(")
    count = arguments.count(",") + 1
    return name, Function(count, count, compute, signature)


FUNCTIONS: dict[str, Function] = dict(
    [
        _one("abs", np.abs),
        _one("sign", np.sign),
        _one("sqrt", np.sqrt),
        _one("exp", np.exp),
        _one("ln", np.log),
        _one("log10", np.log10),
        _one("floor", np.floor),
        _one("ceil", np.ceil),
        _one("round", _rounded),
        _one("sin", lambda x: np.sin(np.radians(x))),
        _one("cos", lambda x: np.cos(np.radians(x))),
        _one("tan", lambda x: np.tan(np.radians(x))),
        _one("asin", lambda x: np.degrees(np.arcsin(x))),
        _one("acos", lambda x: np.degrees(np.arccos(x))),
        _one("atan", lambda x: np.degrees(np.arctan(x))),
        _of("atan2(y, x)", lambda y, x: np.degrees(np.arctan2(y, x))),
        _of("hypot(x, y)", np.hypot),
        _one("degrees", np.degrees),
        _one("radians", np.radians),
        ("min", Function(1, None, _fold(np.minimum), "min(a, b, …)")),
        ("max", Function(1, None, _fold(np.maximum), "max(a, b, …)")),
        _of("if(condition, a, b)", _either),
        _of("clamp(x, lo, hi)", lambda x, lo, hi: np.minimum(np.maximum(x, lo), hi)),
        _of("mix(a, b, t)", lambda a, b, t: a + (b - a) * t),
        _of("remap(x, a, b, c, d)", lambda x, a, b, c, d: c + (x - a) / (b - a) * (d - c)),
        _of("smoothstep(a, b, x)", _smoothstep),
    ]
)

CONSTANTS = {"pi": math.pi, "tau": math.tau, "e": math.e}
TIMES = ("frame", "seconds", "fps")


@dataclass(frozen=True)
class MeasureKind:
    """A measure of parts: which node it reads of each, and what it makes of them."""

    reads: tuple[str, ...]
    compute: Calculation
    signature: str

    @property
    def parts(self) -> int:
        """How many parts it measures."""
        return len(self.reads)


def _same(values: Array) -> Array:
    return values


def _coordinate(axis: int) -> Calculation:
    return lambda position: position[..., axis]


def _along(axis: int) -> Calculation:
    """How far a point lies along a part's axis from the part's origin, in metres of the world."""

    def along(position: Array, matrix: Array) -> Array:
        direction = _direction(matrix, axis)
        return np.asarray(((position - matrix[..., 3]) * direction).sum(axis=-1))

    return along


def _angle(axis: int) -> Calculation:
    """The angle between the same axis of two parts, 0 to 180 degrees; by atan2, which stays exact
    near both ends (W. Kahan, "Computing cross-products and rotations", 2016)."""

    def angle(a: Array, b: Array) -> Array:
        x, y = _direction(a, axis), _direction(b, axis)
        x, y = np.broadcast_arrays(x, y)
        across = np.linalg.norm(np.cross(x, y), axis=-1)
        return np.asarray(np.degrees(np.arctan2(across, (x * y).sum(axis=-1))))

    return angle


def _direction(matrix: Array, axis: int) -> Array:
    """A part's axis in the world, of length 1, shape (…, 3)."""
    direction = matrix[..., axis]
    return np.asarray(direction / np.linalg.norm(direction, axis=-1, keepdims=True))


MEASURES: dict[str, MeasureKind] = {
    "distance": MeasureKind(
        ("world position", "world position"),
        lambda a, b: np.asarray(np.linalg.norm(a - b, axis=-1)),
        "distance({a}, {b})",
    ),
    "travelled": MeasureKind(("travelled",), _same, "travelled({a})"),
    "speed": MeasureKind(("speed",), _same, "speed({a})"),
    "phase": MeasureKind(("phase",), _same, "phase({a})"),
}
for _n, _axis in enumerate("xyz"):
    MEASURES |= {
        f"world_{_axis}": MeasureKind(
            ("world position",), _coordinate(_n), f"world_{_axis}({{a}})"
        ),
        f"along_{_axis}": MeasureKind(
            ("world position", "world matrix"), _along(_n), f"along_{_axis}({{a}}, {{axes}})"
        ),
        f"angle_{_axis}": MeasureKind(
            ("world matrix", "world matrix"), _angle(_n), f"angle_{_axis}({{a}}, {{b}})"
        ),
        f"travelled_{_axis}": MeasureKind(
            (f"travelled {_axis}",), _same, f"travelled_{_axis}({{a}})"
        ),
    }


def measured(name: str, values: list[Array]) -> Array:
    """A measure's value, shape (F,) or (1,).

    Args:
        name: one of MEASURES.
        values: what it reads of each part: world positions (F, 3), world matrices (F, 3, 4), or a
            number a frame (F,).
    """
    return np.asarray(MEASURES[name].compute(*values))
