/** From where each camera looks at the parts. */
export const cameras: Record<string, [number, number, number]> = {
  "Front-right": [7, 5.2, 11],
  Front: [0, 0, 1],
  Side: [1, 0, 0.001],
  Top: [0, 1, 0.001],
};
