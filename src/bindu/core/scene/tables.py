"""The tables of a scene: what each holds. A new kind of thing is one more entry here, and a field
of the same name in ``Scene``; storing it and taking its edits back follow from that."""

from __future__ import annotations

from collections.abc import Mapping

from bindu.core.curves.model import Curve
from bindu.core.scene.bakes import Bake
from bindu.core.scene.parts import OwnChannel, Part, Step
from bindu.core.scene.receivers import Setup
from bindu.core.scene.references import Medium, PinnedReference
from bindu.core.scene.surfaces import Surface
from bindu.core.scene.things import (
    Accepted,
    CheckSetting,
    DrivenKeys,
    Gait,
    Layer,
    LeadGroup,
    Limb,
    Marker,
    PartSet,
    Probe,
    Units,
    WhatIf,
)

TABLES: Mapping[str, type] = {
    "parts": Part,
    "channels": OwnChannel,
    "steps": Step,
    "curves": Curve,
    "layers": Layer,
    "sets": PartSet,
    "markers": Marker,
    "driven": DrivenKeys,
    "probes": Probe,
    "leads": LeadGroup,
    "limbs": Limb,
    "gaits": Gait,
    "surfaces": Surface,
    "bakes": Bake,
    "receivers": Setup,
    "what_ifs": WhatIf,
    "checks": CheckSetting,
    "accepted": Accepted,
    "units": Units,
    "media": Medium,
    "references": PinnedReference,
}
