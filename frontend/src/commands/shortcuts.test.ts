import { afterEach, expect, it, vi } from "vitest";

const kept = new Map<string, string>([["bindu.keys", JSON.stringify({ play: "P", nonsense: "Q", mute: 7 })]]);
vi.stubGlobal("localStorage", { getItem: (name: string) => kept.get(name) ?? null, setItem: (name: string, text: string) => kept.set(name, text) });
const { changeKeys, isChanged, shortcuts, useKeys, usualKeys } = await import("./shortcuts");

afterEach(() => { usualKeys(); });

it("begins with what this browser kept, as far as it is known and can be read", () => {
  expect(useKeys.getState()).toMatchObject({ play: "P", mute: "M" });
  expect(useKeys.getState()).not.toHaveProperty("nonsense");
  expect(isChanged(useKeys.getState())).toBe(true);
});

it("gives each key to one command", () => {
  const all = Object.values(shortcuts).map(({ keys }) => keys);
  expect(new Set(all).size).toBe(all.length);
  expect(changeKeys("mute", "D")).toBe("key");
  expect(useKeys.getState().mute).toBe("M");
});

it("keeps only what is changed, and forgets it with the usual keys", () => {
  expect(changeKeys("mute", "U")).toBeNull();
  expect(JSON.parse(kept.get("bindu.keys") ?? "")).toEqual({ mute: "U" });
  expect([isChanged(useKeys.getState(), "mute"), isChanged(useKeys.getState(), "play")]).toEqual([true, false]);
  // The key that has become free can be had, and one's own again is no change.
  expect(changeKeys("key", "M")).toBeNull();
  expect(changeKeys("mute", "U")).toBeNull();
  usualKeys();
  expect([JSON.parse(kept.get("bindu.keys") ?? ""), isChanged(useKeys.getState())]).toEqual([{}, false]);
});
