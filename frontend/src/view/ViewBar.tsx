import { Button, Checkbox, Segmented, Space } from "antd";
import { useState } from "react";

import { useEdit } from "../state/useEdit";
import { useSelection } from "../state/selection";
import type { HandleAxes, HandleTool } from "../state/showing";
import { hideParts, isolateParts, showAll, useShowing } from "../state/showing";
import { Amount, Apply } from "../shared/Amount";
import { typed } from "../shared/arithmetic";
import { inUnits, lookOf, meant } from "../shared/units";
import { Popup } from "../shared/Popup";
import { ReferenceMenu } from "../kit/references/ReferenceMenu";
import { PathChoices } from "./PathChoices";
import { PlaceMenu } from "./place/PlaceMenu";
import { givePlace, placeEdit } from "./place";

const roles = ["control", "joint", "helper", "prop"] as const;

/** Handles, and what the view shows. */
export function ViewBar({ boxing, onBox, small }: { boxing: boolean; onBox: () => void; small: boolean }) {
  if (small) return <Space size={4} wrap><Tools /></Space>;
  return (
    <Space size={5} wrap style={{ justifyContent: "flex-end", flex: 1 }}>
      <Tools />
      <Button size="small" aria-pressed={boxing} type={boxing ? "primary" : "default"} title="Choose parts by a box: drag over the view; Shift adds" onClick={onBox}>
        box
      </Button>
      <PlaceMenu />
      <ReferenceMenu />
      <ShowMenu />
    </Space>
  );
}

function Tools() {
  const { tool, axes, snap } = useShowing();
  return (
    <>
      <Segmented<HandleTool>
        size="small"
        aria-label="Handles"
        value={tool}
        onChange={(value) => { useShowing.setState({ tool: value }); }}
        options={[
          { value: "none", label: <span title="No handles">pick</span> },
          { value: "move", label: <span title="Handles that move (1)">move</span> },
          { value: "turn", label: <span title="Handles that rotate (2)">rotate</span> },
          { value: "scale", label: <span title="Handles that scale (3)">scale</span> },
        ]}
      />
      {tool !== "none" && (
        <>
          <Segmented<HandleAxes>
            size="small"
            aria-label="Axes of the handles"
            value={axes}
            onChange={(value) => { useShowing.setState({ axes: value }); }}
            options={["local", "parent", "world"]}
          />
          <Popup title="Exact amounts" content={(close) => <Amounts tool={tool} onDone={close} />}>
            <Button size="small" title="Type how far">by…</Button>
          </Popup>
          <Checkbox checked={snap} title="Steps of 0.1 m, 5°, 0.1" onChange={() => { useShowing.setState({ snap: !snap }); }}>snap</Checkbox>
        </>
      )}
    </>
  );
}

/** Typed amounts along the three axes. */
function Amounts({ tool, onDone }: { tool: Exclude<HandleTool, "none">; onDone: () => void }) {
  const edit = useEdit();
  const still = tool === "scale" ? "1" : "0";
  const [draft, setDraft] = useState([still, still, still]);
  const look = lookOf({ move: "m", turn: "°", scale: "×" }[tool]);
  const read = (text: string) => typed(inUnits(text.trim() || still, look), 0);
  const good = draft.every((text) => read(text) !== undefined);
  const apply = () => {
    const [x = 0, y = 0, z = 0] = draft.map((text) => meant(read(text) ?? 0, look));
    const field = { move: "move", turn: "turn", scale: "size" }[tool];
    void givePlace(edit, placeEdit({ [field]: [x, y, z] })).then((taken) => { if (taken) onDone(); });
  };
  return (
    <Space size={5}>
      {["x", "y", "z"].map((axis, n) => (
        <Amount
          key={axis}
          label={`${tool} along ${axis}`}
          prefix={axis}
          suffix={look.unit}
          width={84}
          value={draft[n] ?? ""}
          good={read(draft[n] ?? "") !== undefined}
          onChange={(text) => { setDraft(draft.map((old, m) => (m === n ? text : old))); }}
          onEnter={() => { if (good) apply(); }}
        />
      ))}
      <Apply type="primary" good={good} onClick={apply}>Apply</Apply>
    </Space>
  );
}

function ShowMenu() {
  const showing = useShowing();
  const chosen = useSelection(({ parts }) => parts);
  const some = showing.hidden.length + (showing.isolated ? 1 : 0);
  const flag = (name: "grid" | "labels" | "paths" | "onionSkins" | "bothWays", label: string, hint: string) => (
    <Checkbox checked={showing[name]} title={hint} onChange={() => { useShowing.setState({ [name]: !showing[name] }); }}>{label}</Checkbox>
  );
  const content = (
    <div style={{ display: "grid", gap: 4 }}>
      {roles.map((role) => (
        <Checkbox
          key={role}
          checked={showing.roles.includes(role)}
          onChange={() => {
            const roles = showing.roles.includes(role) ? showing.roles.filter((one) => one !== role) : [...showing.roles, role];
            useShowing.setState({ roles });
          }}
        >
          {role}s
        </Checkbox>
      ))}
      {flag("grid", "grid", "A square is a metre")}
      {flag("labels", "labels", "The parts’ names")}
      {flag("paths", "paths", "The ways of the chosen parts, a tick for each frame")}
      {showing.paths && <PathChoices />}
      {flag("onionSkins", "onion skins", "The poses 6 and 12 frames before and after")}
      {flag("bothWays", "FK and IK of limbs", "The chains of the chosen limbs by FK alone and by IK alone")}
      <Space size={4}>
        <Button size="small" disabled={!chosen.length} title="Hide the chosen parts (H)" onClick={() => { hideParts(chosen); }}>Hide</Button>
        <Button size="small" disabled={!chosen.length} title="Show the chosen parts alone (I)" onClick={() => { isolateParts(chosen); }}>Isolate</Button>
        <Button size="small" disabled={!some} onClick={showAll}>Show all</Button>
      </Space>
    </div>
  );
  return (
    <Popup label="What is shown" placement="bottomRight" content={() => content}>
      <Button size="small" title="What the view shows">
        show…{some ? " (not all)" : ""}
      </Button>
    </Popup>
  );
}
