import { Input, Segmented } from "antd";
import { memo, useMemo } from "react";
import { useShallow } from "zustand/react/shallow";

import { counted } from "../../shared/format";
import { useOpenScene } from "../../state/openScene";
import { chooseKeys, useSelection } from "../../state/selection";
import { useShortcuts } from "../../commands/shortcuts";
import { Hint } from "../../shared/Hint";
import { useSize } from "../../shared/useSize";
import { ink } from "../../shared/theme";
import { scalesOf } from "../../shared/scales";
import { useShownLanes } from "../../state/shownLanes";
import { useTimeWindow } from "../../state/timeWindow";
import { PlantLanes } from "../spaces/PlantLanes";
import { plantsOf } from "../spaces/plantSpans";
import { SoundLanes } from "../spaces/SoundLanes";
import { laneOf, SpaceLanes, useLanes } from "../spaces/SpaceLanes";
import { LaneKeys } from "./LaneKeys";
import { LaneTools } from "./LaneTools";
import { Markers } from "./Markers";
import { OutsideRange } from "./OutsideRange";
import type { LaneLine } from "./rows";
import { allPicks, isHead, linesOf } from "./rows";
import { useLaneHeight } from "./useLaneHeight";

/** Keys over time: of the chosen parts, or of everything that is keyed. */
export const Lanes = memo(function Lanes() {
  const { lines, lanes, plants, sounds } = useShown();
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
      <LanesBar lines={lines} first={first} last={last} />
      <div className="scroll" style={{ maxHeight: height, overflowX: "hidden" }}>
        <Markers x={x} width={width} />
        <SoundLanes sounds={sounds} x={x} width={width} />
        <SpaceLanes lanes={lanes} x={x} width={width} />
        <PlantLanes plants={plants} x={x} />
        {lines.length || lanes.length || plants.length ? <LaneKeys lines={lines} x={x} width={width} /> : <NoLanes />}
      </div>
      <div {...border} className="border-grip" />
    </section>
  );
});

/** What the lanes show: lines of keys, spaces and limbs, planted frames, sounds. */
function useShown() {
  const { whole, search } = useShownLanes();
  const order = useOpenScene((scene) => scene.order);
  const chosen = useSelection(({ parts }) => parts);
  const ids = whole ? order : order.filter((id) => chosen.includes(id));
  const parts = useOpenScene(useShallow((scene) => ids.map((id) => scene.parts[id])));
  const all = useLanes();
  const lanes = whole ? all : all.filter((lane) => laneOf(lane, chosen));
  const plants = useMemo(() => plantsOf(parts), [parts]);
  const references = useOpenScene((scene) => scene.header.references);
  const sounds = useMemo(() => references.filter(({ kind }) => kind === "sound"), [references]);
  const layers = useOpenScene((scene) => scene.header.layers);
  const lines = useMemo(() => linesOf(parts, layers, search), [parts, layers, search]);
  return { lines, lanes, plants, sounds };
}

/** Whose keys are shown, how many curves those are, and what is done with them. */
function LanesBar({ lines, first, last }: { lines: LaneLine[]; first: number; last: number }) {
  const { whole, search } = useShownLanes();
  const curves = lines.reduce((sum, line) => sum + (isHead(line) ? 0 : 1), 0);
  return (
    <div style={{ display: "flex", alignItems: "center", columnGap: 5, padding: "2px 12px", minHeight: 26, flexWrap: "wrap" }}>
      <Segmented
        size="small"
        aria-label="Whose keys the lanes show"
        options={["selection", "everything"]}
        value={whole ? "everything" : "selection"}
        onChange={(value) => { useShownLanes.setState({ whole: value === "everything" }); }}
      />
      <Input
        size="small"
        allowClear
        aria-label="Find a keyed channel"
        placeholder="find a keyed channel"
        style={{ minWidth: 70, maxWidth: 130, flex: "3 1 70px" }}
        value={search}
        onChange={(event) => {
          const search = event.target.value;
          useShownLanes.setState(search ? { search, whole: true } : { search });
        }}
      />
      <span style={{ color: ink.quiet, fontSize: 12, whiteSpace: "nowrap" }}>{counted(curves, "curve")}</span>
      <Hint title="A square key holds its value until the next one; from a round key the value moves on. Ctrl+A chooses all keys shown, a box those in it.">
        <span aria-label="What the marks mean" style={{ color: ink.key, fontSize: 11, whiteSpace: "nowrap", cursor: "help" }}>■ ●</span>
      </Hint>
      <OutsideRange lines={lines} first={first} last={last} />
      <span style={{ flex: 1 }} />
      <LaneTools />
    </div>
  );
}

function NoLanes() {
  const searched = useShownLanes(({ search }) => search !== "");
  return (
    <p style={{ margin: 0, padding: "2px 12px 6px", color: ink.quiet }}>
      {searched ? "No keyed channel has that name." : "No keys here. Choose keyed parts, or show everything."}
    </p>
  );
}
