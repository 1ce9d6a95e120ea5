// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { StepView } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { packed } from "../../state/packed.testing";
import { FormulaField } from "./FormulaField";

let hand: ReturnType<typeof page>;
let sent: string[] = [];
let open: ((response: Response) => void)[] = [];
let checked = 0;

const settings = { kind: "formula" as const, channel: "rotation.z", text: "1", mode: "set" as const };
const step = { id: "s1", name: "turn", alike: 1, settings } as unknown as StepView;
const label = "Formula of turn";

const settle = async () => { for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); }); };
async function answer(response: Response) {
  await act(async () => {
    await settle();
    open.shift()?.(response);
    await settle();
  });
}
const stored = () => ({ ok: true, arrayBuffer: () => Promise.resolve(packed({ revision: 1, first: 0, last: 0, blocks: [] }, [])) }) as Response;

beforeEach(() => {
  [sent, open, checked] = [[], [], 0];
  vi.stubGlobal("fetch", (path: string, { body }: { body: string }) => {
    const { edits } = JSON.parse(body) as { edits: { settings: { text: string } }[] };
    if (path.endsWith("/check")) checked += 1;
    if (!path.endsWith("/edits")) return Promise.resolve({ ok: true, status: 204 });
    sent.push(edits[0]?.settings.text ?? "");
    return new Promise<Response>((done) => { open.push(done); });
  });
  useOpenScene.setState({ sceneId: 7 });
  hand = page();
  hand.show(<FormulaField step={step} settings={settings} reads={[]} />);
  act(() => { document.querySelector<HTMLButtonElement>("[aria-label^='edit']")?.click(); });
  hand.enter(label);
});
afterEach(() => {
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

const isOpen = () => document.querySelector("textarea[aria-label]") !== null;

it("closes when what was typed is stored, and on Esc without sending anything", async () => {
  hand.type("2 * 3");
  hand.press("Enter");
  expect(isOpen()).toBe(true);
  await answer(stored());
  expect([sent, isOpen()]).toEqual([["2 * 3"], false]);
  act(() => { document.querySelector<HTMLButtonElement>("[aria-label^='edit']")?.click(); });
  hand.fill(label, "7");
  hand.press("Escape");
  expect([sent, isOpen()]).toEqual([["2 * 3"], false]);
});

it("stays open with what was typed while the text before was under way", async () => {
  hand.type("2");
  hand.press("Enter");
  hand.type("2 + 1");
  await answer(stored());
  expect([isOpen(), hand.field(label).value]).toEqual([true, "2 + 1"]);
  hand.press("Enter");
  await answer(stored());
  expect([sent, isOpen()]).toEqual([["2", "2 + 1"], false]);
});

it("stays open with what is refused, and says why, also when a check finds nothing wrong with it", async () => {
  hand.type("2 +");
  hand.press("Enter");
  await answer({ ok: false, status: 422, json: () => Promise.resolve({ error: "a number is missing", column: 4 }) } as Response);
  await vi.waitFor(() => { expect(checked).toBeGreaterThan(0); });
  await act(settle);
  expect([isOpen(), hand.field(label).value, document.querySelector("[role=alert]")?.textContent]).toEqual([true, "2 +", expect.stringContaining("a number is missing")]);
});
