import { act } from "react";
import { vi } from "vitest";

import type { OneEdit } from "../api/client";
import { packed } from "./packed.testing";

interface Asked {
  method: string;
  path: string;
  body: { edits?: OneEdit[]; trying?: OneEdit[] } & Record<string, unknown>;
}

/** Stands for the server in tests of what hands do: it writes down what it is asked, stores every edit
 * unless told to refuse, and answers other questions as told. */
export function standIn() {
  const asked: Asked[] = [];
  const answers: Record<string, object> = {};
  let refusal: string | null = null;
  const binary = (path: string) => /\/(edits|samples|undo|redo|restore)$/.test(path);
  vi.stubGlobal("fetch", (path: string, { method = "GET", body = "{}" }: { method?: string; body?: string | Blob } = {}) => {
    asked.push({ method, path, body: typeof body === "string" ? (JSON.parse(body) as Asked["body"]) : {} });
    const last = path.split("?")[0]?.split("/").at(-1) ?? "";
    const refused = refusal !== null && last === "edits";
    const answer = refused ? { error: refusal } : (answers[last] ?? {});
    if (refused) refusal = null;
    return Promise.resolve({
      ok: !refused,
      status: refused ? 422 : 200,
      json: () => Promise.resolve(answer),
      arrayBuffer: () => Promise.resolve(packed({ revision: 1, first: 0, last: 0, blocks: [], ...answer }, [])),
    });
  });
  return {
    asked,
    /** What questions that end in this word are answered; of binary answers, what their head says. */
    answer: (last: string, with_: object) => { answers[last] = with_; },
    /** The next edits are not stored, for this reason. */
    refuse: (reason: string) => { refusal = reason; },
    /** All edits so far, in their order. */
    edits: () => asked.filter(({ path }) => path.endsWith("/edits")).flatMap(({ body }) => body.edits ?? []),
    /** What questions that end in this word were asked. */
    questions: (last: string) => asked.filter(({ path }) => !binary(path) && path.split("?")[0]?.endsWith(last)),
    /** Until everything asked has been answered and drawn. */
    settled: async () => {
      await act(async () => { for (let n = 0; n < 6; n += 1) await new Promise((done) => { setTimeout(done); }); });
    },
  };
}
