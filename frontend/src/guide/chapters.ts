/** A chapter of the guide, or a part of one. */
export interface Chapter {
  title: string;
  /** 2 for a chapter, 3 for a part of it. */
  level: number;
  /** What it says, in Markdown, without its parts. */
  text: string;
}

/** The chapters of a guide in Markdown, in their order; the title of the whole is left out. */
export function chaptersOf(guide: string): Chapter[] {
  return guide
    .split(/^(?=#{2,3} )/m)
    .slice(1)
    .map((piece) => {
      const [heading = "", ...lines] = piece.split("\n");
      const level = heading.startsWith("### ") ? 3 : 2;
      return { title: heading.slice(level + 1).trim(), level, text: lines.join("\n").trim() };
    });
}

/** A chapter with its parts, or a part alone; the first chapter where none has the title. */
export function withParts(chapters: Chapter[], title: string): Chapter[] {
  const at = Math.max(chapters.findIndex((one) => one.title === title), 0);
  const level = chapters[at]?.level ?? 2;
  const end = chapters.findIndex((one, n) => n > at && one.level <= level);
  return chapters.slice(at, end < 0 ? undefined : end);
}

export interface Hit {
  title: string;
  /** A line of it that holds one of the words, without marks. */
  line: string;
}

/** The chapters that hold all words that are looked for, those that name them in their titles first. */
export function hits(chapters: Chapter[], search: string): Hit[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.length) return [];
  const fits = (text: string) => words.every((word) => text.toLowerCase().includes(word));
  const found = chapters.filter(({ title, text }) => fits(`${title} ${text}`));
  const byTitle = (one: Chapter) => (fits(one.title) ? 0 : 1);
  return found
    .sort((a, b) => byTitle(a) - byTitle(b))
    .map(({ title, text }) => {
      const lines = text.replace(/[*`|]/g, "").split("\n").map((line) => line.replace(/^\s*- /, "").trim());
      const line = lines.find(fits) ?? lines.find((one) => words.some((word) => one.toLowerCase().includes(word))) ?? lines[0] ?? "";
      return { title, line };
    });
}
