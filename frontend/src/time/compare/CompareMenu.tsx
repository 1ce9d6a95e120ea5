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

function Form({ part, channel, comparison }: Props) {
  const state = useComparing();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const parts = useOpenScene((scene) => scene.parts);
  const order = useOpenScene((scene) => scene.order);
  const kept = state.reference[sceneId]?.revision;
  const options = order.flatMap((id) =>
    (parts[id]?.channels ?? [])
      .filter((one) => id !== part || one.id !== channel)
      .map((one) => ({ value: `${id}/${one.id}`, label: `${parts[id]?.name ?? ""}.${one.name}` })),
  );
  const set = (change: Partial<typeof state>) => { useComparing.setState(change); };
  return (
    <div style={{ display: "grid", gap: 8, width: 330 }}>
      <Segmented
        size="small"
        aria-label="What is laid over"
        value={state.what}
        options={["nothing", "reference", "channel"]}
        onChange={(what) => { set({ what: what as typeof state.what }); }}
      />
      {state.what === "reference" && (
        <Space>
          <Button size="small" onClick={keepReference}>Keep as reference</Button>
          <span style={{ color: ink.quiet }}>
            {kept === undefined ? "No reference yet." : `All curves as at edit ${String(kept)}.`}
          </span>
        </Space>
      )}
      {state.what === "channel" && (
        <>
          <Select
            size="small"
            showSearch={byName}
            aria-label="Channel to lay over"
            placeholder="part.channel"
            value={options.find(({ value }) => value === `${state.other?.part ?? ""}/${state.other?.channel ?? ""}`)?.value ?? null}
            options={options}
            onChange={(value: string) => {
              const [one = "", two = ""] = value.split("/");
              set({ other: { part: one, channel: two } });
            }}
          />
          <Space>
            <Checkbox checked={state.mirrored} onChange={() => { set({ mirrored: !state.mirrored }); }}>mirrored</Checkbox>
            <Checkbox checked={state.fit} onChange={() => { set({ fit: !state.fit }); }}>scaled to fit</Checkbox>
            <span style={{ color: ink.quiet }}>later by</span>
            <NumberField label="Frames later" value={state.shift} text={String(state.shift)} step={1} width={56} onCommit={(shift) => { set({ shift }); }} />
          </Space>
          {state.fit && comparison && (
            <span className="mono" style={{ fontSize: 12 }}>
              × {shown(comparison.view.factor)} {comparison.view.offset < 0 ? "−" : "+"} {shown(Math.abs(comparison.view.offset))}
            </span>
          )}
        </>
      )}
      <Checkbox checked={state.slope} onChange={() => { set({ slope: !state.slope }); }}>
        show the slope, each second
      </Checkbox>
    </div>
  );
}
