"""What a formula is once parsed."""

from __future__ import annotations

from dataclasses import dataclass

from bindu.core.scene.channels import Tap


@dataclass(frozen=True)
class Number:
    """A number as written."""

    value: float
    depth: int = 1


@dataclass(frozen=True)
class Constant:
    """A named value: pi, frame, seconds, fps, …"""

    name: str
    depth: int = 1


@dataclass(frozen=True)
class Reference:
    """What stands in braces: a part, or a channel of a part; the tap it is read at, and
    whether as it was one frame back."""

    part: str
    channel: str | None
    tap: Tap
    back: bool
    column: int
    depth: int = 1


@dataclass(frozen=True)
class Call:
    """A function or operator and its arguments."""

    name: str
    arguments: tuple[Tree, ...]
    depth: int


@dataclass(frozen=True)
class Measure:
    """A measure of one or two parts."""

    name: str
    parts: tuple[Reference, ...]
    depth: int = 1


Tree = Number | Constant | Reference | Call | Measure
