"""Made-up edits of every kind, for attacks: most of them about things that a scene has, some of
them nonsense; as the JSON that a browser sends."""

from __future__ import annotations

import dataclasses
import types
import typing
from collections import Counter
from collections.abc import Callable
from functools import cache
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

import numpy as np

from bindu.core.edits import AnyEdit
from bindu.core.scene.model import Scene
from bindu.core.scene.settings import SpaceSettings

Random = np.random.Generator
NASTY_TEXTS = (
    "",
    " ",
    "a" * 300,
    "\ud800",
    "\x00",
    "ä ö",
    "../..",
    "own",
    "final",
    "p1",
    "{",
    "'",
    "0",
)
NASTY_NUMBERS = (0.0, -0.0, 1e9, -1e9, 1e308, -1.0, 0.5, 1e-300, 3.0, 100.0)
FORMULAS = (
    "1", "frame / 0", "{%s.translation.x}", "sin({%s.rotation.y@driven}) + 1", "(((", "1 +",
    "travelled({%s})", "{nobody.x}", "if(0/0, 1, 2)", "{%s.translation.x@final back}",
)  # fmt: skip
DOT = "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNoAAAAggCBd81ytgAAAABJRU5ErkJggg=="
"""A picture of one dot, base64."""
KINDS: tuple[type, ...] = get_args(AnyEdit)
hints_of = cache(get_type_hints)
"""The types of fields, which are asked for over and over."""


def kind_next(random: Random, n: int, done: Counter[str]) -> type:
    """The kind of the edit that is made up as number ``n``: each in turn, then those that none was
    done of four times as often as any."""
    if n < len(KINDS):
        return KINDS[n]
    never = [kind for kind in KINDS if not done[vars(kind)["do"]]]
    among = never if never and random.random() < 0.8 else KINDS
    return among[int(random.integers(len(among)))]


def edit(random: Random, scene: Scene, kind: type | None = None) -> dict[str, Any]:
    """An edit of a kind, or of any."""
    chosen = kind or KINDS[int(random.integers(len(KINDS)))]
    return Maker(random, scene).thing(chosen)


