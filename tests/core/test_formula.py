"""The formula language: values, and what it refuses and where."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from bindu.core.edits import applied
from bindu.core.edits.channels import AddChannel
from bindu.core.edits.parts import AddPart, RenamePart
from bindu.core.formula.compiler import compiled
from bindu.core.formula.references import to_identities, to_names
from bindu.core.formula.scaling import scaled
from bindu.core.nodes.identity import Read
from bindu.core.nodes.operation import Times
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene

TIMES = Times.of(0, 10, 24.0)
SCENE = applied(
    Scene(),
    [
        AddPart("ferry", id="p1"),
        AddPart("rope drum", id="p2"),
        AddChannel("p2", "bite depth", id="c1"),
    ],
)


def value(text: str) -> float:
    """A formula's value on frame 6."""
    values = compiled(text).values((), TIMES)
    return float(values[6 if len(values) > 1 else 0])


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("1 + 2 * 3 - 4 / 8", 6.5),
        ("-2 ^ 2", -4.0),
        ("2 ^ 3 ^ 2", 512.0),
        ("2 ^ -1", 0.5),
        ("(1 + 2) * 3", 9.0),
        ("-7 % 3", 2.0),
        (".5e1 + 1.", 6.0),
        ("frame", 6.0),
        ("seconds * fps", 6.0),
        ("sin(30) + cos(60) + tan(45)", 2.0),
        ("asin(1) + acos(1) + atan(1)", 135.0),
        ("atan2(1, -1)", 135.0),
        ("degrees(pi) + radians(180)", 180.0 + math.pi),
        ("hypot(3, 4)", 5.0),
        ("min(3, 1, 2) + max(3, 1, 2)", 4.0),
        ("abs(-2) + sign(-2) + sqrt(9) + exp(0) + ln(e) + log10(100)", 8.0),
        ("floor(-1.5) + ceil(1.2) + round(2.5)", 3.0),
        ("if(frame > 5, 10, 20)", 10.0),
        ("if(frame > 5 and not frame == 6 or 1 < 0, 10, 20)", 20.0),
        ("clamp(12, 0, 10) + mix(1, 3, 0.25)", 11.5),
        ("remap(5, 0, 10, 100, 200)", 150.0),
        ("smoothstep(0, 4, 1)", 0.15625),
        ("1 <= 1 and 2 != 3", 1.0),
        ("tau / 2 - pi", 0.0),
    ],
)
def test_values(text: str, expected: float) -> None:
    assert value(text) == pytest.approx(expected, abs=1e-12)


@pytest.mark.parametrize(
    ("text", "column", "says"),
    [
        ("", 1, "empty"),
        ("1 +", 4, "a value is missing at the end, behind +."),
        ("1 and not", 10, "behind not"),
        ("sin(3", 6, "a closing bracket ) is missing"),
        ("sin((3 + 1", 11, "2 closing brackets ) are missing"),
        ("ferry.translation.x * 2", 6, "a channel stands in braces"),
        ("1 + * 2", 5, "does not fit"),
        ("2 $ 3", 3, "not part of"),
        ("frame = 3", 7, "=="),
        ("sinus(3)", 1, "Nearest: sin"),
        ("clamp(1, 2)", 1, "clamp(x, lo, hi)"),
        ("framee + 1", 1, "Nearest: frame"),
        ("sin + 1", 1, "write sin(x)"),
        ("1 + {fery.translation.x}", 6, "Nearest: ferry"),
        ("{ferry.translaton.x}", 8, "Nearest: ferry.translation.x"),
        ("{rope drum.bite depht}", 12, "Nearest: rope drum.bite depth"),
        ("{ferry.translation.x@drivn}", 22, "Nearest: driven"),
        ("{ferry} + 1", 1, "names a part"),
        ("2 * {ferry.translation.x", 5, "brace"),
        ("distance({ferry})", 1, "distance({a}, {b})"),
        ("travelled({ferry.translation.x})", 1, "travelled({a})"),
        ("(" * 200 + "1" + ")" * 200, 101, "nested"),
        ("-" * 200 + "frame", 101, "nested"),
        ("1 + " * 3000 + "1", 2001, "at most 2,000 characters"),
        ("1e999", 1, "too large"),
    ],
)
def test_refusals_name_the_column(text: str, column: int, says: str) -> None:
    with pytest.raises(Refusal) as refused:
        to_identities(SCENE, text)
    assert refused.value.column == column
    assert says in str(refused.value)


@given(st.text(alphabet="0123456789+-*/%^()<>=!.,{}@ abcefinrsx_\n", max_size=60))
def test_any_text_is_a_formula_or_a_refusal(text: str) -> None:
    try:
        to_identities(SCENE, text)
    except Refusal as refusal:
        assert refusal.column is not None
        assert 1 <= refusal.column <= len(text) + 1


def test_references_are_kept_by_identity_and_shown_by_name() -> None:
    text = "{ferry.translation.x@driven} + {rope drum.bite depth} * "
    text += "distance({ferry},{rope drum@keyed})"
    stored = to_identities(SCENE, text)
    assert "ferry" not in stored
    assert compiled(stored).reads == (
        Read("p1", "translation.x", "driven"),
        Read("p2", "c1", "final"),
        Read("p1", "world position", "final"),
        Read("p2", "world position", "keyed"),
    )
    assert to_names(SCENE, stored) == text
    renamed = applied(SCENE, [RenamePart("p1", "raft")])
    assert to_names(renamed, stored) == text.replace("ferry", "raft")


def test_measures_take_arrays_of_positions() -> None:
    a, b = np.array([[0.0, 3.0, 0.0]]), np.array([[4.0, 0.0, 0.0], [0.0, 3.0, 1.0]])
    formula = compiled("distance({a}, {b}) + world_y({a})")
    np.testing.assert_allclose(formula.values((a, b), TIMES), [8.0, 4.0])


@pytest.mark.parametrize(
    ("text", "factor", "made"),
    [
        ("-degrees({a.c} / 0.5)", 1.2500000000000002, "-degrees({a.c} / 0.4)"),
        ("2 * {a.c}", 3.0, "6 * {a.c}"),
        ("{a.c} * 4 * sin(30)", 0.5, "{a.c} * 2 * sin(30)"),
        ("sin(2) * {a.c} / 3", -1.5, "sin(2) * {a.c} / (-2)"),
        ("-degrees({a.c} / 2) / 4", 4.0, "-degrees({a.c} / 2)"),
        ("{a.c} / 4", 0.4, "{a.c} / 10"),
        ("{a.c} / 4", 5.6, "{a.c} / 0.7142857142857"),
        ("{a.c} + 2", 1.5, "1.5 * ({a.c} + 2)"),
        ("-5", 2.0, "-10"),
    ],
)
def test_a_factor_is_taken_in_by_the_number_that_scales_all(
    text: str, factor: float, made: str
) -> None:
    assert scaled(text, factor).text == made


@given(st.sampled_from(["2 * x", "x / 7 / 2", "-(3 * (x * 5))", "x - 1"]), st.floats(-9, 9))
def test_a_scaled_formula_makes_so_many_times_as_much(text: str, factor: float) -> None:
    assume(abs(factor) > 1e-3)
    one = text.replace("x", "(frame + 0.25)")
    at = Times.of(0, 9, 24.0)
    before = compiled(one).values([], at)
    after = compiled(scaled(one, factor).text).values([], at)
    np.testing.assert_allclose(after, factor * before, rtol=1e-9)
