import { Hint } from "../../shared/Hint";
import { ink } from "../../shared/theme";
import type { LaneLine } from "./rows";
import { isHead } from "./rows";

/** How many keys lie before or behind the scene's range, where they are easily overlooked. */
export function OutsideRange({ lines, first, last }: { lines: LaneLine[]; first: number; last: number }) {
  const frames = lines.flatMap((line) => (isHead(line) ? [] : line.curve.keys.map((key) => key.frame))).filter((frame) => frame < first || frame > last);
  if (!frames.length) return null;
  const reach = `from ${String(Math.min(...frames))} to ${String(Math.max(...frames))}`;
  return (
    <Hint title={`${String(frames.length)} of the keys lie outside the range ${String(first)} to ${String(last)}, ${reach}. Scene settings change the range; the wheel zooms out.`}>
      <span role="status" style={{ color: ink.trouble, fontSize: 12, whiteSpace: "nowrap" }}>{frames.length} outside</span>
    </Hint>
  );
}
