"""Steps that read what nothing makes any more, since what made it is muted; names without part."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from bindu.core.checks.check import Check, Finding, Looked, Offer
from bindu.core.checks.missing_names import NAMES, missing_names, name_offers
from bindu.core.edits.steps import ChangeStep
from bindu.core.evaluation import Evaluation
from bindu.core.nodes.identity import Read
from bindu.core.scene.channels import GROUPS, ChannelRef
from bindu.core.scene.model import Scene
from bindu.core.scene.names import full_name
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import FormulaSettings, LayerSettings
from bindu.core.steps.registry import reads_of


class Missing(Check):
    """A channel has no keys, and all steps that write it are muted: who reads it reads its still
    value. What is deleted never stays in what reads it; but the receiver's lists name parts that
    need not be here. See ``Check``."""

    name = "missing"
    why = "A step that reads what is no longer made looks whole, and does not what it should."

    def found(
        self, evaluation: Evaluation, limits: Mapping[str, float], looked: Looked
    ) -> Iterator[Finding]:
        """One for each step and channel that it reads, and for each list of names."""
        scene = evaluation.scene
        yield from missing_names(scene)
        muted = [step for step in scene.steps.values() if not step.on]
        if not muted:
            return
        unmade = {ref: step for step in muted for ref in _unmade(scene, step)}
        for step in scene.steps.values():
            if not step.on or isinstance(step.settings, LayerSettings):
                continue
            for ref in sorted(_reads(scene, step) & unmade.keys()):
                yield _finding(scene, step, ref, unmade[ref])

    def offers(self, evaluation: Evaluation, finding: Finding) -> Sequence[Offer]:
        """Letting in again what makes it, or muting what reads it; of names, see
        ``name_offers``."""
        scene = evaluation.scene
        if finding.key.startswith(NAMES):
            return tuple(name_offers(scene, finding))
        maker, reader = scene.steps[finding.key.split()[0]], scene.steps[finding.step or ""]
        back, off = ChangeStep(maker.id, on=True), ChangeStep(reader.id, on=False)
        owner = scene.parts[maker.part].name
        let = f"let “{maker.name}” of {owner} in again"
        return (
            Offer("let in", let, "what it writes moves again, for all that read it", (back,)),
            Offer("mute", f"mute “{reader.name}”", "it changes nothing until it is let in", (off,)),
        )


def _unmade(scene: Scene, step: Step) -> Iterator[ChannelRef]:
    """The channels that only muted steps write, this one among them, and no key moves."""
    for channel in step.settings.writes:
        ref = ChannelRef(step.part, channel)
        if ref not in scene.curves and not any(one.on for one in scene.writers(ref)):
            yield ref


def _reads(scene: Scene, step: Step) -> set[ChannelRef]:
    """The channels of other parts that a step reads by name, and its own that a formula reads."""
    found = set[ChannelRef]()
    own = isinstance(step.settings, FormulaSettings)
    for read in reads_of(scene, step):
        if read.part == step.part and not own:
            continue
        found.update(_channels(read))
    return found


def _channels(read: Read) -> Iterator[ChannelRef]:
    if read.quantity in GROUPS:
        for axis in "xyz":
            yield ChannelRef(read.part, f"{read.quantity}.{axis}")
    else:
        yield ChannelRef(read.part, read.quantity)


def _finding(scene: Scene, step: Step, ref: ChannelRef, maker: Step) -> Finding:
    value = scene.set_value(ref)
    text = f"{scene.parts[step.part].name}: “{step.name}” reads {full_name(scene, ref)}, which "
    text += f"stands at {value:g} since “{maker.name}” is muted. Let that in again, or read "
    text += "something else."
    return Finding(
        "missing",
        "doubtful",
        step.part,
        step.settings.writes[0],
        step.name,
        text,
        1.0,
        "read",
        step.id,
        key=f"{maker.id} {ref.part} {ref.channel}",
    )
