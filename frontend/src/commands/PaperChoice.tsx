import { Segmented } from "antd";

import { choices, choosePaper, paperChoice } from "../shared/papers";

/** On which paper the interface is written; kept in this browser. */
export function PaperChoice() {
  return (
    <label style={{ display: "flex", gap: 8, alignItems: "center" }}>
      Paper
      <Segmented size="small" aria-label="Paper" options={[...choices]} value={paperChoice()} onChange={choosePaper} />
    </label>
  );
}
