import { memo } from "react";

import type { ChannelView, PartView } from "../../api/client";
import { goTo, usePlayer } from "../../state/player";
import { chooseKeys } from "../../state/selection";
import { ink } from "../../theme";
import type { Scales } from "./scales";
import { margin } from "./scales";

/** The keys of the chosen channel as dots over time, under the other keys of its part. */
export const Lane = memo(function Lane(props: {
  part: PartView;
  channel: ChannelView;
  scales: Scales;
}) {
  const { part, channel, scales } = props;
  const others = new Set(part.channels.flatMap(({ curve }) => curve?.keys.map((k) => k.frame) ?? []));
  const keys = channel.curve?.keys ?? [];
  const { x } = scales;
  const shown = (frame: number) => x(frame) >= margin.left - 6;
  return (
    <svg width="100%" height="20" style={{ flex: "none", borderBottom: `1px solid ${ink.line}` }}>
      <text x="12" y="14" fontSize="11" fill={ink.quiet}>keys</text>
      {[...others].filter(shown).map((frame) => (
        <circle key={frame} cx={x(frame)} cy="10" r="3" fill="none" stroke="#C9C1B1" />
      ))}
      {keys.filter((key) => shown(key.frame)).map((key) => (
        <circle
          key={key.frame}
          cx={x(key.frame)}
          cy="10"
          r="4.5"
          fill="#7B8791"
          style={{ cursor: "pointer" }}
          onClick={() => {
            chooseKeys([key.frame]);
            goTo(key.frame);
          }}
        >
          <title>{`key at ${String(key.frame)}, ${key.interpolation ?? "smooth"}`}</title>
        </circle>
      ))}
      <Now x={x} />
    </svg>
  );
});

function Now({ x }: { x: Scales["x"] }) {
  const frame = usePlayer((player) => player.frame);
  return <line x1={x(frame)} x2={x(frame)} y1="0" y2="20" stroke={ink.ink} pointerEvents="none" />;
}
