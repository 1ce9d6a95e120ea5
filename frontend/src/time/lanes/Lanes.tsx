import { Button, Input, Segmented, Tooltip } from "antd";
import { memo, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";

import { showInKit } from "../../state/kit";
import { useOpenScene } from "../../state/openScene";
import { chooseKeys, useSelection } from "../../state/selection";
import { useShortcuts } from "../../commands/shortcuts";
import { useSize } from "../../shared/useSize";
import { ink } from "../../shared/theme";
import { scalesOf } from "../../shared/scales";
import { Popup } from "../../shared/Popup";
import { useTimeWindow } from "../../state/timeWindow";
import { Heading } from "../keys/KeyTools";
import { Tints } from "../keys/Tints";
import { LimbSwitches } from "../spaces/LimbSwitches";
import { PickAndCarry } from "../spaces/PickAndCarry";
import { PlantLanes } from "../spaces/PlantLanes";
import { plantsOf } from "../spaces/plantSpans";
import { SoundLanes } from "../spaces/SoundLanes";
import { laneOf, SpaceLanes, useLanes } from "../spaces/SpaceLanes";
import { LaneKeys } from "./LaneKeys";
import { MarkerForm, Markers } from "./Markers";
import { OutsideRange } from "./OutsideRange";
import { allPicks, isHead, linesOf } from "./rows";
import { useLaneHeight } from "./useLaneHeight";

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
  const plants = useMemo(() => plantsOf(parts), [parts]);
  const references = useOpenScene((scene) => scene.header.references);
  const sounds = useMemo(() => references.filter(({ kind }) => kind === "sound"), [references]);
  const layers = useOpenScene((scene) => scene.header.layers);
  const lines = useMemo(() => linesOf(parts, layers, search), [parts, layers, search]);
  const curves = lines.reduce((sum, line) => sum + (isHead(line) ? 0 : 1), 0);
  const { height, border } = useLaneHeight();
  useShortcuts({ all: () => { chooseKeys(allPicks(lines)); } });
  const first = useOpenScene((scene) => scene.header.first);
  const last = useOpenScene((scene) => scene.header.last);
  const frames = useTimeWindow((window) => window.frames);
  const { ref, width } = useSize<HTMLElement>();
  const { x } = useMemo(
    () => scalesOf({ x: frames ?? [first - 1, last + 1], y: [0, 1] }, width, 100),
    [frames, first, last, width],
  );
  return (
    <section ref={ref} aria-label="Lanes" style={{ flex: "none", display: "flex", flexDirection: "column", borderBottom: `1px solid ${ink.line}` }}>
      <div style={{ display: "flex", alignItems: "center", columnGap: 5, padding: "2px 12px", minHeight: 26, flexWrap: "wrap" }}>
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
          style={{ minWidth: 70, maxWidth: 130, flex: "3 1 70px" }}
          value={search}
          onChange={(event) => {
            setSearch(event.target.value);
            if (event.target.value) setWhole(true);
          }}
        />
        <span style={{ color: ink.quiet, fontSize: 12, whiteSpace: "nowrap" }}>{curves} {curves === 1 ? "curve" : "curves"}</span>
        <Tooltip title="A square key holds its value until the next one; from a round key the value moves on. Ctrl+A chooses all keys shown, a box those in it.">
          <span aria-label="What the marks mean" style={{ color: ink.key, fontSize: 11, whiteSpace: "nowrap", cursor: "help" }}>■ ●</span>
        </Tooltip>
        <OutsideRange lines={lines} first={first} last={last} />
        <span style={{ flex: 1 }} />
        <Popup placement="topRight" title={<Heading what="Tint" />} content={(close) => <Tints onDone={close} />}>
          <Button size="small" type="text" style={{ paddingInline: 5 }} title="Tints keys with a word and a colour, and finds them again by it">tint</Button>
        </Popup>
        <PickAndCarry />
        <LimbSwitches />
        <Button size="small" type="text" title="Groups of parts of which any one can carry the others; who leads is keyed. Opens them in the kit" onClick={() => { showInKit("lead groups"); }}>leads</Button>
        <Popup placement="topRight" title="Marker" content={(close) => <MarkerForm onDone={close} />}>
          <Button size="small" type="text" title="Puts a labelled marker on the playhead's frame">+ marker</Button>
        </Popup>
      </div>
      <div className="scroll" style={{ maxHeight: height, overflowX: "hidden" }}>
        <Markers x={x} width={width} />
        <SoundLanes sounds={sounds} x={x} width={width} />
        <SpaceLanes lanes={shownLanes} x={x} width={width} />
        <PlantLanes plants={plants} x={x} />
        {lines.length || shownLanes.length || plants.length ? (
          <LaneKeys lines={lines} x={x} width={width} />
        ) : (
          <p style={{ margin: 0, padding: "2px 12px 6px", color: ink.quiet }}>
            {search ? "No keyed channel has that name." : "No keys here. Choose keyed parts, or show everything."}
          </p>
        )}
      </div>
      <div {...border} className="border-grip" />
    </section>
  );
});
