"""Operations on the keys of one curve; each gives a new curve."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Mapping
from dataclasses import replace

from bindu.core.curves.bezier import solve_time
from bindu.core.curves.eases import EASES
from bindu.core.curves.evaluate import curve_values
from bindu.core.curves.model import Array, Curve, Interpolation, Key, Tangent, Tint
from bindu.core.curves.segments import segments
from bindu.core.curves.tangents import with_smart_tangents
from bindu.core.refusal import Refusal

MOST_KEYS = 100_000
LARGEST = 1e9
NO_LENGTH = 1e-9
LONGEST_TINT = 40
TINT_WORD = re.compile(rf"(?=\S)[^\x00-\x1f\x7f\u2028\u2029]{{1,{LONGEST_TINT}}}(?<=\S)")
COLOUR = re.compile("#[0-9a-fA-F]{6}")
ONE_ANGLE = 1e-6
"""Degrees up to which two tangents have one angle: what arithmetic leaves."""


def checked(key: Key) -> Key:
    """The key, if its numbers are ones that a curve can hold; of a joined key, a handle of length
    0 takes the angle of the other.

    Raises:
        Refusal: when a number is not finite or beyond ±1e9, a tangent has a negative length or
            leads backwards, the tangents of a joined key have two angles, or a tint has no word or
            colour.
    """
    key = _joined(key)
    if key.tint is not None:
        _check_tint(key.tint, f"the key at frame {key.frame:g}")
    left, right = key.left, key.right
    if max(abs(left.angle), abs(right.angle)) > 90.0:
        angle = max(left.angle, right.angle, key=abs)
        text = f"a tangent's angle lies between -90 and 90 degrees, not at {angle:g}."
        raise Refusal(text, code="number", place=f"the key at frame {key.frame:g}")
    if key.mode == "joined" and abs(left.angle - right.angle) > ONE_ANGLE:
        text = f"its tangents are joined, but have the angles {left.angle:g} and {right.angle:g}; "
        text += "give them one, or break them."
        raise Refusal(text, code="number", place=f"the key at frame {key.frame:g}")
    size = abs(key.frame) + abs(key.value) + abs(left.angle) + abs(right.angle)
    if size + left.length + right.length <= LARGEST and min(left.length, right.length) >= 0.0:
        return key  # not finite is never less
    numbers = {
        "frame": key.frame,
        "value": key.value,
        "left angle": key.left.angle,
        "left length": key.left.length,
        "right angle": key.right.angle,
        "right length": key.right.length,
    }
    for name, number in numbers.items():
        if not math.isfinite(number) or abs(number) > LARGEST:
            raise Refusal(
                f"a key's {name} must be a number within ±1e9, not {number}.", code="number"
            )
    if left.length < 0.0 or right.length < 0.0:
        raise Refusal(
            f"the key at frame {key.frame:g} has a tangent of negative length.", code="number"
        )
    return key


def _check_tint(tint: Tint, place: str) -> None:
    if not TINT_WORD.fullmatch(tint.word):
        text = f"a tint has a word of 1 to {LONGEST_TINT} characters, without line breaks."
        raise Refusal(text, code="text", place=place)
    if not COLOUR.fullmatch(tint.colour):
        raise Refusal("write a colour as #RRGGBB.", code="text", place=place)


def _joined(key: Key) -> Key:
    if key.mode != "joined" or key.left.angle == key.right.angle:
        return key
    if key.left.length <= NO_LENGTH:
        return replace(key, left=replace(key.left, angle=key.right.angle))
    if key.right.length <= NO_LENGTH:
        return replace(key, right=replace(key.right, angle=key.left.angle))
    return key


def with_keys(curve: Curve | None, keys: Iterable[Key]) -> Curve:
    """The curve with these keys added; a key already on one of their frames is replaced.

    Raises:
        Refusal: when no key would be left, or more than ``MOST_KEYS``.
    """
    merged = {key.frame: key for key in (curve.keys if curve else ())}
    merged.update({key.frame: checked(key) for key in keys})
    if not merged:
        raise Refusal("a curve needs at least one key.")
    if len(merged) > MOST_KEYS:
        raise Refusal(f"a curve holds at most {MOST_KEYS:,} keys.", code="too much")
    ordered = tuple(merged[frame] for frame in sorted(merged))
    outside = curve or Curve(())
    return replace(outside, keys=with_smart_tangents(ordered))


def without_keys(curve: Curve, frames: Iterable[float]) -> Curve:
    """The curve without its keys on these frames; it may have none left."""
    gone = set(frames)
    for frame in gone:
        found_key(curve, frame)
    kept = tuple(key for key in curve.keys if key.frame not in gone)
    return replace(curve, keys=with_smart_tangents(kept))


def changed_keys(curve: Curve, changes: Mapping[float, Key]) -> Curve:
    """The curve with the key on each given frame replaced by another, which may lie elsewhere.

    Raises:
        Refusal: when a key is not there, or lands on the frame of a key that stays.
    """
    for frame in changes:
        found_key(curve, frame)
    staying = {key.frame for key in curve.keys if key.frame not in changes}
    landing = [checked(key) for key in changes.values()]
    taken = staying | {key.frame for key in landing}
    if len(taken) < len(staying) + len(landing):
        twice = sorted(key.frame for key in landing)
        clash = next((f for f in twice if f in staying), twice[0])
        raise Refusal(
            f"there is a key at frame {clash:g} already; choose another frame.", code="taken"
        )
    rest = Curve(tuple(k for k in curve.keys if k.frame in staying), curve.before, curve.after)
    return with_keys(rest, landing)


def found_key(curve: Curve, frame: float) -> Key:
    """The key on this frame.

    Raises:
        Refusal: when there is none.
    """
    key = curve.key_at(frame)
    if key is None:
        raise Refusal(f"there is no key at frame {frame:g}.", code="unknown")
    return key


def with_inserted_key(curve: Curve, frame: float) -> Curve:
    """The curve with one more key on it that leaves its shape as it was.

    Beyond the ends that holds where the curve is held or goes straight on; a repeating curve
    repeats a longer span from then on. A smooth segment is divided by de Casteljau's
    construction at the parameter solved for the frame. Smart neighbours become joined: their
    tangents must stay as they are to hold the old shape.

    Raises:
        Refusal: when there is a key on the frame.
    """
    if curve.key_at(frame) is not None:
        raise Refusal(f"there is a key at frame {frame:g} already.", code="taken")
    frames = curve.frames
    at: Array = frames[:1] * 0.0 + frame
    value = float(curve_values(curve, at)[0])
    if not frames[0] < frame < frames[-1]:
        return _extended(curve, frame, value)
    i = int(frames.searchsorted(frame)) - 1
    kind = curve.keys[i].interpolation
    if kind in EASES:
        return _split_segment(_as_smooth(curve, i), i, frame)
    if kind != "smooth":
        keys = (*curve.keys[:i], _pinned(curve.keys[i]), _pinned(curve.keys[i + 1]))
        return with_keys(replace(curve, keys=keys + curve.keys[i + 2 :]), [Key(frame, value, kind)])
    return _split_segment(curve, i, frame)


def _as_smooth(curve: Curve, i: int) -> Curve:
    """The curve with an ease that is a cubic polynomial written as a smooth segment.

    Raises:
        Refusal: when the ease is no single cubic, so that no smooth segment has its shape.
    """
    a, b = curve.keys[i], curve.keys[i + 1]
    inner = EASES[a.interpolation].inner
    if inner is None:
        raise Refusal(
            f"a key inside this {a.interpolation} would change its shape; make the segment "
            "smooth first, or put a key with the value that you want."
        )
    third, rise = (b.frame - a.frame) / 3.0, b.value - a.value
    right = Tangent.reaching(third, inner[0] * rise)
    left = Tangent.reaching(third, (1.0 - inner[1]) * rise)
    before = replace(a, interpolation="smooth", right=right, mode="broken")
    after = replace(b, left=left, mode="broken")
    return replace(curve, keys=(*curve.keys[:i], before, after, *curve.keys[i + 2 :]))


def _pinned(key: Key) -> Key:
    """The key, if smart, with its tangents kept as they are now."""
    return replace(key, mode="joined") if key.mode == "smart" else key


def _extended(curve: Curve, frame: float, value: float) -> Curve:
    """The curve with one more key beyond its ends, on what it shows there. The segment between
    keeps the kind of the key that was at the end, level where the curve is held; it is linear where
    the curve goes straight on."""
    after = frame > curve.frames[-1]
    mode = curve.after if after else curve.before
    place = len(curve.keys) - 1 if after else 0
    end = curve.keys[place]
    kind: Interpolation = "linear" if mode == "straight on" else end.interpolation
    keys = list(curve.keys)
    if mode != "hold":
        keys[place] = _pinned(end)
    elif end.mode != "smart":
        # A smart key is level at an end, and stays so beside a key of the same value.
        level = Tangent.reaching(abs(frame - end.frame) / 3.0, 0.0)
        keys[place] = replace(
            end,
            mode="broken",
            left=end.left if after else level,
            right=level if after else end.right,
        )
    if after:
        keys[place] = replace(keys[place], interpolation=kind)
    return with_keys(replace(curve, keys=tuple(keys)), [Key(frame, value, kind)])


def _split_segment(curve: Curve, i: int, frame: float) -> Curve:
    parts = segments([curve])
    start, span = parts.start[i], parts.span[i]
    one = parts.start[i : i + 1] * 0.0
    s = float(
        solve_time(one + (frame - start) / span, one + parts.first[i], one + parts.second[i])[0]
    )
    times = (start, start + parts.first[i] * span, start + parts.second[i] * span, start + span)
    left, right = _divided(list(zip(times, parts.value[i], strict=True)), s)
    before, after = _pinned(curve.keys[i]), _pinned(curve.keys[i + 1])
    before = replace(before, right=_shortened(before.right, left[0], left[1]))
    after = replace(after, left=_shortened(after.left, right[2], right[3]))
    middle = Key(
        frame,
        float(left[3][1]),
        "smooth",
        _between(left[2], left[3]),
        _between(right[0], right[1]),
        "joined",
    )
    keys = (*curve.keys[:i], *map(_joined, (before, middle, after)), *curve.keys[i + 2 :])
    return replace(curve, keys=keys)


Point = tuple[float, float]


def _divided(points: list[Point], s: float) -> tuple[list[Point], list[Point]]:
    left: list[Point] = []
    right: list[Point] = []
    while points:
        left.append(points[0])
        right.insert(0, points[-1])
        points = [
            (a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1]))
            for a, b in zip(points, points[1:], strict=False)
        ]
    return left, right


def _between(a: Point, b: Point) -> Tangent:
    return Tangent.reaching(float(b[0] - a[0]), float(b[1] - a[1]))


def _shortened(tangent: Tangent, a: Point, b: Point) -> Tangent:
    """The tangent as long as from a to b; its angle is theirs already, also where it is 0 long."""
    return replace(tangent, length=_between(a, b).length)
