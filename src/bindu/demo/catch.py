"""The heron's catch: a fish from the water to the beak to the nest; who carries the body."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from bindu.core.curves.model import Key
from bindu.core.edits import AnyEdit
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.leads import KeyLead, PutLead
from bindu.core.edits.parts import AddPart
from bindu.core.edits.spaces import PickAndCarry
from bindu.core.scene.parts import Rest, Shape

FISH, NEST = "p46", "p47"


def catch(names: Mapping[str, str]) -> Iterator[AnyEdit]:
    """The fish leaps as the beak comes down, is carried up, and laid into the nest.

    Left foot, right foot and body are a lead group: the foot that stands carries the body.
    """
    fish = Shape("ball", (0.07, 0.07, 0.2), colour="#7B8791")
    nest = Shape("ring", (0.34, 0.34, 0.0), colour="#7E8B4A")
    yield AddPart("fish", None, "prop", rest=Rest((0.0, -0.1, 1.54)), shape=fish, id=FISH)
    yield AddPart("nest", None, "prop", rest=Rest((0.0, 1.93, 0.96)), shape=nest, id=NEST)
    leap = (Key(84.0, 0.0), Key(92.0, 0.31), Key(94.0, 0.31))
    yield PutKeys(FISH, "translation.y", leap)
    members = (names["left foot"], names["right foot"], names["body"])
    yield PutLead("stance", names["body"], members, "g1")
    yield KeyLead("g1", 0, names["left foot"])
    yield KeyLead("g1", 42, names["right foot"])
    yield PutKeys(names["right foot"], "rotation.y", (Key(42.0, 0.0), Key(64.0, -7.0)))
    # Last, so that the handovers are measured where everything is in the end.
    yield PickAndCarry(FISH, names["beak"], 92, 128, NEST)
