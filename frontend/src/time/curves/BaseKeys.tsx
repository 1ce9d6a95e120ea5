import type { Curve } from "../../api/client";
import { useKeyState } from "../../state/keying";
import { ink } from "../../shared/theme";
import type { Scales } from "../../shared/scales";
import { isShown } from "../../shared/scales";

/** The channel's own keys while keys go to a layer: faint; a click goes back to them. */
export function BaseKeys({ curve, scales }: { curve: Curve; scales: Scales }) {
  const { x, y } = scales;
  return (
    <g style={{ cursor: "pointer" }} onPointerDown={(event) => { event.stopPropagation(); if (event.button === 0) useKeyState.setState({ layer: null }); }}>
      {curve.keys.filter(({ frame }) => isShown(frame, scales)).map(({ frame, value }) => (
        <circle key={frame} data-base={frame} cx={x(frame)} cy={y(value)} r="4" fill="none" stroke={ink.key} strokeOpacity="0.7" strokeDasharray="2 1.5">
          <title>{`the base’s key at ${String(frame)}; click to key the base`}</title>
        </circle>
      ))}
    </g>
  );
}
