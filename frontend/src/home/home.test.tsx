// @vitest-environment happy-dom
import { QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { MemoryRouter, Route, Routes } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { SceneEntry } from "../api/client";
import { queryClient } from "../api/queryClient";
import { page } from "../shared/page.testing";
import { usePopup } from "../state/popup";
import { standIn } from "../state/server.testing";
import { useWaiting } from "../state/waiting";
import { Home } from "./Home";
import { NewScene } from "./NewScene";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const entry = (id: number, name: string, more: object = {}) => ({ id, name, parts: 3, first: 0, last: 60, fps: 24, revision: 2, findings: null, pictured: null, tags: [], changed: "2026-05-01T10:00:00", ...more }) as unknown as SceneEntry;
const rows = () => [...document.querySelectorAll("tbody a[href$='/bench']")].map(({ textContent }) => textContent);
const sent = (end: string) => server.asked.filter(({ path }) => path.endsWith(end)).map(({ method, path }) => `${method} ${path}`);

beforeEach(async () => {
  server = standIn();
  server.answer("scenes", { id: 9, scenes: [entry(1, "Ferry", { findings: 4, tags: ["water"] }), entry(2, "Heron", { findings: 0 }), entry(3, "The brood", { tags: ["mill", "late"] })] });
  server.answer("bin", { scenes: [entry(5, "An old one")] });
  server.answer("examples", { id: 9, names: ["Ferry crossing"], starts: ["a water wheel"] });
  server.answer("duplicate", { id: 10 });
  hand = page();
  hand.show(
    <QueryClientProvider client={queryClient}>
      <MemoryRouter>
        <Routes>
          <Route path="/" element={<Home />} />
          <Route path="/scenes/:id/bench" element={<p>a bench</p>} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
  await server.settled();
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); });
  hand.close();
  queryClient.clear();
  vi.unstubAllGlobals();
});

it("says that edits of a scene that was left still wait for the server", () => {
  const said = () => document.querySelector("[role=status]")?.textContent;
  expect(said()).toBe("");
  act(() => { useWaiting.setState({ edits: 2, away: true }); });
  expect(said()).toContain("2 edits wait for the server and go when it answers");
  act(() => { useWaiting.setState({ edits: 0, away: false }); });
});

it("lists scenes with what was found in them, and finds by name and tag", () => {
  expect(rows()).toEqual(["Ferry", "Heron", "The brood"]);
  expect(document.querySelector("[title='What checks found in Ferry']")?.textContent).toBe("4");
  hand.fill("Find a scene", "WATER");
  expect(rows()).toEqual(["Ferry"]);
  hand.type("zeppelin");
  expect(hand.said()).toContain("No scene has “zeppelin” in its name or tags.");
});

it("shows many scenes by pages, what is searched for from its first, and then goes back", async () => {
  const many = Array.from({ length: 55 }, (_, n) => entry(n + 1, `${n < 40 ? "Ferry" : "Heron"} ${String(n + 1)}`));
  server.answer("scenes", { id: 9, scenes: many });
  await act(async () => { await queryClient.invalidateQueries(); });
  await server.settled();
  const page = (n: number) => document.querySelector<HTMLElement>(`.ant-pagination-item-${String(n)}`);
  expect(rows()).toHaveLength(25);
  act(() => { page(3)?.click(); });
  expect(rows()).toEqual(["Heron 51", "Heron 52", "Heron 53", "Heron 54", "Heron 55"]);
  hand.fill("Find a scene", "ferry");
  expect([rows()[0], rows().length, page(3)]).toEqual(["Ferry 1", 25, null]);
  hand.fill("Find a scene", "");
  expect(rows()[0]).toBe("Heron 51");
});

it("puts a tag to those before it, though they are not stored yet", async () => {
  const quick = fetch;
  vi.stubGlobal("fetch", (path: string, init?: RequestInit) => {
    const answer = quick(path, init);
    return init?.method === "PUT" ? new Promise(() => undefined) : answer;
  });
  for (const tag of ["mill", "late"]) {
    hand.choose("Tags of Ferry", tag);
    await server.settled();
  }
  expect(server.asked.filter(({ method }) => method === "PUT").map(({ body }) => body)).toEqual([{ tags: ["water", "mill"] }, { tags: ["water", "mill", "late"] }]);
});

