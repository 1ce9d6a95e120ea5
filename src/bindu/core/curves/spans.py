"""Keys written over a span of a curve, which stays as it was everywhere else."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from bindu.core.curves.combine import fitted
from bindu.core.curves.evaluate import curve_values, end_slope
from bindu.core.curves.keys import found_key, with_inserted_key, with_keys
from bindu.core.curves.model import Curve, Key
from bindu.core.curves.whole_frames import whole_frames
from bindu.core.refusal import Refusal

Span = tuple[int, int]
"""First and last whole frame."""
REPEATING = ("repeat", "repeat with offset", "mirror")


def with_span(curve: Curve, span: Span, keys: Iterable[Key], shown: Span) -> Curve:
    """The curve with these keys in a span in place of its own.

    On all whole frames of ``shown`` outside the span it stays as it was: keys hold it on the
    frames next to the span, and where it goes on beyond its keys, it goes on as before. A curve
    that repeats is written out up to the ends of ``shown``.

    Args:
        curve: at least one key.
        span: where keys are written; own keys in it go, those between whole frames too.
        keys: on frames of the span.
        shown: the range of the scene.
    """
    made = held_around(written_out(curve, shown), span, shown)
    kept = [key for key in made.keys if not span[0] - 1 < key.frame < span[1] + 1]
    return with_keys(replace(made, keys=()), [*kept, *keys])


def held_around(curve: Curve, span: Span, shown: Span) -> Curve:
    """The curve, the same, with keys that hold its shape before and after a span."""
    before, after = span[0] - 1, span[1] + 1
    made = curve
    edges = [float(f) for f in (before, after) if shown[0] <= f <= shown[1]]
    # Beyond the keys first, while the curve still ends as it did.
    for edge in sorted(edges, key=lambda at: curve.keys[0].frame < at < curve.keys[-1].frame):
        made = with_key_held(made, edge)
    if before >= shown[0]:
        made = _straight_before(made, curve, float(before))
    return _straight_after(made, curve, float(after)) if after <= shown[1] else made


def written_out(curve: Curve, shown: Span) -> Curve:
    """A curve that repeats before or after its keys, written out with keys up to the ends of a
    range, beyond which it is held; any other curve as it is."""
    made = curve
    if curve.after in REPEATING and len(curve.keys) > 1 and shown[1] > curve.keys[-1].frame:
        made = _repeated(made, curve, (curve.keys[-1].frame, float(shown[1])))
        made = replace(made, after="hold")
    if curve.before in REPEATING and len(curve.keys) > 1 and shown[0] < curve.keys[0].frame:
        made = _repeated(made, curve, (float(shown[0]), curve.keys[0].frame))
        made = replace(made, before="hold")
    return made


def stepped(curve: Curve, frame: int, old: float, new: float, shown: Span) -> Curve:
    """The curve with a step: held at ``old`` on the frame before, at ``new`` on this one and from
    there on its way to its next key. On all whole frames of ``shown`` before the step, and from
    that next key on, it stays as it was."""
    whole = written_out(curve, shown)
    made = with_key_held(whole, float(frame - 1))
    later = [key.frame for key in made.keys if key.frame > frame]
    if later:
        made = _straight_after(with_key_held(made, later[0]), whole, later[0])
    made = _straight_before(made, whole, float(frame - 1))
    held = replace(found_key(made, float(frame - 1)), value=old, interpolation="hold")
    kept = [key for key in made.keys if not frame - 1 <= key.frame <= frame]
    return with_keys(replace(made, keys=()), [*kept, held, Key(float(frame), new, "linear")])


def pinned(key: Key) -> Key:
    """The key, if smart, with its tangents kept as they are now."""
    return replace(key, mode="joined") if key.mode == "smart" else key


def with_key_held(curve: Curve, frame: float) -> Curve:
    """The curve, the same on whole frames, with a key on this one whose tangents stay as they are.
    A segment that no key can divide gets one on every whole frame."""
    key = curve.key_at(frame)
    if key is not None:
        keys = tuple(pinned(key) if one is key else one for one in curve.keys)
        return replace(curve, keys=keys)
    try:
        return with_inserted_key(curve, frame)
    except Refusal:
        i = int(curve.frames.searchsorted(frame)) - 1
        start, end = curve.keys[i], curve.keys[i + 1]
        inside = whole_frames(np.floor(start.frame) + 1.0, end.frame)
        values = curve_values(curve, inside)
        line = [Key(float(f), float(v), "linear") for f, v in zip(inside, values, strict=True)]
        first = replace(pinned(start), interpolation="linear")
        keys = (*curve.keys[:i], first, *line, pinned(end), *curve.keys[i + 2 :])
        return with_keys(replace(curve, keys=()), keys)


def _straight_after(made: Curve, curve: Curve, frame: float) -> Curve:
    """Where a curve goes straight on, the made one with one key more behind its last one, unless
    it goes the same way by itself; from ``frame`` on nothing but this has changed."""
    last = made.keys[-1]
    if made.after != "straight on" or (last.frame > frame and _one_way(curve, made, True)):
        return made
    value = float(curve_values(curve, np.array([last.frame + 1.0]))[0])
    edge = replace(last, interpolation="linear")
    return with_keys(
        replace(made, keys=()), [*made.keys[:-1], edge, Key(last.frame + 1.0, value, "linear")]
    )


def _straight_before(made: Curve, curve: Curve, frame: float) -> Curve:
    """See ``_straight_after``; in front of the first key."""
    first = made.keys[0]
    if made.before != "straight on" or (first.frame < frame and _one_way(curve, made, False)):
        return made
    value = float(curve_values(curve, np.array([first.frame - 1.0]))[0])
    return with_keys(made, [Key(first.frame - 1.0, value, "linear")])


def _one_way(curve: Curve, made: Curve, at_end: bool) -> bool:
    """Whether two curves leave their last, or enter their first, keys with one slope."""
    slopes = end_slope(curve, at_end), end_slope(made, at_end)
    return abs(slopes[0] - slopes[1]) <= 1e-12 * max(abs(slopes[0]), 1.0)


def _repeated(made: Curve, curve: Curve, part: tuple[float, float]) -> Curve:
    """The curve with keys in a part outside its own ones, one end of which is its first or last
    key, that give there what it shows."""
    first, last = curve.keys[0].frame, curve.keys[-1].frame
    turns = np.arange(np.floor((part[0] - first) / (last - first)),
                      np.ceil((part[1] - first) / (last - first)) + 1.0)  # fmt: skip
    if len(turns) * len(curve.keys) > 2.0 * (part[1] - part[0]) + 2.0:
        frames = whole_frames(part[0], np.floor(part[1]) + 1.0)
    else:
        own = curve.frames - first
        own = np.concatenate([own, last - first - own]) if "mirror" in _modes(curve) else own
        frames = (first + turns[:, None] * (last - first) + own).ravel()
    inside = frames[(frames >= part[0]) & (frames <= part[1])]
    edges = np.unique(np.concatenate([inside, part]))
    keys = fitted(lambda at: curve_values(curve, at), edges.tolist(), part).keys
    bare = replace(made, keys=())
    if part[0] == last:
        edge = replace(keys[0], value=made.keys[-1].value, left=made.keys[-1].left)
        return with_keys(bare, [*map(pinned, made.keys[:-1]), edge, *keys[1:]])
    edge = pinned(made.keys[0])
    edge = replace(edge, left=keys[-1].left, mode="broken")
    return with_keys(bare, [*keys[:-1], edge, *map(pinned, made.keys[1:])])


def _modes(curve: Curve) -> tuple[str, str]:
    return curve.before, curve.after


def key_reach(curve: Curve, n: int) -> tuple[float, float]:
    """Between which frames the n-th key has a part in a curve: from the key before to the one after
    it, or one farther on each side where the tangents of its neighbours may lean on it; infinite
    where there is none."""
    keys, far = curve.keys, 1
    if {key.interpolation for key in keys[max(n - 1, 0) : n + 1]} - {"hold", "linear"}:
        far = 2
    low = keys[n - far].frame if n >= far else -math.inf
    return low, keys[n + far].frame if n + far < len(keys) else math.inf
