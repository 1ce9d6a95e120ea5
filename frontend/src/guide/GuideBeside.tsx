import { Button } from "antd";

import { fetchedLater } from "../shared/fetchedLater";
import { ink } from "../shared/theme";
import { closeGuide, useGuide } from "../state/guide";

const away = (
  <aside aria-label="Guide" role="status" style={{ position: "fixed", right: 0, top: 44, width: 440, maxWidth: "100vw", boxSizing: "border-box", zIndex: 40, display: "flex", alignItems: "flex-start", gap: 6, padding: "8px 12px", background: ink.panel, border: `1px solid ${ink.line}` }}>
    <span style={{ flex: 1, color: ink.trouble }}>The guide was not sent; trying again by itself.</span>
    <Button size="small" type="text" aria-label="Close the guide" onClick={closeGuide}>×</Button>
  </aside>
);
const Guide = fetchedLater(async () => (await import("./Guide")).Guide, null, away);

/** The guide where it is open; it is fetched when it first is. */
export function GuideBeside() {
  const open = useGuide(({ chapter }) => chapter !== null);
  return open && <Guide />;
}
