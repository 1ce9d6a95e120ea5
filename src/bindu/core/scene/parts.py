"""Parts, their own channels, and steps: what a rig is made of."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, get_args

from bindu.core.scene.channels import Zone
from bindu.core.scene.settings import StepSettings, Vector

Role = Literal["control", "joint", "helper", "prop"]
Side = Literal["left", "right", "centre"]
RotationOrder = Literal["xyz", "xzy", "yxz", "yzx", "zxy", "zyx"]
ORDERS: tuple[RotationOrder, ...] = get_args(RotationOrder)
ShapeKind = Literal[
    "none",
    "box",
    "ball",
    "rod",
    "wheel",
    "ring",
    "axes",
    "arrow",
    "foot",
    "wing",
    "plate",
    "belt",
]
ChannelKind = Literal["number", "switch", "choice"]
ChannelShow = Literal["nothing", "red", "green", "blue", "brightness", "opacity", "strip offset"]
"""What a channel shows on its part's shape: a share of colour or light, or metres along a belt."""


@dataclass(frozen=True)
class Rest:
    """Where a part is with all channels at default: metres, and degrees in its rotation order."""

    translation: Vector = (0.0, 0.0, 0.0)
    rotation: Vector = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Shape:
    """A simple solid drawn for a part: size along x, y, z in metres, offset of its centre."""

    kind: ShapeKind = "none"
    size: Vector = (1.0, 1.0, 1.0)
    offset: Vector = (0.0, 0.0, 0.0)
    colour: str = "#C9A66B"


@dataclass(frozen=True)
class Part:
    """Anything with a transform.

    Attributes:
        values: what channels without a curve are set to.
        pose: the part's own default pose; channels that are not in it have their defaults.
        pair: the part on the other side, where it was given by hand.
    """

    id: str
    name: str
    parent: str | None = None
    position: int = 0
    role: Role = "control"
    side: Side = "centre"
    rest: Rest = Rest()
    rotation_order: RotationOrder = "xyz"
    shape: Shape = Shape()
    values: Mapping[str, float] = field(default_factory=dict)
    locked: tuple[str, ...] = ()
    pose: Mapping[str, float] = field(default_factory=dict)
    pair: str | None = None


@dataclass(frozen=True)
class OwnChannel:
    """A channel of a part beside its transform. A switch is 0 or 1, a choice counts from 0."""

    id: str
    part: str
    name: str
    position: int = 0
    kind: ChannelKind = "number"
    default: float = 0.0
    low: float | None = None
    high: float | None = None
    unit: str = ""
    options: tuple[str, ...] = ()
    shows: ChannelShow = "nothing"


@dataclass(frozen=True)
class Step:
    """Whatever writes a channel during evaluation, apart from the channel's own curve."""

    id: str
    part: str
    name: str
    zone: Zone
    settings: StepSettings
    position: int = 0
    on: bool = True
