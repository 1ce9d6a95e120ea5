import { Button, Select } from "antd";

import { useOpenScene } from "../state/openScene";
import { useBlock, useSamples } from "../state/samples";
import { useSelection } from "../state/selection";
import { useShowing } from "../state/showing";
import { useCommand } from "../state/useEdit";
import { figure } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { ink } from "../shared/theme";
import { saidUnit } from "../shared/units";
import { pathName, unevenOf } from "./paths";

const around = 6;

/** In what the paths are counted, of which point, and where the chosen part's is uneven. */
export function PathChoices() {
  const { pathsIn } = useShowing();
  const order = useOpenScene((scene) => scene.order);
  const parts = useOpenScene((scene) => scene.parts);
  const part = useSelection((selection) => selection.part);
  const place = (axis: number, value: number) => {
    const [x = 0, y = 0, z = 0] = pathsIn.point.map((old, n) => (n === axis ? value : old));
    useShowing.setState({ pathsIn: { ...pathsIn, point: [x, y, z] } });
  };
  const options = [{ value: "0", label: "the world" }, ...order.map((id) => ({ value: id, label: parts[id]?.name ?? id }))];
  return (
    <div style={{ display: "grid", gap: 4, marginLeft: 24, width: 236 }}>
      <span style={{ display: "flex", gap: 6, alignItems: "center" }}>
        <span style={{ color: ink.quiet, width: 34 }}>in</span>
        <Select
          size="small"
          aria-label="Paths are counted in"
          title="In which part the ways are counted: one that looks on, or carries"
          showSearch={{ optionFilterProp: "label" }}
          style={{ flex: 1 }}
          value={pathsIn.space !== null && parts[pathsIn.space] ? pathsIn.space : "0"}
          options={options}
          onChange={(space) => { useShowing.setState({ pathsIn: { ...pathsIn, space: space === "0" ? null : space } }); }}
        />
      </span>
      <span style={{ display: "flex", gap: 6, alignItems: "center" }}>
        <span style={{ color: ink.quiet, width: 34 }}>point</span>
        {["x", "y", "z"].map((axis, n) => (
          <NumberField key={axis} label={`point of the path, ${axis}`} hint="From the part’s origin, along its own axes" value={pathsIn.point[n] ?? 0} text={figure(pathsIn.point[n] ?? 0, "m", 2)} unit="m" width={saidUnit("m") ? 55 : 62} onCommit={(value) => { place(n, value); }} />
        ))}
        {saidUnit("m") && <span style={{ color: ink.quiet, fontSize: 12 }}>{saidUnit("m")}</span>}
      </span>
      {part !== null && <Spacing key={part} part={part} />}
    </div>
  );
}

/** Where the way of a part stands out of an even motion, and evening it out. */
function Spacing({ part }: { part: string }) {
  const pathsIn = useShowing((showing) => showing.pathsIn);
  const block = useBlock(pathName(part, pathsIn));
  const first = useSamples((samples) => samples.first);
  const range = useOpenScene((scene) => [scene.header.first, scene.header.last].join(" "));
  const command = useCommand();
  const uneven = block ? unevenOf(block.data, first) : null;
  if (!uneven) return <span style={{ color: ink.quiet, fontSize: 12 }}>{block ? "No tick stands out of an even motion." : ""}</span>;
  const [low = 0, high = 0] = range.split(" ").map(Number);
  const [from, to] = [Math.max(uneven.from - 1 - around, low), Math.min(uneven.to + around, high)];
  return (
    <span style={{ fontSize: 12, display: "flex", gap: 6, alignItems: "center" }}>
      <span style={{ color: ink.trouble, flex: 1 }}>{uneven.count} large {uneven.count === 1 ? "tick" : "ticks"}: {String(Math.round(uneven.worst * 100))} % off</span>
      <Button size="small" title={`Equal shares of the true length of its own way, frames ${String(from)} to ${String(to)}`} onClick={() => void command(() => undefined, { do: "even spacing", part, first: from, last: to })}>Even out {from}–{to}</Button>
    </span>
  );
}
