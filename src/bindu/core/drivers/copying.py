"""A formula brought to other parts, its references following by a rule."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping
from typing import Literal

from bindu.core.formula.numbers import shape_of
from bindu.core.formula.references import parts_read, with_other_parts
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.names import parts_by_name
from bindu.core.scene.pairs import opposite
from bindu.core.scene.parts import Step
from bindu.core.scene.settings import FormulaSettings

Following = Literal["stay", "own part", "opposite", "next in set", "by name"]
"""What references do: all stay; those to the part itself go along; to the opposites; as many
places further in the set; or to parts whose names differ as the two owners' names do."""
WORDS = re.compile(r"[^\W_\d]+|\d+")


def copied_text(scene: Scene, step: Step, part: str, rule: Following) -> str:
    """The stored text of a formula for another part.

    Raises:
        Refusal: when a part that it would read is not there or lacks the channel.
    """
    settings = step.settings
    if not isinstance(settings, FormulaSettings):
        raise Refusal("only formulas are copied by a rule.", code="text", place=step.name)
    others = {step.part: part} if rule in ("own part", "next in set", "by name") else {}
    for read in parts_read(settings.text) - {step.part}:
        found = _followed(scene, step.part, part, read, rule)
        if found is not None:
            others[read] = found
    if rule == "opposite" and step.part in parts_read(settings.text):
        others[step.part] = part
    return with_other_parts(scene, settings.text, others)


def alike(scene: Scene, step: Step) -> tuple[Step, ...]:
    """The steps of the same name whose formulas are the same but for numbers and references, the
    step itself among them."""
    if not isinstance(step.settings, FormulaSettings):
        return (step,)
    shape = shape_of(step.settings.text)
    return tuple(
        one
        for one in scene.steps.values()
        if one.name == step.name
        and isinstance(one.settings, FormulaSettings)
        and shape_of(one.settings.text) == shape
    )


def shape_key(step: Step) -> tuple[str, str]:
    """The same for steps that are alike."""
    settings = step.settings
    return step.name, shape_of(settings.text) if isinstance(settings, FormulaSettings) else ""


def alike_counts(scene: Scene) -> Mapping[tuple[str, str], int]:
    """How many formulas are alike, by their key."""
    formulas = (s for s in scene.steps.values() if isinstance(s.settings, FormulaSettings))
    return Counter(shape_key(step) for step in formulas)


def _followed(scene: Scene, owner: str, target: str, read: str, rule: Following) -> str | None:
    if rule == "opposite":
        return opposite(scene, read)
    if rule == "next in set":
        return _further_in_set(scene, owner, target, read)
    return _by_name(scene, owner, target, read) if rule == "by name" else None


def _further_in_set(scene: Scene, owner: str, target: str, read: str) -> str | None:
    for one in scene.sets.values():
        if not {owner, target, read} <= set(one.parts):
            continue
        places = {part: n for n, part in enumerate(one.parts)}
        place = places[read] + places[target] - places[owner]
        if not 0 <= place < len(one.parts):
            raise Refusal(
                f"{scene.parts[read].name} would follow beyond the end of {one.name}.",
                place=scene.parts[target].name,
            )
        return one.parts[place]
    return None


def _by_name(scene: Scene, owner: str, target: str, read: str) -> str | None:
    """The part whose name differs from that of ``read`` as the target's does from the owner's."""
    old, new = (WORDS.findall(scene.parts[part].name) for part in (owner, target))
    if len(old) != len(new):
        return None
    change = {a: b for a, b in zip(old, new, strict=True) if a != b}
    name = WORDS.sub(lambda word: change.get(word[0], word[0]), scene.parts[read].name)
    return parts_by_name(scene).get(name)
