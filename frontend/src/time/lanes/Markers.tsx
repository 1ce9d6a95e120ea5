import { Button, Input, Space } from "antd";
import type { ScaleLinear } from "d3-scale";
import { useState } from "react";

import type { Marker } from "../../api/client";
import { useCommand } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { goTo, usePlayer } from "../../state/player";
import { Amount, Apply } from "../../shared/Amount";
import { isNumber, typed } from "../../shared/arithmetic";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";

/** Labels on frames; a click goes there, and lets the marker be changed. */
export function Markers({ x, width }: { x: ScaleLinear<number, number>; width: number }) {
  const markers = useOpenScene((scene) => scene.header.markers);
  const [low = 0, high = width] = x.range();
  if (!markers.length) return null;
  return (
    <div style={{ position: "relative", height: 18, overflow: "hidden" }} aria-label="Markers" role="group">
      {markers.filter(({ frame }) => x(frame) >= low && x(frame) <= high).map((marker) => (
        <Popup key={marker.id} title="Marker" content={(close) => <MarkerForm marker={marker} onDone={close} />}>
          <button
            type="button"
            title={`${marker.label}, frame ${String(marker.frame)}`}
            onClick={() => { goTo(marker.frame); }}
            style={{ all: "unset", position: "absolute", left: x(marker.frame) - 5, cursor: "pointer", fontSize: 11, whiteSpace: "nowrap", color: ink.ink }}
          >
            <span style={{ color: ink.doubtful }}>▾</span> {marker.label}
          </button>
        </Popup>
      ))}
    </div>
  );
}

/** Label and frame of a marker; without one, of a new marker on the playhead. */
export function MarkerForm({ marker, onDone }: { marker?: Marker; onDone: () => void }) {
  const command = useCommand();
  const [text, setText] = useState(marker?.label ?? "");
  const [frame, setFrame] = useState(() => String(marker?.frame ?? usePlayer.getState().frame));
  const put = () => {
    if (text.trim() && isNumber(frame)) void command(onDone, { do: "put marker", text, frame: typed(frame, 0) ?? 0, id: marker?.id ?? null });
  };
  return (
    <Space size={6}>
      <Input size="small" aria-label="Label of the marker" placeholder="label" style={{ width: 150 }} value={text} onChange={(event) => { setText(event.target.value); }} onPressEnter={put} />
      <Amount label="Frame of the marker" width={60} value={frame} onChange={setFrame} onEnter={put} />
      <Apply type="primary" good={isNumber(frame)} disabled={!text.trim()} onClick={put}>{marker ? "Change" : "Add"}</Apply>
      {marker && <Button size="small" onClick={() => void command(onDone, { do: "remove marker", id: marker.id })}>Delete</Button>}
    </Space>
  );
}
