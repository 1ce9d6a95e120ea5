// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView, StepView } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { standIn } from "../../state/server.testing";
import { AimFields } from "./ConstraintFields";
import type { AimSettings } from "./settings";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const part = (id: string) => ({ id, name: id, parent: null, steps: [], channels: [], shape: {} }) as unknown as PartView;

beforeEach(() => {
  server = standIn();
  useOpenScene.setState({ sceneId: 7, order: ["lamp", "mast"], parts: { lamp: part("lamp"), mast: part("mast") } });
  hand = page();
});
afterEach(() => {
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("asks which part is up before it stores that one is", async () => {
  const settings: AimSettings = { kind: "aim", targets: [{ part: null }] };
  hand.show(<AimFields step={{ id: "s1", name: "look" } as StepView} part="lamp" settings={settings} />);
  hand.choose("What is up for look", "a part");
  await server.settled();
  expect(server.edits()).toEqual([]);
  hand.choose("look up part", "mast");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "change step", step: "s1", settings: { ...settings, up: "part", up_part: "mast" } }]);
});
