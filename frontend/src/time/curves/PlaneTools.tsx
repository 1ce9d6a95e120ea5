import { Button } from "antd";
import { memo } from "react";

import type { CurveRef } from "../../state/curveSet";
import { useOpenScene } from "../../state/openScene";
import { CompareMenu } from "../compare/CompareMenu";
import type { Comparison } from "../compare/comparison";
import { CurvesMenu } from "./CurvesMenu";
import { TapsMenu } from "./TapsMenu";

interface Props {
  part: string;
  channel: string;
  beside: CurveRef[];
  comparison: Comparison | null;
  isZoomed: boolean;
  isFixed: boolean;
  showAll: () => void;
  fix: () => void;
}

/** What is chosen to be seen in the plane. */
export const PlaneTools = memo(function PlaneTools({ part, channel, beside, comparison, isZoomed, isFixed, showAll, fix }: Props) {
  // How far what is compared is apart is said in the scene's units.
  useOpenScene((scene) => scene.header.units);
  return (
    <div style={{ position: "absolute", right: 18, top: 2, display: "flex", gap: 4 }}>
      {(isZoomed || isFixed) && (
        <Button size="small" onClick={showAll}>
          Show all (F)
        </Button>
      )}
      <Button
        size="small"
        title="The value axis fits what is shown, or stays as it is"
        aria-pressed={isFixed}
        onClick={fix}
      >
        values {isFixed ? "fixed" : "auto"}
      </Button>
      <CurvesMenu curves={beside} />
      <TapsMenu />
      <CompareMenu part={part} channel={channel} comparison={comparison} />
    </div>
  );
});
