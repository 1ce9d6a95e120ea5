"""Duplicating a part with all below it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal

from bindu.core.edits.base import found_part, identities, new_id
from bindu.core.edits.copied_owners import (
    PREFIXES,
    copied_name,
    copied_owners,
    followed_owners,
)
from bindu.core.edits.parts import MOST_PARTS, next_position
from bindu.core.edits.trees import subtree
from bindu.core.formula.references import BRACES, parts_read
from bindu.core.refusal import Refusal
from bindu.core.scene.channels import (
    ChannelRef,
    layer_and_channel,
    layer_channel,
    step_and_key,
)
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Step
from bindu.core.scene.things import DrivenKeys


@dataclass(frozen=True)
class DuplicatePart:
    """Copies a part and all below it, with channels, curves and steps, beside the original.

    What the copied steps read inside the subtree they read of the copies; what they read
    elsewhere stays.
    """

    part: str
    do: Literal["duplicate part"] = "duplicate part"

    def label(self, scene: Scene) -> str:
        """See ``Edit``."""
        return f"duplicate {found_part(scene, self.part).name}"

    def apply(self, scene: Scene) -> Scene:
        """See ``Edit``."""
        root = found_part(scene, self.part)
        chosen = subtree(scene, self.part)
        if len(scene.parts) + len(chosen) > MOST_PARTS:
            raise Refusal(
                f"a scene holds at most {MOST_PARTS:,} parts.", code="too much", place=root.name
            )
        ids = _new_identities(scene, chosen)
        driven = _followed_sets(scene, chosen, ids)
        parts, names = dict(scene.parts), {part.name for part in scene.parts.values()}
        for old in sorted(chosen, key=scene.tree_order.__getitem__):
            part = scene.parts[old]
            name = copied_name(part.name, names)
            names.add(name)
            gone = {c for c in (*part.values, *part.locked, *part.pose) if _stays(scene, c, ids)}
            values = {_channel(c, ids): v for c, v in part.values.items() if c not in gone}
            locked = tuple(_channel(c, ids) for c in part.locked if c not in gone)
            pose = {_channel(c, ids): v for c, v in part.pose.items() if c not in gone}
            pair = ids.get(part.pair or "")
            copy = replace(
                part, id=ids[old], name=name, values=values, locked=locked, pose=pose, pair=pair
            )
            if old == self.part:
                copy = replace(copy, position=next_position(scene, part.parent))
            else:
                copy = replace(copy, parent=ids[part.parent or ""])
            parts[copy.id] = copy
        return replace(
            scene,
            parts=parts,
            driven={**scene.driven, **driven},
            limbs=followed_owners(scene, "limbs", chosen, ids),
            gaits=followed_owners(scene, "gaits", chosen, ids),
            surfaces=followed_owners(scene, "surfaces", chosen, ids),
            channels=_copied(scene.channels, ids, chosen),
            steps=dict(scene.steps)
            | {
                ids[old.id]: replace(
                    old,
                    id=ids[old.id],
                    part=ids[old.part],
                    settings=old.settings.followed(_Copies(scene, ids)),
                )
                for old in _copied_steps(scene, chosen).values()
            },
            curves=dict(scene.curves)
            | {
                ChannelRef(ids[ref.part], _channel(ref.channel, ids)): curve
                for ref, curve in scene.curves.items()
                if ref.part in chosen and not _stays(scene, ref.channel, ids)
            },
        )


def _new_identities(scene: Scene, chosen: set[str]) -> dict[str, str]:
    """New identities for the chosen parts, their channels and steps, by the old ones."""
    ids: dict[str, str] = {}
    parts, steps = sorted(chosen, key=scene.tree_order.__getitem__), _copied_steps(scene, chosen)
    tables = (
        ("p", scene.parts, parts),
        ("c", scene.channels, [own.id for p in parts for own in scene.channels_of.get(p, ())]),
        (
            "s",
            scene.steps,
            [s.id for p in parts for s in scene.steps_of.get(p, ()) if s.id in steps],
        ),
        *(
            (prefix, getattr(scene, table), copied_owners(scene, table, chosen))
            for table, prefix in PREFIXES.items()
        ),
    )
    for prefix, table, olds in tables:
        taken = set(table)
        for old in olds:
            ids[old] = new_id(prefix, taken, None, identities(scene))
            taken.add(ids[old])
    return ids


def _copied_steps(scene: Scene, chosen: set[str]) -> dict[str, Step]:
    """The steps of the chosen parts that are copied: all but memberships of lead groups, and of
    things that are not copied, and what writes channels of these, of layers and of the groups and
    things themselves."""
    owners = {
        one
        for table in PREFIXES
        for one in getattr(scene, table).keys() - set(copied_owners(scene, table, chosen))
    }
    stay = {i for i, s in scene.steps.items() if s.settings.member_of in {*scene.leads, *owners}}
    inside = {i: s for i, s in scene.steps.items() if s.part in chosen and i not in stay}
    stay |= {*scene.layers, *scene.leads, *owners}
    while True:
        writing = {
            i
            for i, step in inside.items()
            if any(step_and_key(channel)[0] in stay for channel in step.settings.writes)
        }
        if not writing:
            return inside
        stay |= writing
        inside = {i: step for i, step in inside.items() if i not in writing}


def _stays(scene: Scene, channel: str, ids: Mapping[str, str]) -> bool:
    """Whether a channel belongs to what is not copied with its part: a layer, a lead group, a limb
    of which only some is copied, or a membership of one."""
    owner, key = step_and_key(layer_and_channel(channel)[1])
    known = owner in scene.layers or owner in scene.owners or owner in scene.steps
    return bool(key) and known and owner not in ids


def _followed_sets(scene: Scene, chosen: set[str], ids: dict[str, str]) -> dict[str, DrivenKeys]:
    """Copies of the driven keys whose driver reads, and whose rows are, inside what is copied;
    their identities are added to ``ids``. Rows of other sets stay in their set."""
    made: dict[str, DrivenKeys] = {}
    taken, names = set(scene.driven), {driven.name for driven in scene.driven.values()}
    for driven in scene.driven.values():
        rows = scene.rows_of.get(driven.id, ())
        reads_inside = not chosen.isdisjoint(parts_read(driven.driver))
        if not reads_inside or not any(row.part in chosen for row in rows):
            continue
        ids[driven.id] = new_id("d", taken, None, identities(scene))
        name = copied_name(driven.name, names)
        taken.add(ids[driven.id])
        names.add(name)
        driver = _text(scene, driven.driver, ids)
        made[ids[driven.id]] = replace(driven, id=ids[driven.id], name=name, driver=driver)
    return made


def _copied(table: Any, ids: dict[str, str], chosen: set[str]) -> dict[str, Any]:
    """A table of things that belong to parts, with those of the chosen parts copied."""
    copies = {
        ids[i]: replace(thing, id=ids[i], part=ids[thing.part])
        for i, thing in table.items()
        if thing.part in chosen
    }
    return {**table, **copies}


def _channel(channel: str, ids: dict[str, str]) -> str:
    """A channel of a copied part: own channels and weights have new identities."""
    layer_id, own = layer_and_channel(channel)
    step, dot, key = own.partition(".")
    what, weighs, target = key.partition("weight.")
    key = f"{what}{weighs}{ids.get(target, target)}"
    return layer_channel(layer_id, f"{ids.get(step, step)}{dot}{key}")


class _Copies:
    """Copies in place of what was copied; see ``Followed``."""

    def __init__(self, scene: Scene, ids: dict[str, str]) -> None:
        self._scene, self._ids = scene, ids

    def part(self, old: str) -> str:
        return self._ids.get(old, old)

    def thing(self, old: str) -> str:
        return self._ids.get(old, old)

    def channel(self, old: str) -> str:
        return _channel(old, self._ids)

    def text(self, old: str) -> str:
        return _text(self._scene, old, self._ids)


def _text(scene: Scene, text: str, ids: dict[str, str]) -> str:
    """A stored formula that reads copies in the place of what was copied."""

    def followed(match: re.Match[str]) -> str:
        path, at, tap = match[1].partition("@")
        part, dot, read = path.strip().partition(".")
        if part in ids and not _stays(scene, read, ids):
            part, read = ids[part], _channel(read, ids)
        return f"{{{part}{dot}{read}{at}{tap}}}"

    return BRACES.sub(followed, text)
