"""Every change of a scene: one module for each family of edits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from bindu.core.edits.axis import TurnAboutAxis
from bindu.core.edits.bakes import BakeEdit
from bindu.core.edits.base import Edit
from bindu.core.edits.binding import BindingEdit
from bindu.core.edits.carry import CarryChange
from bindu.core.edits.channels import ChannelEdit, refuse_out_of_range
from bindu.core.edits.checks import CheckEdit
from bindu.core.edits.continuous import MakeAnglesContinuous
from bindu.core.edits.deforms import DeformEdit
from bindu.core.edits.degrees import DegreeEdit
from bindu.core.edits.degrees_in_world import ByDegreesInWorld
from bindu.core.edits.driven import DrivenEdit
from bindu.core.edits.duplicate import DuplicatePart
from bindu.core.edits.feet import FootEdit
from bindu.core.edits.formulas import FormulaEdit
from bindu.core.edits.gaits import PutGait, RemoveGait
from bindu.core.edits.keying import KeyingEdit
from bindu.core.edits.keys import KeyEdit
from bindu.core.edits.layers import LayerEdit
from bindu.core.edits.leads import LeadEdit
from bindu.core.edits.limbs import LimbEdit
from bindu.core.edits.make_gait import MakeGait
from bindu.core.edits.make_limb import MakeLimb
from bindu.core.edits.matching import MatchEdit
from bindu.core.edits.parts import PartEdit
from bindu.core.edits.paste import PasteClip
from bindu.core.edits.place import PlaceEdit
from bindu.core.edits.plants import PlantPart
from bindu.core.edits.poses import PoseEdit
from bindu.core.edits.probes import ProbeEdit
from bindu.core.edits.receivers import ReceiverEdit
from bindu.core.edits.references import ReferenceEdit
from bindu.core.edits.relations import RelationEdit
from bindu.core.edits.rereading import Reread
from bindu.core.edits.retime import RetimeEdit
from bindu.core.edits.rotation_order import ChangeRotationOrder
from bindu.core.edits.rows import RowEdit
from bindu.core.edits.rules import ApplyRules
from bindu.core.edits.scene import SceneEdit
from bindu.core.edits.sets import SetEdit
from bindu.core.edits.shapers import WriteOutShaper
from bindu.core.edits.sharing import ShareKeys
from bindu.core.edits.spaces import SpaceEdit
from bindu.core.edits.spacing import EvenSpacing
from bindu.core.edits.steps import StepEdit
from bindu.core.edits.surfaces import SurfaceEdit
from bindu.core.edits.tints import TintKeys
from bindu.core.edits.what_ifs import WhatIfEdit
from bindu.core.edits.write_gait import WriteOutGait
from bindu.core.scene.model import Scene

AnyEdit = (
    SceneEdit
    | ReferenceEdit
    | PartEdit
    | DuplicatePart
    | PlaceEdit
    | ChangeRotationOrder
    | ChannelEdit
    | KeyEdit
    | KeyingEdit
    | RetimeEdit
    | PoseEdit
    | PasteClip
    | LayerEdit
    | SetEdit
    | StepEdit
    | DrivenEdit
    | RowEdit
    | FormulaEdit
    | ProbeEdit
    | SpaceEdit
    | LeadEdit
    | LimbEdit
    | MakeLimb
    | FootEdit
    | MatchEdit
    | BindingEdit
    | WhatIfEdit
    | Reread
    | RelationEdit
    | ApplyRules
    | MakeAnglesContinuous
    | PlantPart
    | WriteOutShaper
    | DegreeEdit
    | ByDegreesInWorld
    | ShareKeys
    | EvenSpacing
    | CarryChange
    | TintKeys
    | TurnAboutAxis
    | PutGait
    | RemoveGait
    | MakeGait
    | WriteOutGait
    | SurfaceEdit
    | DeformEdit
    | BakeEdit
    | ReceiverEdit
    | CheckEdit
)
MOST_EDITS_AT_ONCE = 10_000


def applied(scene: Scene, edits: Sequence[Edit]) -> Scene:
    """The scene after all of these edits, in their order.

    Raises:
        Refusal: when one cannot be done; none has been done then.
    """
    made = scene
    for edit in edits:
        made = edit.apply(made)
    refuse_out_of_range(scene, made)
    return made


@dataclass(frozen=True)
class Together:
    """Edits that are one, with a name of their own; not sent by browsers.

    Attributes:
        what: what they do, in a few words.
    """

    what: str
    edits: tuple[Edit, ...]

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return self.what

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        for edit in self.edits:
            scene = edit.apply(scene)
        return scene


def label_of(scene: Scene, edits: Sequence[Edit]) -> str:
    """What these edits do, in a few words."""
    first = edits[0].label(scene)
    return first if len(edits) == 1 else f"{first} and {len(edits) - 1} more"
