import type { ScaleLinear } from "d3-scale";
import { useState } from "react";

import type { HandoverView, LanesView, LaneView } from "../../state/order";
import { useAbout } from "../../state/order";
import type { OneEdit } from "../../api/client";
import { openPopup } from "../../state/popup";
import { chooseChannel } from "../../state/selection";
import { shown } from "../../shared/format";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";
import { LaneFrame, laneHeight, standing } from "./LaneFrame";
import { HandoverMenu, StripMenu } from "./menus";
import { useFrameDrag } from "./useFrameDrag";

/** FK plain, IK hatched, between dotted; ground hatched, air empty: told by pattern and word, not by
 * colour alone. */
const weaves: Partial<Record<LaneView["kind"], string[]>> = {
  limb: [
    ink.fk,
    `repeating-linear-gradient(135deg, ${ink.ik[0]} 0 5px, ${ink.ik[1]} 5px 7px)`,
    `radial-gradient(${ink.between[1]} 1px, ${ink.between[0]} 1.4px) 0 0 / 6px 6px`,
  ],
  gait: [standing, "transparent"],
};

/** Whether a lane is of one of these parts. */
export function laneOf(lane: LaneView, parts: string[]): boolean {
  return parts.includes(lane.part) || (lane.kind !== "space" && lane.keys.some((key) => parts.includes(key)));
}

export function useLanes(): LaneView[] {
  return useAbout<LanesView>("lanes").data?.lanes ?? [];
}

/** In which space a part moves when, or who leads when: strips with names, changes as dots. */
export function SpaceLanes({ lanes, x, width }: { lanes: LaneView[]; x: ScaleLinear<number, number>; width: number }) {
  return (
    <>
      {lanes.map((lane) => <Lane key={`${lane.name}/${lane.channel}`} lane={lane} x={x} width={width} />)}
    </>
  );
}

/** A change that is being dragged, and to which frame. */
interface Drag {
  from: number;
  to: number;
}

/** From where to where a strip reaches while one of its ends is dragged. */
function stretch({ first, last }: LaneView["strips"][number], drag: Drag | null): [number, number] {
  if (!drag) return [first, last];
  return [first === drag.from ? drag.to : first, last === drag.from - 1 ? drag.to - 1 : last];
}

function Lane({ lane, x, width }: { lane: LaneView; x: ScaleLinear<number, number>; width: number }) {
  const [low = 0, high = width] = x.range();
  const inside = (px: number) => Math.min(Math.max(px, low), high);
  const kind = { space: "Space lane", lead: "Lead lane", limb: "Limb lane", gait: "Gait lane" }[lane.kind];
  const [drag, setDrag] = useState<Drag | null>(null);
  return (
    <LaneFrame label={`${kind} of ${lane.name}`} name={lane.name} hint={`${lane.name}: choose its channel`} onChoose={() => { chooseChannel(lane.part, lane.channel); }} x={x}>
      {lane.strips.map((strip, n) => {
        const [first, last] = stretch(strip, drag);
        const [left, right] = [inside(x(first - (n ? 0 : 0.5))), inside(x(last + 1))];
        if (right - left < 1) return null;
        // Steps are short and many, and their pattern says which they are: half a word would only be in the way.
        const fits = lane.kind !== "gait" || right - left > 12 + 6.5 * strip.name.length;
        return (
          <Popup key={strip.first} label="What follows" content={(close) => <StripMenu lane={lane} choice={strip.choice} onDone={close} />}>
            <button
              type="button"
              className="bare"
              title={`${strip.name} from ${String(strip.first)} to ${String(strip.last)}`}
              aria-label={`${strip.name} from ${String(strip.first)} to ${String(strip.last)}`}
              style={{ position: "absolute", left, width: right - left, top: 2, height: laneHeight - 4, background: (weaves[lane.kind] ?? ink.strips)[strip.choice % ink.strips.length], border: `1px solid ${ink.line}`, boxSizing: "border-box", borderRadius: 3, fontSize: 11, lineHeight: `${String(laneHeight - 6)}px`, paddingInline: right - left > 30 ? "8px 2px" : 2, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap", cursor: "pointer" }}
            >
              {fits ? strip.name : ""}
            </button>
          </Popup>
        );
      })}
      {changesOf(lane).map((change) => <Change key={change.frame} lane={lane} change={change} x={x} drag={drag} onDrag={setDrag} />)}
    </LaneFrame>
  );
}

/** The changes of a lane: handovers with how far they jump, or just where a lead changes. */
function changesOf(lane: LaneView): HandoverView[] {
  if (lane.kind !== "lead") return lane.handovers;
  return lane.strips.slice(1).map((strip, n) => ({
    frame: strip.first,
    source: lane.strips[n]?.name ?? "",
    target: strip.name,
    kept: true,
    blend: 0,
    metres: 0,
    degrees: 0,
    jumps: false,
  }));
}

interface ChangeProps {
  lane: LaneView;
  change: HandoverView;
  x: ScaleLinear<number, number>;
  drag: Drag | null;
  onDrag: (drag: Drag | null) => void;
}

/** A dot at a change: drag it to another frame and see what that does, click it for what can be
 * done. */
function Change({ lane, change, x, drag, onDrag }: ChangeProps) {
  const popup = `handover ${lane.id} ${lane.channel} ${String(change.frame)}`;
  const dragged = useFrameDrag({
    frameOf: (px) => x.invert(px),
    onDrag: (by) => { onDrag(by === null ? null : { from: change.frame, to: change.frame + by }); },
    edit: (by) => moveEdit(lane, change.frame, change.frame + by),
    onClick: () => { openPopup(popup); },
  });
  const words = `${change.source} → ${change.target} at ${String(change.frame)}${change.jumps ? `, jumps ${shown(change.metres, "m")}, ${shown(change.degrees, "°", 1)}` : ""}`;
  const to = drag?.from === change.frame ? drag.to : null;
  const at = x(to ?? change.frame);
  const [low = 0, high = at] = x.range();
  if (at < low - 6 || at > high + 6) return null;
  return (
    <Popup byHand id={popup} title={words} content={(close) => <HandoverMenu lane={lane} change={change} onDone={close} />}>
      <button
        type="button"
        aria-label={`Handover ${words}`}
        title={words}
        {...dragged}
        onKeyDown={(event) => { if (event.key === "Enter") openPopup(popup); }}
        style={{ all: "unset", position: "absolute", left: at - 6, top: laneHeight / 2 - 6, width: 12, height: 12, borderRadius: 6, boxSizing: "border-box", background: change.jumps ? ink.field : ink.ink, border: `2px solid ${change.jumps ? ink.trouble : ink.ink}`, cursor: "ew-resize", touchAction: "none", fontSize: 9, lineHeight: "8px", textAlign: "center", color: ink.trouble, fontWeight: 700 }}
      >
        {change.jumps ? "!" : ""}
      </button>
    </Popup>
  );
}

function moveEdit(lane: LaneView, frame: number, to: number): OneEdit {
  if (lane.kind === "space") return { do: "move handover", step: lane.id, frame, to };
  if (lane.kind === "limb") return { do: "move switch", limb: lane.id, frame, to };
  return { do: "move keys", picks: [{ part: lane.part, channel: lane.channel, frames: [frame] }], frames: to - frame };
}
