"""Names by which the receiver moves parts, and that no part has."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from bindu.core.checks.check import Finding, Offer
from bindu.core.counted import counted
from bindu.core.edits.receivers import RECEIVER, PutReceiver
from bindu.core.refusal import nearest_names
from bindu.core.scene.model import Scene
from bindu.core.scene.receivers import Override, Setup

NAMES = "names of "
"""How the key of such a finding begins; then comes the override's name."""
MOST_SAID = 4


def missing_names(scene: Scene) -> Iterator[Finding]:
    """One for each override of the receiver that names parts which are not here."""
    first = next(iter(scene.tree_order), None)
    for key, override in _by_key(scene).items():
        names = _without_part(scene, override)
        if not (override.on and names and first):
            continue
        said = ", ".join(names[:MOST_SAID]) + (" …" if len(names) > MOST_SAID else "")
        text = f"the receiver’s “{override.name}” goes by {counted(len(names), 'name')} that no "
        text += f"part has: {said}. Give parts these names, or take them off its list."
        amount, what = float(len(names)), override.name
        yield Finding(
            "missing", "doubtful", first, "translation.x", what, text, amount, "names", key=key
        )


def name_offers(scene: Scene, finding: Finding) -> Iterator[Offer]:
    """The names that resemble them, where these are few; or lists without them. Of all lists, so
    that one of several such remedies does not undo another."""
    override = _by_key(scene)[finding.key]
    meant = _meant(scene, override)
    if meant:
        text = ", ".join(f"{near} for {name}" for name, near in meant.items())
        edit = _with_parts(scene, _chosen_anew)
        yield Offer("choose another", f"choose {text}", "the receiver moves these parts", (edit,))
    cost = "a file that has such parts is not moved by these names"
    text = "take names that no part has off the receiver’s lists"
    yield Offer("take off", text, cost, (_with_parts(scene, _known),))


def _with_parts(scene: Scene, parts: Callable[[Scene, Override], tuple[str, ...]]) -> PutReceiver:
    """The edit that gives all overrides that are on other names."""
    setup = scene.receivers[RECEIVER]
    changed = (replace(one, parts=parts(scene, one)) if one.on else one for one in setup.overrides)
    return PutReceiver(replace(setup, overrides=tuple(changed)))


def _known(scene: Scene, override: Override) -> tuple[str, ...]:
    return tuple(name for name in override.parts if name in scene.part_ids)


def _chosen_anew(scene: Scene, override: Override) -> tuple[str, ...]:
    meant = _meant(scene, override)
    return tuple(meant.get(name, name) for name in override.parts)


def _meant(scene: Scene, override: Override) -> dict[str, str]:
    """The parts whose names resemble those without one, where these are few; each once."""
    names = _without_part(scene, override)
    free = [name for name in scene.part_ids if name not in override.parts]
    meant: dict[str, str] = {}
    for name in names if len(names) <= MOST_SAID else ():
        near = nearest_names(name, (one for one in free if one not in meant.values()), 1)
        meant.update((name, one) for one in near)
    return meant


def _by_key(scene: Scene) -> dict[str, Override]:
    """The receiver's overrides in their order, each by what tells it from the others: its name,
    and which of that name it is."""
    found: dict[str, Override] = {}
    for one in scene.receivers.get(RECEIVER, Setup()).overrides:
        key, n = f"{NAMES}{one.name}", 1
        while key in found:
            n += 1
            key = f"{NAMES}{one.name} {n}"
        found[key] = one
    return found


def _without_part(scene: Scene, override: Override) -> list[str]:
    return [name for name in dict.fromkeys(override.parts) if name not in scene.part_ids]
