"""Rolling without slip: the probe's closed forms, and the factor that a fit finds."""

from __future__ import annotations

import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bindu.core.curves.model import Key
from bindu.core.drivers.slip import Fit, fitted, slip_of
from bindu.core.edits import AnyEdit, applied
from bindu.core.edits.channels import SetValue
from bindu.core.edits.keys import PutKeys
from bindu.core.edits.parts import AddPart, RemoveParts
from bindu.core.edits.probes import PutProbe, RemoveProbe
from bindu.core.edits.scene import ChangeScene
from bindu.core.edits.steps import AddStep, ChangeStep
from bindu.core.evaluation import evaluate
from bindu.core.refusal import Refusal
from bindu.core.scene.model import Scene
from bindu.core.scene.parts import Rest
from bindu.core.scene.settings import FormulaSettings, LimitSettings

UNEVEN = (Key(0.0, 0.0), Key(20.0, 3.0), Key(35.0, 3.2), Key(80.0, 9.0), Key(96.0, 8.0))


def cart(formula: str, radius: float, *more: AnyEdit) -> Scene:
    """A cart that goes at an uneven speed and back a little, with a wheel on it."""
    return applied(
        Scene(),
        [
            ChangeScene(last=96),
            AddPart("cart", id="p1"),
            AddPart("wheel", "p1", rest=Rest((0.0, radius, 0.0)), id="p2"),
            PutKeys("p1", "translation.x", UNEVEN),
            AddStep("p2", "roll", FormulaSettings("rotation.z", formula), id="s1"),
            PutProbe("rim", "p2", (0.0, -radius, 0.0), True, id="q1"),
            *more,
        ],
    )


def fit_of(scene: Scene, first: int = 0, last: int = 96) -> Fit:
    """What the fit says of the wheel."""
    evaluation = evaluate(scene)
    return fitted(evaluation, scene.probes["q1"], scene.steps["s1"], first, last)


@given(st.floats(0.05, 3.0))
def test_a_wheel_that_turns_by_its_way_does_not_slip(radius: float) -> None:
    scene = cart(f"-degrees(travelled_x({{cart}}) / {radius!r})", radius)
    slip = slip_of(evaluate(scene), scene.probes["q1"])
    assert slip.amounts.max() < 1e-9
    np.testing.assert_allclose(slip.points[:, 1], 0.0, atol=1e-12)


def test_a_locked_wheel_slips_by_the_whole_way_and_a_fixed_point_by_its_own() -> None:
    scene = cart("0", 0.5)
    way = np.abs(np.diff(evaluate(scene).world("p1")[:, 0, 3]))
    slip = slip_of(evaluate(scene), scene.probes["q1"])
    np.testing.assert_allclose(slip.amounts[1:], way, atol=1e-12)
    foot = applied(scene, [PutProbe("foot", "p2", (0.0, -0.5, 0.0), False, "p1", "q2")])
    assert slip_of(evaluate(foot), foot.probes["q2"]).amounts.max() < 1e-12


@given(st.floats(0.1, 2.0), st.floats(0.05, 20.0), st.booleans())
def test_the_fit_recovers_the_radius_and_the_sign(radius: float, wrong: float, back: bool) -> None:
    sign = "" if back else "-"
    scene = cart(f"{sign}degrees(travelled_x({{cart}}) / {wrong!r})", radius)
    fit = fit_of(scene)
    assert abs(fit.factor) == pytest.approx(wrong / radius, rel=1e-6)
    assert (fit.factor < 0.0) == back
    assert fit.after < 1e-6
    assert not fit.reasons
    for text in (fit.text, fit.exact):
        assert text is not None
        mended = applied(scene, [ChangeStep("s1", settings=FormulaSettings("rotation.z", text))])
        rest = slip_of(evaluate(mended), mended.probes["q1"]).amounts.max()
        assert rest < (1e-6 if text is fit.text else 1e-4 * radius)


def test_it_still_holds_after_a_thousand_metres() -> None:
    grown = ChangeScene(last=4000)
    long = PutKeys("p1", "translation.x", (Key(0.0, 0.0), Key(4000.0, 1012.0)))
    scene = cart("-degrees(travelled_x({cart}) / 0.5)", 0.5, grown, long)
    slip = slip_of(evaluate(scene), scene.probes["q1"])
    assert slip.amounts.max() < 1e-9
    assert slip.amounts.sum() < 1e-6


def test_what_is_left_has_its_reason() -> None:
    tilted = fit_of(cart("-degrees(travelled_x({cart}))", 0.5, SetValue("p1", "rotation.y", 10.0)))
    assert any("across" in reason and "tilted" in reason for reason in tilted.reasons)
    hilly = fit_of(
        cart(
            "-degrees(travelled_x({cart}))",
            0.5,
            PutKeys("p1", "translation.y", (Key(0.0, 0.0), Key(96.0, 1.0))),
        )
    )
    assert any("rises or sinks" in reason for reason in hilly.reasons)
    other = fit_of(cart("-3 * frame", 0.5))
    assert any("its speed does not follow the way" in reason for reason in other.reasons)
    assert other.after < other.before
    pin = AddStep("p2", "stop pin", LimitSettings("rotation.z", -90.0, 90.0))
    pinned = fit_of(cart("-degrees(travelled_x({cart}))", 0.5, pin))
    assert pinned.factor == pytest.approx(2.0)
    assert pinned.reasons[0].startswith("“stop pin” behind the formula changes what it makes")


def test_a_ground_that_moves_is_what_counts() -> None:
    raft = [
        AddPart("raft", id="p9"),
        PutKeys("p9", "translation.x", UNEVEN),
        PutProbe("rim", "p2", (0.0, -0.5, 0.0), True, "p9", "q1"),
    ]
    scene = cart("0", 0.5, *raft)
    assert slip_of(evaluate(scene), scene.probes["q1"]).amounts.max() < 1e-12


def test_what_cannot_be_fitted_is_refused_and_probes_go_with_their_parts() -> None:
    with pytest.raises(Refusal, match=re.escape("roll: it does not move the probe")):
        fit_of(cart("0", 0.5))
    scale = FormulaSettings("rotation.z", "2", "scale")
    with pytest.raises(Refusal, match="a formula that scales has no factor"):
        fit_of(applied(cart("0", 0.5), [ChangeStep("s1", settings=scale)]))
    with pytest.raises(Refusal, match="a part cannot slip on itself"):
        cart("0", 0.5, PutProbe("own", "p2", ground="p2"))
    with pytest.raises(Refusal, match="no slip probe 'q7'"):
        applied(cart("0", 0.5), [RemoveProbe("q7")])
    assert not applied(cart("0", 0.5), [RemoveParts(("p2",))]).probes
