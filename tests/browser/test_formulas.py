"""Formulas in the ledger: dragged, completed, lifted, copied; slip fitted; wired by name."""

from __future__ import annotations

import json
import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import expect

from bindu.core.drivers.slip import slip_of
from bindu.core.formula.references import to_names
from bindu.core.scene.names import parts_by_name
from tests.browser.bench import Bench, shown
from tests.wide import only_wide


def text_of(bench: Bench, step: str) -> str:
    """A formula as the server holds it."""
    scene = bench.evaluation().scene
    return to_names(scene, scene.steps[step].settings.text)  # type: ignore[union-attr]


def test_a_number_is_dragged_a_formula_typed_or_refused_and_the_curve_follows(
    bench: Bench,
) -> None:
    bench.open("p3", "rotation.z", 90)
    page, field = bench.page, bench.field("paddle.rotation.z")
    before = shown(bench.value("paddle.rotation.z", 90))
    expect(field).to_have_value(before)
    factor = page.get_by_role("spinbutton", name="number 1 of turn by distance")
    # What stands above it comes by a request of its own, and moves it down.
    expect(page.get_by_role("group", name="Last word").get_by_role("button").first).to_be_visible()
    box = factor.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 100, y, steps=5)
    expect(field).not_to_have_value(before)
    bench.saved(0)
    page.mouse.up()
    bench.saved(1)
    assert text_of(bench, "s1").endswith("/ 5")
    bench.expect_drawn("paddle.rotation.z", "driven")
    # Typed anew, and refused where it is wrong.
    formula = "Formula of turn by distance"
    page.get_by_role("button", name=formula).click()
    page.get_by_role("textbox", name=formula).fill("-degrees(travelled({fery})) / 4")
    page.keyboard.press("Enter")
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("Column 21: there is no part 'fery'. Nearest: ferry")
    bench.saved(1)
    page.keyboard.press("Escape")
    expect(field).to_have_value(shown(bench.value("paddle.rotation.z", 90)))
    page.get_by_role("button", name=formula).click()
    page.get_by_role("textbox", name=formula).fill("-degrees(travelled({ferry})) / 6")
    page.keyboard.press("Enter")
    bench.saved(2)
    bench.expect_drawn("paddle.rotation.z")
    value = bench.value("paddle.rotation.z", 90)
    assert value == pytest.approx(-np.degrees(bench.value("ferry.translation.x", 90) + 4.5) / 6)
    expect(field).to_have_value(shown(value))
    expect(bench.bead("stop pin")).to_contain_text(shown(value))


@only_wide
def test_a_formula_is_copied_and_changed_for_all(heron: Bench) -> None:
    ids = parts_by_name(heron.evaluation().scene)
    heron.open(ids["left feather 1"], "rotation.y", 0)
    page = heron.page
    page.get_by_role("region", name="driven").get_by_role("button", name="+ formula").click()
    heron.saved(1)
    field = page.get_by_role("textbox", name="Formula of formula")
    field.fill("{body.spread} * 5 + {left feather 1.rotation.z}")
    field.press("Enter")
    heron.saved(2)
    page.get_by_role("button", name="copy to… parts: formula").click()
    targets = page.get_by_role("combobox", name="Parts to copy to")
    wanted = ["left feather 2", "right feather 1"]
    for name in wanted:
        targets.fill(name)
        targets.press("Enter")
    # Esc closes the list that hangs open, and leaves the popup.
    page.keyboard.press("Escape")
    expect(targets).to_have_attribute("aria-expanded", "false")
    preview = page.get_by_role("table", name="What each part would get")
    expect(preview).to_contain_text("{body.spread} * 5 + {right feather 1.rotation.z}")
    page.get_by_role("button", name="Copy to 2 parts").click()
    heron.saved(3)
    scene = heron.evaluation().scene
    for name in wanted:
        (step,) = (s for s in scene.steps_of[ids[name]] if s.name == "formula")
        expected = f"{{body.spread}} * 5 + {{{name}.rotation.z}}"
        assert to_names(scene, step.settings.text) == expected  # type: ignore[union-attr]
    page.keyboard.press("Escape")
    page.mouse.click(640, 300)
    expect(page.get_by_text("3 alike")).to_be_visible()
    page.get_by_role("spinbutton", name="number 1 of formula").click()
    every = page.get_by_role("textbox", name="Value in all alike")
    every.fill("9")
    every.press("Enter")
    heron.saved(4)
    scene = heron.evaluation().scene
    texts = [s.settings.text for s in scene.steps.values() if s.name == "formula"]  # type: ignore[union-attr]
    assert len(texts) == 3
    assert all("* 9 +" in text for text in texts)