class Maker:
    """Makes values for the fields of edits."""

    def __init__(self, random: Random, scene: Scene) -> None:
        self._random, self._scene = random, scene
        self._part: str | None = None
        self._do = ""
        # Several times over, so that edits of surfaces seldom name another step.
        deforms = 4 * [step.id for one in scene.surfaces.values() for step in one.steps]
        self._names: dict[str, Callable[[], list[str]]] = {
            "part": lambda: sorted(scene.parts),
            "other": lambda: sorted(scene.parts),
            "parent": lambda: sorted(scene.parts),
            "by": lambda: sorted(scene.parts),
            "up_part": lambda: sorted(scene.parts),
            "ground": lambda: sorted(scene.parts),
            "pair": lambda: sorted(scene.parts),
            "child": lambda: sorted(scene.parts),
            "parts": lambda: sorted(scene.parts),
            "onto": lambda: sorted(scene.parts),
            "children": lambda: sorted(scene.parts),
            "members": lambda: sorted(scene.parts),
            "step": lambda: self._spaces() or [*sorted(scene.steps), *deforms],
            "steps": lambda: sorted(scene.steps),
            "rows": lambda: sorted(row.id for rows in scene.rows_of.values() for row in rows),
            "row": lambda: sorted(row.id for rows in scene.rows_of.values() for row in rows),
            "layer": lambda: sorted(scene.layers),
            "driven": lambda: sorted(scene.driven),
            "lead": lambda: sorted(scene.leads),
            "limb": lambda: sorted(scene.limbs),
            "limbs": lambda: sorted(scene.limbs),
            "chain": lambda: sorted(scene.parts),
            "goal": lambda: sorted(scene.parts),
            "pole": lambda: sorted(scene.parts),
            "hips": lambda: sorted(scene.parts),
            "feet": lambda: sorted(scene.parts),
            "arms": lambda: sorted(scene.parts),
            "head": lambda: sorted(scene.parts),
            "surface": lambda: sorted(scene.surfaces),
            "order": lambda: deforms,
            "joint": lambda: sorted(scene.parts),
            "joints": lambda: sorted(scene.parts),
            "set": lambda: sorted(scene.sets),
            "id": self._ids,
            "space": lambda: ["", "0", *sorted(scene.parts)],
            "pattern": lambda: ["part *", "part p[1-5]"],
            "then": lambda: ["", "0", *sorted(scene.parts)],
            "spaces": lambda: ["", "0", *sorted(scene.parts)],
        }

    def _ids(self) -> list[str]:
        """Of the things that the edit is about, where its name says that; else of all."""
        scene = self._scene
        tables = {
            "limb": scene.limbs,
            "gait": scene.gaits,
            "surface": scene.surfaces,
            "bake": scene.bakes,
            "set": scene.sets,
            "probe": scene.probes,
            "marker": scene.markers,
            "what if": scene.what_ifs,
            "acceptance": scene.accepted,
            "reference": scene.references,
        }
        meant = [list(table) for word, table in tables.items() if word in self._do and table]
        return meant[0] if meant else [one for table in tables.values() for one in table]

    def _spaces(self) -> list[str]:
        """The lists of spaces, for the edits of what they hold."""
        if not any(word in self._do for word in ("space", "handover", "places")):
            return []
        steps = self._scene.steps.values()
        return [step.id for step in steps if isinstance(step.settings, SpaceSettings)]

    def thing(self, kind: type) -> dict[str, Any]:
        """A dataclass as JSON; some fields that have defaults are left out."""
        self._do = getattr(kind, "do", self._do)
        hints = hints_of(kind)
        made: dict[str, Any] = {}
        for field in dataclasses.fields(kind):
            has_default = (
                field.default is not dataclasses.MISSING
                or field.default_factory is not dataclasses.MISSING
            )
            if field.name in ("do", "kind"):
                made[field.name] = get_args(hints[field.name])[0]
                if field.default is not dataclasses.MISSING:
                    made[field.name] = field.default
            elif not has_default or self._random.random() < 0.6:
                made[field.name] = self.value(hints[field.name], field.name)
        return made

    def value(self, hint: Any, name: str) -> Any:
        """A value for a field of a type."""
        random = self._random
        if name == "made":
            return None  # what a bake wrote out is packed: made up, it is always refused
        origin, inner = get_origin(hint), get_args(hint)
        if origin is Literal:
            return inner[int(random.integers(len(inner)))]
        if origin in (Union, types.UnionType):
            return self.value(inner[int(random.integers(len(inner)))], name)
        if origin is tuple:
            return self._tuple(inner, name)
        if hasattr(hint, "_fields"):
            hints = hints_of(hint)
            return [self.value(hints[field], field) for field in hint._fields]
        if dataclasses.is_dataclass(hint):
            return self.thing(typing.cast(type, hint))
        if hint is type(None):
            return None
        if hint is bool:
            return bool(random.random() < 0.5)
        if hint in (int, float):
            return self._number(hint, name)
        if hint is str:
            return self._text(name)
        return {self._text("channel"): self._number(float, "value")}

    def _tuple(self, inner: tuple[Any, ...], name: str) -> list[Any]:
        if inner[-1] is not Ellipsis:
            return [self.value(one, name) for one in inner]
        count = int(self._random.choice([0, 1, 1, 2, 3]))
        return [self.value(inner[0], name) for _ in range(count)]

    def _number(self, hint: type, name: str) -> float | int:
        random = self._random
        if random.random() < 0.2:
            number = float(NASTY_NUMBERS[int(random.integers(len(NASTY_NUMBERS)))])
        elif name in ("value", "values", "weight"):
            number = round(float(random.uniform(-2, 2)), 2)
        else:
            number = float(random.integers(-2, 16))
        return int(max(min(number, 1e9), -1e9)) if hint is int else number

    def _text(self, name: str) -> str:
        random, scene = self._random, self._scene
        if random.random() < 0.08:
            return NASTY_TEXTS[int(random.integers(len(NASTY_TEXTS)))]
        known = self._names.get(name, list)()
        if known and random.random() < 0.9:
            self._part = known[int(random.integers(len(known)))]
            return self._part
        if name in ("channel", "channels") and scene.parts:
            part = self._part if self._part in scene.parts else sorted(scene.parts)[0]
            assert part is not None
            own = scene.channel_ids(part)
            keyed = [ref.channel for ref in scene.curves if ref.part == part and ref.channel in own]
            # Half of them such as edits of keys find keys on.
            channels = keyed if keyed and random.random() < 0.5 else own
            return channels[int(random.integers(len(channels)))]
        if name == "data":
            return DOT
        if name in ("text", "driver", "formula"):
            text = FORMULAS[int(random.integers(len(FORMULAS)))]
            parts = [part.name for part in scene.parts.values()]
            return text.replace("%s", parts[int(random.integers(len(parts)))] if parts else "x")
        if name == "colour":
            return "#112233"
        return f"{name[:8]} {int(random.integers(40))}".replace("_", " ")
