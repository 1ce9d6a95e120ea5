import { Button, Input, Select } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import Markdown from "react-markdown";
import remarkGfm from "remark-gfm";

import guide from "../../../docs/guide.md?raw";
import { closeGuide, openGuide, useGuide } from "../state/guide";
import { useOpenScene } from "../state/openScene";
import { ink } from "../shared/theme";
import { chaptersOf, hits, withParts } from "./chapters";

const chapters = chaptersOf(guide);

/** The guide, beside the work: a chapter, or what a search finds. */
export function Guide() {
  const chapter = useGuide((open) => open.chapter) ?? "";
  // Below the top bar, which the home page has not.
  const top = useOpenScene(({ sceneId }) => (sceneId ? 44 : 0));
  const [search, setSearch] = useState("");
  const found = hits(chapters, search);
  const field = useRef<HTMLDivElement>(null);
  useEffect(() => { field.current?.querySelector("input")?.focus(); }, []);
  const onKeyDown = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    if (event.key === "Escape") closeGuide();
  };
  const choose = (title: string) => {
    setSearch("");
    openGuide(title);
  };
  return (
    <aside aria-label="Guide" data-landmark tabIndex={-1} onKeyDown={onKeyDown} style={{ position: "fixed", right: 0, top, bottom: 0, width: 440, maxWidth: "100vw", zIndex: 40, display: "flex", flexDirection: "column", background: ink.panel, borderLeft: `1px solid ${ink.line}`, boxShadow: "-6px 0 18px rgb(0 0 0 / 12%)" }}>
      <div style={{ display: "flex", gap: 6, padding: "8px 12px", borderBottom: `1px solid ${ink.line}` }}>
        <Select size="small" aria-label="Chapter" style={{ width: 170 }} value={withParts(chapters, chapter)[0]?.title ?? null} options={chapters.map(({ title, level }) => ({ value: title, label: <span style={{ paddingLeft: level === 3 ? 14 : 0 }}>{title}</span> }))} onChange={choose} />
        <div ref={field} style={{ flex: 1 }}>
          <Input size="small" allowClear aria-label="Find in the guide" placeholder="find in the guide" value={search} onChange={(event) => { setSearch(event.target.value); }} onPressEnter={() => { if (found[0]) choose(found[0].title); }} />
        </div>
        <Button size="small" type="text" aria-label="Close the guide" onClick={closeGuide}>×</Button>
      </div>
      {search.trim() ? <Found found={found} onChoose={choose} /> : <Read chapter={chapter} onChoose={choose} />}
    </aside>
  );
}

function Found({ found, onChoose }: { found: ReturnType<typeof hits>; onChoose: (title: string) => void }) {
  return (
    <ul className="scroll" aria-label="Found in the guide" style={{ listStyle: "none", margin: 0, padding: "8px 12px", flex: 1 }}>
      {found.map(({ title, line }) => (
        <li key={title} style={{ paddingBottom: 8 }}>
          <button type="button" className="bare" style={{ fontWeight: 600 }} onClick={() => { onChoose(title); }}>{title}</button>
          <div style={{ color: ink.quiet, fontSize: 12 }}>{line}</div>
        </li>
      ))}
      {!found.length && <li style={{ color: ink.quiet }}>Nothing in the guide holds all of these words.</li>}
    </ul>
  );
}

function Read({ chapter, onChoose }: { chapter: string; onChoose: (title: string) => void }) {
  const pieces = useMemo(() => withParts(chapters, chapter), [chapter]);
  const text = pieces.map(({ title, level, text }) => `${"#".repeat(level)} ${title}\n\n${text}`).join("\n\n");
  // Links of the guide lead to its own chapters.
  const link = ({ href = "", children }: { href?: string | undefined; children?: React.ReactNode }) => {
    const to = chapters.find(({ title }) => `#${title.toLowerCase().replaceAll(" ", "-")}` === href);
    return to ? <button type="button" className="bare" style={{ textDecoration: "underline dotted" }} onClick={() => { onChoose(to.title); }}>{children}</button> : <>{children}</>;
  };
  return (
    <article key={chapter} className="scroll guide" aria-label={pieces[0]?.title} tabIndex={0} style={{ flex: 1, padding: "4px 16px 16px" }}>
      <Markdown remarkPlugins={[remarkGfm]} components={{ a: link }}>{text}</Markdown>
    </article>
  );
}
