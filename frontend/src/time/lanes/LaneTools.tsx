import { Button } from "antd";
import { memo } from "react";

import { showInKit } from "../../state/kit";
import { Popup } from "../../shared/Popup";
import { Heading } from "../keys/KeyTools";
import { Tints } from "../keys/Tints";
import { LimbSwitches } from "../spaces/LimbSwitches";
import { PickAndCarry } from "../spaces/PickAndCarry";
import { MarkerForm } from "./Markers";

/** What is done from the lanes' head: tints, carrying, switches of limbs, leads, markers. */
export const LaneTools = memo(function LaneTools() {
  return (
    <>
      <Popup placement="topRight" title={<Heading what="Tint" />} content={(close) => <Tints onDone={close} />}>
        <Button size="small" type="text" style={{ paddingInline: 5 }} title="Tints keys with a word and a colour, and finds them again by it">tint</Button>
      </Popup>
      <PickAndCarry />
      <LimbSwitches />
      <Button size="small" type="text" title="Groups of parts of which any one can carry the others; who leads is keyed. Opens them in the kit" onClick={() => { showInKit("lead groups"); }}>leads</Button>
      <Popup placement="topRight" title="Marker" content={(close) => <MarkerForm onDone={close} />}>
        <Button size="small" type="text" title="Puts a labelled marker on the playhead's frame">+ marker</Button>
      </Popup>
    </>
  );
});
