import { Button, Checkbox, Segmented, Select, Space } from "antd";

import { unitIn, useOpenScene } from "../../state/openScene";
import { goTo } from "../../state/player";
import { byName } from "../../shared/byName";
import { shown } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { Popup } from "../../shared/Popup";
import type { Comparison } from "./comparison";
import { keepReference, useComparing } from "./comparison";

interface Props {
  part: string;
  channel: string;
  comparison: Comparison | null;
}

/** What is laid over the curve: a reference copy, another channel, the slope. */
export function CompareMenu(props: Props) {
  const { comparison } = props;
  return (
    <>
      {comparison?.showsOther && <Worst comparison={comparison} part={props.part} channel={props.channel} />}
      <Popup placement="topRight" title="Lay over the curve" content={() => <Form {...props} />}>
        <Button size="small" title="Compare with a reference copy or another channel; show the slope">Compare…</Button>
      </Popup>
    </>
  );
}

function Worst({ comparison: { view }, part, channel }: { comparison: Comparison; part: string; channel: string }) {
  const unit = useOpenScene(({ parts }) => unitIn(parts, part, channel));
  return (
    <Button size="small" title="Go to the frame where they differ most" onClick={() => { goTo(view.worst_frame); }}>
      differ most at {view.worst_frame}: <span className="mono">{shown(view.worst, unit)}</span>
    </Button>
  );
}

const set = (change: Partial<ReturnType<typeof useComparing.getState>>) => { useComparing.setState(change); };

function Form({ part, channel, comparison }: Props) {
  const { what, slope } = useComparing();
  return (
    <div style={{ display: "grid", gap: 8, width: 330 }}>
      <Segmented
        size="small"
        aria-label="What is laid over"
        value={what}
        options={["nothing", "reference", "channel"]}
        onChange={(chosen) => { set({ what: chosen as typeof what }); }}
      />
      {what === "reference" && <KeptCurves />}
      {what === "channel" && <OtherChannel part={part} channel={channel} comparison={comparison} />}
      <Checkbox checked={slope} onChange={() => { set({ slope: !slope }); }}>
        show the slope, each second
      </Checkbox>
    </div>
  );
}

/** Keeps all curves as they are now, to be laid under what they become. */
function KeptCurves() {
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const kept = useComparing(({ reference }) => reference[sceneId]?.revision);
  return (
    <Space>
      <Button size="small" onClick={keepReference}>Keep as reference</Button>
      <span style={{ color: ink.quiet }}>
        {kept === undefined ? "No reference yet." : `All curves as at edit ${String(kept)}.`}
      </span>
    </Space>
  );
}

/** Another channel: which, and mirrored, scaled or later. */
function OtherChannel({ part, channel, comparison }: Props) {
  const { other, mirrored, fit, shift } = useComparing();
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const options = order.flatMap((id) =>
    (parts[id]?.channels ?? [])
      .filter((one) => id !== part || one.id !== channel)
      .map((one) => ({ value: `${id}/${one.id}`, label: `${parts[id]?.name ?? ""}.${one.name}` })),
  );
  return (
    <>
      <Select
        size="small"
        showSearch={byName}
        aria-label="Channel to lay over"
        placeholder="part.channel"
        value={options.find(({ value }) => value === `${other?.part ?? ""}/${other?.channel ?? ""}`)?.value ?? null}
        options={options}
        onChange={(value: string) => {
          const [one = "", two = ""] = value.split("/");
          set({ other: { part: one, channel: two } });
        }}
      />
      <Space>
        <Checkbox checked={mirrored} onChange={() => { set({ mirrored: !mirrored }); }}>mirrored</Checkbox>
        <Checkbox checked={fit} onChange={() => { set({ fit: !fit }); }}>scaled to fit</Checkbox>
        <span style={{ color: ink.quiet }}>later by</span>
        <NumberField label="Frames later" value={shift} text={String(shift)} step={1} width={56} onCommit={(later) => { set({ shift: later }); }} />
      </Space>
      {fit && comparison && (
        <span className="mono" style={{ fontSize: 12 }}>
          × {shown(comparison.view.factor)} {comparison.view.offset < 0 ? "−" : "+"} {shown(Math.abs(comparison.view.offset))}
        </span>
      )}
    </>
  );
}
