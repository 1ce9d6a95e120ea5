"""What lies above and below a part in the tree."""

from __future__ import annotations

from bindu.core.edits.base import found_part
from bindu.core.scene.model import Scene


def subtree(scene: Scene, part: str) -> set[str]:
    """The ids of a part and of all below it."""
    found, pending = {part}, [part]
    while pending:
        for child in scene.children.get(pending.pop(), ()):
            found.add(child)
            pending.append(child)
    return found


def ancestors(scene: Scene, part: str) -> set[str]:
    """The ids of all parts above one."""
    found: set[str] = set()
    above = found_part(scene, part).parent
    while above is not None:
        found.add(above)
        above = scene.parts[above].parent
    return found
