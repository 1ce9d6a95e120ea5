import { Line } from "@react-three/drei";

import { ink } from "../shared/theme";

/** A part's axes: x, y and z in the colours of their letters. */
export function Axes({ length }: { length: number }) {
  return (
    <>
      <Line points={[[0, 0, 0], [length, 0, 0]]} color={ink.axis.x} lineWidth={2} />
      <Line points={[[0, 0, 0], [0, length, 0]]} color={ink.axis.y} lineWidth={2} />
      <Line points={[[0, 0, 0], [0, 0, length]]} color={ink.axis.z} lineWidth={2} />
    </>
  );
}
