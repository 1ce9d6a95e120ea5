"""Left and right: which part is the opposite of which."""

from __future__ import annotations

import re
from collections.abc import Mapping

from bindu.core.scene.model import Scene
from bindu.core.scene.names import parts_by_name

OPPOSITES = {"left": "right", "right": "left", "l": "r", "r": "l"}
SIDE_WORD = re.compile(r"(?<![^\W_\d])(left|right|l|r)(?![^\W_\d])", re.IGNORECASE)


def opposite_name(name: str) -> str | None:
    """The name with its last word for a side exchanged: ``left``, ``right``, or the letters
    ``l`` and ``r`` standing alone; None where it has none."""
    found = list(SIDE_WORD.finditer(name))
    if not found:
        return None
    word = found[-1]
    other = OPPOSITES[word[0].lower()]
    if word[0].isupper():
        other = other.upper()
    elif word[0][0].isupper():
        other = other.capitalize()
    return name[: word.start()] + other + name[word.end() :]


def opposite(scene: Scene, part: str) -> str | None:
    """The part on the other side: the one given by hand, else the one with the opposite name."""
    by_hand = scene.parts[part].pair
    if by_hand is not None:
        return by_hand
    name = opposite_name(scene.parts[part].name)
    return parts_by_name(scene).get(name) if name else None


def opposite_channel(names: Mapping[str, str], name: str) -> str | None:
    """Of a part's channels by name, the one that stands for another's on the other side: the one
    with the opposite name (a limb's, an own one), else the one with the same; None if neither."""
    other = opposite_name(name)
    return names.get(other or name) or names.get(name)
