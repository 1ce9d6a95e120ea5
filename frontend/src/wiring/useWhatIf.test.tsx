// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { afterEach, expect, it, vi } from "vitest";

import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import type { WhatIfWish } from "../state/order";
import { standIn } from "../state/server.testing";
import { useWhatIf } from "./useWhatIf";

const client = new QueryClient();
const wish = (value: number): WhatIfWish => ({ one: {}, other: { edits: [{ do: "set value", part: "p1", channel: "size", value }] } });

function Shown({ value }: { value: number }) {
  const { data, late } = useWhatIf(wish(value));
  return <>{data ? `${data.other_edits.length ? "there" : ""} ${late ? "late" : "fresh"}` : "coming"}</>;
}

afterEach(() => {
  closeScene();
  vi.unstubAllGlobals();
});

it("says that what is there is of the wish before, so that nobody keeps that", async () => {
  const server = standIn();
  server.answer("what-if", { other_edits: [{}] });
  useOpenScene.setState({ sceneId: 7 });
  const hand = page();
  const show = (value: number) => { hand.show(<QueryClientProvider client={client}><Shown value={value} /></QueryClientProvider>); };
  show(1);
  expect(hand.said()).toBe("coming");
  await server.settled();
  expect(hand.said()).toBe("there fresh");
  show(2);
  expect(hand.said()).toBe("there late");
  await server.settled();
  expect(hand.said()).toBe("there fresh");
  expect(server.questions("what-if").map(({ body }) => body)).toMatchObject([wish(1), wish(2)]);
  hand.close();
});
