import { memo } from "react";

import { ink } from "../../shared/theme";
import type { Scales } from "../../shared/scales";
import { pathOf } from "../../shared/scales";
import type { Overlay } from "./comparison";

const looks: Record<string, { stroke: string; dash: string; title: string }> = {
  other: { stroke: ink.ink, dash: "6 3", title: "laid over for comparison" },
  slope: { stroke: ink.axis.z, dash: "2 2", title: "slope, each second" },
};

/** Lines laid over the curves: a reference or second channel, and the slope. */
export const Overlays = memo(function Overlays(props: { overlays: Overlay[]; first: number; last: number; scales: Scales }) {
  const { overlays, first, last, scales } = props;
  return (
    <g fill="none" pointerEvents="none" clipPath="url(#in-plane)">
      {overlays.map(({ name, block }) => (
        <path
          key={name}
          data-overlay={name}
          d={pathOf(block, first, last, scales)}
          stroke={looks[name]?.stroke}
          strokeDasharray={looks[name]?.dash}
          opacity="0.75"
        >
          <title>{looks[name]?.title}</title>
        </path>
      ))}
    </g>
  );
});
