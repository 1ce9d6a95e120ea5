// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, expect, it } from "vitest";

import type { BeadView, PartView, SceneHeader } from "../api/client";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { useSamples } from "../state/samples";
import { Reads } from "./Reads";

const read = (quantity: string) => ({ label: `mast ${quantity}`, part: "p1", quantity, tap: "final", node: `p1/${quantity}/final` });
const bead = (kind: string) => ({ kind, reads: [read("rotation.x"), read("world position"), read("size")] }) as BeadView;
const block = (...data: number[]) => ({ key: "k", frames: 1, width: data.length, data: Float32Array.from(data) });
const told = () => [...document.querySelectorAll("li .mono")].map(({ textContent }) => textContent);

afterEach(() => {
  act(() => { useSamples.setState({ blocks: {} }); });
  closeScene();
});

it("tells what is read as the scene is looked at, and what a formula calculates with in metres and degrees", () => {
  const channels = [{ id: "rotation.x", unit: "°" }, { id: "size", unit: "" }];
  useOpenScene.setState((scene) => ({ parts: { p1: { id: "p1", channels } as unknown as PartView }, header: { ...scene.header, units: { length: "cm", angle: "turns" } } as SceneHeader }));
  useSamples.setState({ blocks: { "p1/rotation.x/final": block(90), "p1/world position/final": block(1, 0.5, -2), "p1/size/final": block(3) } });
  const hand = page();
  hand.show(<Reads bead={bead("aim")} />);
  expect(told()).toEqual(["0.2500 turns", "100.0, 50.0, −200.0 cm", "3.000"]);
  hand.show(<Reads bead={bead("formula")} />);
  expect(told()).toEqual(["90.00°", "1.00, 0.50, −2.00 m", "3.000"]);
  hand.close();
});
