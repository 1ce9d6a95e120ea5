import { Button } from "antd";

import { PaperChoice } from "../commands/PaperChoice";
import { Brand } from "../shared/Brand";
import { ink } from "../shared/theme";
import { openGuide } from "../state/guide";
import { useWaitingWords } from "../state/waiting";

/** What stands above all scenes: the name, whether anything waits, the paper, and where to begin. */
export function HomeBar({ begins, onBegin }: { begins: boolean; onBegin: () => void }) {
  const waiting = useWaitingWords();
  return (
    <div style={{ display: "flex", justifyContent: "space-between", alignItems: "center" }}>
      <Brand />
      <span role="status" style={{ color: ink.trouble }}>{waiting}</span>
      <span style={{ display: "flex", gap: 12, alignItems: "center" }}>
        <PaperChoice />
        <Button size="small" loading={begins} title="A short path through a scene of its own: from nothing to a wheel that turns by the way it has gone" onClick={onBegin}>First five minutes</Button>
        <Button size="small" onClick={() => { openGuide("Words"); }}>Guide</Button>
      </span>
    </div>
  );
}
