"""The ferry's cargo: a crate that a davit takes from the near quay to the deck and on to the far
quay."""

from __future__ import annotations

from collections.abc import Iterator

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart
from bindu.core.edits.spaces import PickAndCarry
from bindu.core.scene.parts import Rest, Shape

DAVIT, HOOK, CRATE, DECK = "p18", "p19", "p20", "p2"
REACH, INBOARD = 2.7, 0.9
LOW, HIGH = -1.3, -0.45


def cargo() -> Iterator[AnyEdit]:
    """Davit, hook, quays and crate; four handovers on the crate's space lane."""
    yield from _parts()
    yield PutKeys(HOOK, "translation.x", _slide())
    yield PutKeys(HOOK, "translation.y", _hoist())
    yield PickAndCarry(CRATE, HOOK, 4, 28, DECK)
    yield PickAndCarry(CRATE, HOOK, 101, 118, "0")


def _parts() -> Iterator[AnyEdit]:
    post = Shape("rod", (0.12, 2.0, 0.12), (0.0, 1.0, 0.0), "#6B5A3E")
    arm = Shape("rod", (0.03, 0.9, 0.03), (0.0, 0.45, 0.0), "#6B5A3E")
    crate = Shape("box", (0.5, 0.5, 0.5), colour="#C9A66B")
    quay = Shape("box", (2.4, 0.8, 3.4), colour="#CFC6B4")
    yield AddPart("davit", "p1", "joint", rest=Rest((0.0, 0.4, 0.85)), shape=post, id=DAVIT)
    hook = Rest((0.0, 1.8, 0.0))
    yield AddPart("hook", DAVIT, "control", rest=hook, shape=arm, id=HOOK)
    at = Rest((-4.5 - REACH, 0.65, 0.85))
    yield AddPart("crate", None, "prop", rest=at, shape=crate, id=CRATE)
    for name, x, part in (("near quay", -7.9, "p21"), ("far quay", 7.9, "p22")):
        yield AddPart(name, None, "prop", rest=Rest((x, 0.0, 0.0)), shape=quay, id=part)


def _slide() -> tuple[Key, ...]:
    """Along the davit's arm: out over the quay, in over the deck, out on the other side."""
    return (Key(9.0, -REACH), Key(21.0, -INBOARD), Key(106.0, -INBOARD), Key(113.0, REACH))


def _hoist() -> tuple[Key, ...]:
    """Down to the crate and up again, four times."""
    stays = ((0, LOW), (4, LOW), (10, HIGH), (21, HIGH), (28, LOW), (34, HIGH), (95, HIGH))
    then = ((101, LOW), (106, HIGH), (113, HIGH), (118, LOW), (120, HIGH))
    return tuple(Key(float(frame), value) for frame, value in (*stays, *then))
