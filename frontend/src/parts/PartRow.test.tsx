// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView } from "../api/client";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { packed } from "../state/packed.testing";
import { PartRow } from "./PartRow";
import { beginRename, endRename, useRenaming } from "./renaming";

let hand: ReturnType<typeof page>;
let asked: { edits: { name: string }[] }[] = [];
let open: ((response: Response) => void)[] = [];

const part = (id: string, name: string) => ({ id, name, role: "control", parent: null, steps: [], channels: [] }) as unknown as PartView;
const label = "Name of arm";

async function answer(response: Response) {
  const settle = async () => { for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); }); };
  await act(async () => {
    await settle();
    open.shift()?.(response);
    await settle();
  });
}
const stored = () => ({ ok: true, arrayBuffer: () => Promise.resolve(packed({ revision: 1, first: 0, last: 0, blocks: [] }, [])) }) as Response;
const refused = () => new Response(JSON.stringify({ error: "there is one of that name" }), { status: 422 });

beforeEach(() => {
  asked = [];
  open = [];
  vi.stubGlobal("fetch", (_: string, { body }: { body: string }) => {
    asked.push(JSON.parse(body) as (typeof asked)[number]);
    return new Promise<Response>((done) => { open.push(done); });
  });
  useOpenScene.setState({ sceneId: 7, order: ["p1"], parts: { p1: part("p1", "arm") } });
  hand = page();
  hand.show(<PartRow id="p1" />);
  act(() => { beginRename("p1"); });
});
afterEach(() => {
  act(endRename);
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("sends a new name once, though the field is left while it is under way", async () => {
  hand.type("leg");
  hand.press("Enter");
  hand.leave();
  await answer(stored());
  expect(asked.map(({ edits }) => edits[0]?.name)).toEqual(["leg"]);
  expect(useRenaming.getState().part).toBeNull();
});

it("sends nothing on Esc, nor for the name that it has", async () => {
  hand.press("Enter");
  await act(() => Promise.resolve());
  expect(useRenaming.getState().part).toBeNull();
  act(() => { beginRename("p1"); });
  hand.type("leg");
  hand.press("Escape");
  expect([asked, useRenaming.getState().part]).toEqual([[], null]);
});

it("keeps what is typed on while the name before is under way, and sends it too", async () => {
  hand.type("leg");
  hand.press("Enter");
  hand.type("legs");
  await answer(stored());
  expect([useRenaming.getState().part, hand.field(label).value]).toEqual(["p1", "legs"]);
  hand.press("Enter");
  await answer(stored());
  expect(useRenaming.getState().part).toBeNull();
  act(() => { beginRename("p1"); });
  hand.type("wing");
  hand.press("Enter");
  hand.type("wings");
  hand.leave();
  await answer(stored());
  await answer(stored());
  expect(asked.map(({ edits }) => edits[0]?.name)).toEqual(["leg", "legs", "wing", "wings"]);
  expect(useRenaming.getState().part).toBeNull();
});

it("keeps a refused name to be mended, and sends the mended one", async () => {
  hand.type("eye");
  hand.press("Enter");
  await answer(refused());
  expect([hand.field(label).value, document.activeElement === hand.field(label)]).toEqual(["eye", true]);
  hand.type("eyes");
  hand.press("Enter");
  await answer(stored());
  expect(asked.map(({ edits }) => edits[0]?.name)).toEqual(["eye", "eyes"]);
  expect(useRenaming.getState().part).toBeNull();
});