it("makes a scene of a name and opens it, and waits while one is made", async () => {
  hand.enter("Name of a new scene");
  hand.press("Enter");
  hand.type("Mill");
  hand.press("Enter");
  await server.settled();
  const made = server.asked.filter(({ method, path }) => method === "POST" && path === "/api/scenes");
  expect(made.map(({ body }) => body)).toEqual([{ name: "Mill", start: null }]);
  expect(hand.said()).toContain("a bench");
  const again = vi.fn();
  hand.show(<NewScene starts={[]} busy onAdd={again} />);
  hand.fill("Name of a new scene", "Mill");
  hand.press("Enter");
  expect(again).not.toHaveBeenCalled();
});

it("copies, deletes after a question, brings back, and deletes for good after another", async () => {
  hand.click("Duplicate");
  hand.click("Delete");
  await server.settled();
  expect(hand.said()).toContain("Delete “Ferry”?");
  expect(sent("/scenes/1")).toEqual([]);
  act(() => { document.querySelector<HTMLElement>("[data-popup] .ant-btn-primary, [data-popup] .ant-btn-dangerous")?.click(); });
  await server.settled();
  expect([sent("/duplicate"), sent("/scenes/1")]).toEqual([["POST /api/scenes/1/duplicate"], ["DELETE /api/scenes/1"]]);
  act(() => {
    const bin = document.querySelector("details");
    if (!bin) throw new Error("there is no bin");
    bin.open = true;
    bin.dispatchEvent(new Event("toggle"));
  });
  hand.click("Bring An old one back");
  await server.settled();
  expect(sent("/back")).toEqual(["POST /api/bin/5/back"]);
});

/** Files are let go over the page. */
async function dropped(...names: string[]): Promise<Event> {
  const drop = new Event("drop", { bubbles: true, cancelable: true });
  Object.assign(drop, { dataTransfer: { files: names.map((name) => new File(["x"], name)) } });
  act(() => { document.querySelector("main")?.dispatchEvent(drop); });
  await server.settled();
  return drop;
}

it("takes several dropped files, each by what it is, and says which was refused", async () => {
  server.answer("take-in", { report: { otherwise: ["rates were rounded"], lost: ["a light"] } });
  const drop = await dropped("mill.json", "mill.glb");
  expect(drop.defaultPrevented).toBe(true);
  expect(server.asked.map(({ path }) => path).filter((path) => /import|take-in/.test(path))).toEqual(["/api/scenes/import", "/api/scenes/take-in?file=mill.glb"]);
  expect(hand.said()).toContain("Imported mill.glb. · rates were rounded · not held: a light");
});

it("tells of all files that came together in one message", async () => {
  // Without a report, as from a server that cannot make anything of them.
  await dropped("a.glb", "b.glb", "mill.json", "c.glb", "d.glb");
  const told = [...document.querySelectorAll(".ant-message-notice")].map(({ textContent }) => textContent);
  expect(told).toHaveLength(1);
  for (const said of ["a.glb: ", "b.glb: ", "Imported mill.json.", "c.glb: ", "d.glb: "]) expect(told[0]).toContain(said);
});

it("asks for the unit of files that do not say it, once for all of them", async () => {
  const taken = () => server.asked.map(({ path }) => path).filter((path) => path.includes("take-in"));
  server.answer("take-in", { report: { otherwise: [], lost: [] } });
  await dropped("walk.bvh", "mill.glb", "TURN.BVH");
  expect(taken()).toEqual(["/api/scenes/take-in?file=mill.glb"]);
  expect(hand.said()).toContain("walk.bvh and TURN.BVH do not say in which unit lengths are.");
  hand.choose("Unit of the files", "lengths are in centimetres");
  hand.click("Import");
  await server.settled();
  expect(taken().slice(1)).toEqual(["/api/scenes/take-in?file=walk.bvh&unit=0.01", "/api/scenes/take-in?file=TURN.BVH&unit=0.01"]);
  expect(hand.said()).not.toContain("do not say");
  await dropped("a.csv", "b.csv", "c.csv", "d.csv", "e.csv");
  expect(hand.said()).toContain("a.csv, b.csv, c.csv and 2 more do not say");
  hand.click("Not now");
  expect(hand.said()).not.toContain("do not say");
  expect(taken()).toHaveLength(3);
});
