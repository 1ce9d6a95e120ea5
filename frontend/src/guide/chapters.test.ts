import { expect, test } from "vitest";

import guide from "../../../docs/guide.md?raw";
import { chaptersOf, hits, withParts } from "./chapters";

const text = "# Guide\n\nhello\n\n## One\n\nfirst **words**\n\n### Inner\n\n- inner words\n\n## Two\n\n| second | part |\n";

test("a guide is cut into chapters and their parts", () => {
  const chapters = chaptersOf(text);
  expect(chapters.map(({ title, level }) => [title, level])).toEqual([["One", 2], ["Inner", 3], ["Two", 2]]);
  expect(chapters[0]?.text).toBe("first **words**");
  expect(withParts(chapters, "One").map(({ title }) => title)).toEqual(["One", "Inner"]);
  expect(withParts(chapters, "Inner").map(({ title }) => title)).toEqual(["Inner"]);
  expect(withParts(chapters, "Two").map(({ title }) => title)).toEqual(["Two"]);
  expect(withParts(chapters, "gone").map(({ title }) => title)).toEqual(["One", "Inner"]);
});

test("all words are looked for, titles first, and a line tells where", () => {
  const chapters = chaptersOf(text);
  expect(hits(chapters, "WORDS")).toEqual([{ title: "One", line: "first words" }, { title: "Inner", line: "inner words" }]);
  expect(hits(chapters, "inner words").map(({ title }) => title)).toEqual(["Inner"]);
  expect(hits(chapters, " ")).toEqual([]);
  expect(hits(chapters, "nowhere")).toEqual([]);
});

test("every chapter that a heading of a panel opens is in the guide", () => {
  const titles = chaptersOf(guide).map(({ title }) => title);
  const sources: Record<string, string> = import.meta.glob("../**/*.tsx", { query: "?raw", import: "default", eager: true });
  const opened = Object.values(sources).flatMap((source) => [...source.matchAll(/<Chapter name="[^"]*" of="([^"]*)"/g)].map(([, of]) => of));
  expect(opened.length).toBeGreaterThan(10);
  expect(opened.filter((of) => !titles.includes(of ?? ""))).toEqual([]);
  expect(titles).toContain("The Bench");
});
