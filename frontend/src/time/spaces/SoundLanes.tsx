import type { ScaleLinear } from "d3-scale";
import { useEffect, useMemo, useState } from "react";

import type { ReferenceView } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { goTo } from "../../state/player";
import { soundOf } from "../../state/sound";
import { ink } from "../../shared/theme";
import { LaneFrame, laneHeight } from "./LaneFrame";
import { waveOf } from "./wave";

/** A lane for each sound: its wave over the frames on which it is heard. */
export function SoundLanes({ sounds, x, width }: { sounds: ReferenceView[]; x: ScaleLinear<number, number>; width: number }) {
  return sounds.map((sound) => <SoundLane key={sound.id} sound={sound} x={x} width={width} />);
}

function SoundLane({ sound, x, width }: { sound: ReferenceView; x: ScaleLinear<number, number>; width: number }) {
  const fps = useOpenScene((scene) => scene.header.fps);
  const [samples, setSamples] = useState<AudioBuffer | null | undefined>();
  useEffect(() => {
    let here = true;
    void soundOf(sound.medium).then((found) => { if (here) setSamples(found); });
    return () => { here = false; };
  }, [sound.medium]);
  const wave = useMemo(() => {
    if (!samples) return "";
    const seconds = (pixel: number) => (x.invert(pixel) - sound.first) / fps;
    const ends: [number, number] = [x.range()[0] ?? 0, Math.min(x.range()[1] ?? 0, sound.last === null ? Infinity : x(sound.last + 1))];
    return waveOf(samples.getChannelData(0), samples.sampleRate, seconds, ends, laneHeight);
  }, [samples, sound, fps, x]);
  const hint = samples === null ? "This browser cannot read it" : samples ? `${samples.duration.toFixed(1)} s; it is heard while the scene plays. Go to its first frame` : "It is being read";
  return (
    <LaneFrame label={`Sound ${sound.name}`} name={sound.name} hint={hint} onChoose={() => { goTo(sound.first); }} x={x}>
      {samples === null && <span style={{ position: "absolute", left: x(sound.first), fontSize: 11, lineHeight: `${String(laneHeight)}px`, color: ink.trouble }}>cannot be read here</span>}
      <svg width={width} height={laneHeight} aria-hidden style={{ position: "absolute", left: 0, top: 0, pointerEvents: "none" }}>
        <path d={wave} fill={ink.key} opacity={0.25 + 0.75 * sound.opacity} />
      </svg>
    </LaneFrame>
  );
}
