import { Button, Checkbox } from "antd";

import { tapColour, tapInk } from "../../shared/tapColours";
import { taps } from "../../shared/taps";
import { Popup } from "../../shared/Popup";
import { toggleTap, useShownTaps } from "./shownTaps";

/** Which taps the curves show. */
export function TapsMenu() {
  const on = useShownTaps((state) => state.on);
  const list = taps.map((tap) => (
    <Checkbox
      key={tap}
      checked={on.includes(tap)}
      title={`Draw the value after ${tap}`}
      onChange={() => {
        toggleTap(tap);
      }}
      style={{ color: tapInk[tap], fontSize: 12, gap: 0 }}
    >
      <span style={{ borderBottom: `2px solid ${tapColour[tap]}` }}>{tap}</span>
    </Checkbox>
  ));
  return (
    <Popup placement="topRight" title="Taps that the curves show" content={() => <div style={{ display: "grid", gap: 4 }}>{list}</div>}>
      <Button size="small" title="Which taps the curves show">
        taps
        {taps.filter((tap) => on.includes(tap)).map((tap) => (
          <span key={tap} style={{ display: "inline-block", width: 9, borderBottom: `3px solid ${tapColour[tap]}`, marginLeft: 2 }} />
        ))}
      </Button>
    </Popup>
  );
}