@only_wide
def test_a_slipping_paddle_is_fitted(bench: Bench) -> None:
    bench.open("p3", "rotation.z", 90)
    page = bench.page
    page.get_by_role("button", name="Mute stop pin").click()
    bench.saved(1)
    bench.kit("slip probe", "water line")
    card = page.get_by_role("region", name="Slip probe water line")
    before = slip_of(bench.evaluation(), bench.evaluation().scene.probes["q1"]).amounts
    told = f"sum {shown(float(before.sum()), 'm')}"
    expect(card).to_contain_text(told)
    expect(card).to_contain_text(f"at {int(before.argmax())}")
    # It follows what is only tried: a number of the formula under the hand.
    box = page.get_by_role("spinbutton", name="number 1 of turn by distance").bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 120, box["y"] + box["height"] / 2, steps=4)
    expect(card).not_to_contain_text(told)
    page.keyboard.press("Escape")
    page.mouse.up()
    expect(card).to_contain_text(told)
    bench.saved(1)
    card.get_by_role("button", name="Fit", exact=True).click()
    expect(card).to_contain_text("factor 4.000000")
    expect(
        card.get_by_role("button", name="Use -degrees(travelled({ferry}) / 0.5)")
    ).to_be_visible()
    card.get_by_role("button", name=re.compile("^Use .*radius")).click()
    bench.saved(2)
    after = slip_of(bench.evaluation(), bench.evaluation().scene.probes["q1"]).amounts
    assert after.max() < 1e-6
    expect(card).to_contain_text("sum 0.000 m")


@only_wide
def test_a_list_of_names_becomes_a_rule_and_rules_are_kept_as_json(
    bench: Bench, tmp_path: Path
) -> None:
    bench.open("p1", "translation.x", 0)
    page = bench.page
    bench.kit("rule")
    page.get_by_role("textbox", name="Names, a line each").fill("deck\nmast\nrudder")
    page.get_by_role("button", name="Add a rule for 3").click()
    expect(page.get_by_text("No part is called rudder.")).to_be_visible()
    formula = page.get_by_role("textbox", name="Formula of the rule")
    formula.fill("{ferry.lading} * 2")
    wired = page.get_by_role("list", name="What would be wired")
    expect(wired).to_contain_text("Nearest: ferry.landing")
    formula.fill("0.5 * {ferry.translation.x}")
    expect(page.get_by_text("2 parts fit, 20 fit no rule")).to_be_visible()
    with page.expect_download() as kept:
        page.get_by_role("button", name="Save", exact=True).click()
    path = tmp_path / "rules.json"
    kept.value.save_as(path)
    assert json.loads(path.read_text())[0]["pattern"] == "[deck,mast,rudder]"
    page.get_by_role("button", name="Delete the rule input", exact=True).click()
    bench.kit("rule")
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Load", exact=True).click()
    chooser.value.set_files(path)
    page.get_by_role("button", name="Wire 2").click()
    bench.saved(1)
    steps = bench.evaluation().scene.steps.values()
    assert sorted(step.part for step in steps if step.name == "input") == ["p2", "p4"]
