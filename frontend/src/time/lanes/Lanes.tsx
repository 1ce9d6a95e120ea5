import { Button, Input, Segmented } from "antd";
import { memo, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";

import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { useSize } from "../../shared/useSize";
import { ink } from "../../shared/theme";
import { scalesOf } from "../../shared/scales";
import { Popup } from "../../shared/Popup";
import { useTimeWindow } from "../../state/timeWindow";
import { LeadGroups } from "../spaces/LeadGroups";
import { PickAndCarry } from "../spaces/PickAndCarry";
import { laneOf, SpaceLanes, useLanes } from "../spaces/SpaceLanes";
import { LaneKeys } from "./LaneKeys";
import { MarkerForm, Markers } from "./Markers";
import { rowsOf } from "./rows";

/** Keys over time: of the chosen parts, or of everything that is keyed. */
export const Lanes = memo(function Lanes() {
  const [whole, setWhole] = useState(false);
  const [search, setSearch] = useState("");
  const order = useOpenScene((scene) => scene.order);
  const chosen = useSelection(({ parts }) => parts);
  const ids = whole ? order : order.filter((id) => chosen.includes(id));
  const parts = useOpenScene(useShallow((scene) => ids.map((id) => scene.parts[id])));
  const lanes = useLanes();
  const shownLanes = whole ? lanes : lanes.filter((lane) => laneOf(lane, chosen));
  const layers = useOpenScene((scene) => scene.header.layers);
  const rows = useMemo(() => rowsOf(parts, layers, search), [parts, layers, search]);
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const frames = useTimeWindow((window) => window.frames);
  const { ref, width } = useSize<HTMLDivElement>();
  const { x } = useMemo(
    () => scalesOf({ x: frames ?? [first - 1, last + 1], y: [0, 1] }, width, 100),
    [frames, first, last, width],
  );
  return (
    <section aria-label="Lanes" style={{ flex: "none", display: "flex", flexDirection: "column", borderBottom: `1px solid ${ink.line}` }}>
      <div style={{ display: "flex", alignItems: "center", gap: 8, padding: "2px 12px", height: 26 }}>
        <span className="caps">Keys of</span>
        <Segmented
          size="small"
          aria-label="Whose keys the lanes show"
          options={["selection", "everything"]}
          value={whole ? "everything" : "selection"}
          onChange={(value) => { setWhole(value === "everything"); }}
        />
        <Input
          size="small"
          allowClear
          aria-label="Find a keyed channel"
          placeholder="find a keyed channel"
          style={{ width: 168 }}
          value={search}
          onChange={(event) => {
            setSearch(event.target.value);
            if (event.target.value) setWhole(true);
          }}
          onKeyDown={(event) => { event.stopPropagation(); }}
        />
        <span style={{ color: ink.quiet, fontSize: 12 }}>{rows.length} {rows.length === 1 ? "curve" : "curves"}</span>
        <span style={{ flex: 1 }} />
        <PickAndCarry />
        <LeadGroups />
        <Popup placement="topRight" title="Marker" content={(close) => <MarkerForm onDone={close} />}>
          <Button size="small" type="text" title="Puts a labelled marker on the playhead's frame">+ marker</Button>
        </Popup>
      </div>
      <div ref={ref} className="scroll" style={{ maxHeight: 96, overflowX: "hidden" }}>
        <Markers x={x} width={width} />
        <SpaceLanes lanes={shownLanes} x={x} width={width} />
        {rows.length || shownLanes.length ? (
          <LaneKeys rows={rows} x={x} width={width} />
        ) : (
          <p style={{ margin: 0, padding: "2px 12px 6px", color: ink.quiet }}>
            {search ? "No keyed channel has that name." : "No keys here. Choose keyed parts, or show everything."}
          </p>
        )}
      </div>
    </section>
  );
});
