import { afterEach, expect, it, vi } from "vitest";

import { ask, get, post, reason, reasonNow, refusal, Refused } from "./client";

const answers = (body: string | null, status: number) => { vi.stubGlobal("fetch", vi.fn(() => Promise.resolve(new Response(body, { status })))); };
afterEach(() => { vi.unstubAllGlobals(); });

it("gives what the server gives, and nothing where there is nothing", async () => {
  answers('{"revision":3}', 200);
  await expect(get("/api/x")).resolves.toEqual({ revision: 3 });
  answers(null, 204);
  await expect(post("/api/x", { a: 1 })).resolves.toBeUndefined();
  expect(vi.mocked(fetch).mock.calls[0]?.[1]).toMatchObject({ method: "POST", body: '{"a":1}' });
});

it("tells a refusal whole: where, what, what is nearest, and what has changed since", () => {
  const text = (problem: object) => new Refused({ error: "no such part", ...problem }).text;
  expect(text({})).toBe("no such part");
  expect(text({ place: "step s1", column: 4 })).toBe("step s1, column 4: no such part");
  expect(text({ column: 4 })).toBe("column 4: no such part");
  expect(text({ nearest: ["arm", "army"], changed: ["a key"] })).toBe("no such part Nearest: arm, army. Since then: a key.");
  expect(text({ nearest: [], changed: [] })).toBe("no such part");
});

it.each([
  ['{"error":"it is locked"}', 422, "it is locked", true, false],
  ['{"error":"the database does not answer"}', 503, "the database does not answer", false, true],
  ['{"error":"gone"}', 404, "gone", false, false],
  ["<html>Bad Gateway</html>", 502, "The server does not answer; is it still running?", false, true],
  ["", 500, "The server does not answer; is it still running?", false, true],
  ["null", 500, "The server does not answer; is it still running?", false, true],
  ['"error"', 500, "The server does not answer; is it still running?", false, true],
])("makes a refusal of %s with %i", async (body, status, text, broken, passing) => {
  answers(body, status);
  const found: unknown = await ask("/api/x").catch((error: unknown) => error);
  expect(found).toBeInstanceOf(Refused);
  expect(found).toMatchObject({ text, broken, passing });
});

it("says that it tries again where that can help, and only there", () => {
  const away = "The server does not answer; is it still running?";
  expect(reason(new TypeError("network"))).toBe(away);
  expect(reasonNow(new TypeError("network"))).toBe(`${away} Trying again by itself.`);
  expect(reasonNow(refusal({ error: "no database" }, 503))).toBe("no database Trying again by itself.");
  expect(reasonNow(refusal({ error: "it is locked" }, 422))).toBe("it is locked");
});
