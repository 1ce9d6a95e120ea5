import { DeleteOutlined } from "@ant-design/icons";
import { Button, Segmented, Select, Space } from "antd";

import type { ChannelView, Curve, Interpolation, OneEdit, PartView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { chosenLayer, keyedId } from "../../state/keying";
import { unitIn, useCurve, useOpenScene } from "../../state/openScene";
import { usePlayer } from "../../state/player";
import { feed } from "../../state/samples";
import type { KeyPick } from "../../state/selection";
import { chooseKeys, useSelection } from "../../state/selection";
import { brief, exact } from "../../shared/format";
import { Hint } from "../../shared/Hint";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { KeyTools } from "../keys/KeyTools";
import { deleteKeys, movedPicks } from "../keys/keyCommands";
import { SeveralKeys } from "../keys/SeveralKeys";
import { Outside } from "./Outside";

interface Shown {
  part: PartView;
  channel: ChannelView;
  /** Where the curve that is keyed now is found. */
  id: string;
  curve: Curve | null;
}

const kinds: Interpolation[] = ["hold", "linear", "smooth"];
const eases: Interpolation[] = ["ease in", "ease out", "ease both", "overshoot", "bounce", "spring"];

/** The chosen keys in numbers, of whichever curves: frame, value, interpolation; delete. Where none is chosen,
 * what can be done with the shown channel's curve: add a key; before and after. */
export function KeyBar({ shown }: { shown: Shown | null }) {
  const keys = useSelection((selection) => selection.keys);
  const count = keys.reduce((sum, { frames }) => sum + frames.length, 0);
  if (!count && !shown) return null;
  return (
    <div
      style={{
        display: "flex",
        alignItems: "center",
        gap: 4,
        padding: "4px 8px",
        borderBottom: `1px solid ${ink.line}`,
        whiteSpace: "nowrap",
        flexWrap: "wrap",
        flex: "none",
        minHeight: 33,
      }}
    >
      {count > 0 ? <ChosenKeys picks={keys} count={count} /> : shown && <NoKey {...shown} />}
      <KeyTools />
    </div>
  );
}

function ChosenKeys({ picks, count }: { picks: KeyPick[]; count: number }) {
  return (
    <>
      <span style={{ flex: 1 }} />
      {count === 1 && picks[0] ? <OneKey pick={picks[0]} /> : <SeveralKeys picks={picks} count={count} />}
      <Kinds picks={picks} />
    </>
  );
}

function NoKey({ part, channel, id, curve }: Shown) {
  return (
    <>
      <strong title={`${part.name}.${channel.name}`} style={{ overflow: "hidden", textOverflow: "ellipsis", flex: "1 1 40px", minWidth: 40 }}>
        {part.name}.{channel.name}
      </strong>
      {curve && <Outside part={part.id} channel={id} before={curve.before ?? "hold"} after={curve.after ?? "hold"} />}
      <AddKey part={part} channel={channel} curve={curve} />
    </>
  );
}

/** Frame and value of the one chosen key, be it of the shown channel or not. */
function OneKey({ pick }: { pick: KeyPick }) {
  const edit = useEdit();
  const unit = useOpenScene(({ parts }) => unitIn(parts, pick.part, pick.channel));
  const curve = useCurve(pick.part, pick.channel);
  const key = curve?.keys.find((one) => one.frame === pick.frames[0]);
  if (!key) return null;
  const where = { part: pick.part, channel: pick.channel };
  const change = (what: { to_frame?: number; value?: number }): OneEdit => ({
    do: "change keys",
    ...where,
    changes: [{ frame: key.frame, ...what }],
  });
  const moveTo = (frame: number) => {
    void edit(change({ to_frame: frame })).then((stored) => {
      if (stored) chooseKeys(movedPicks([pick], frame - key.frame));
    });
  };
  return (
    <Space size={5}>
      <span style={{ color: ink.quiet }}>frame</span>
      <NumberField
        label="Frame of the key"
        value={key.frame}
        text={exact(key.frame)}
        step={1}
        width={52}
        relative
        onTry={(frame) => { feed.tryOut([change({ to_frame: frame })]); }}
        onCommit={moveTo}
      />
      <span style={{ color: ink.quiet }}>value</span>
      <NumberField
        label="Value of the key"
        value={key.value}
        text={brief(key.value, unit, 9)}
        unit={unit}
        width={70}
        relative
        onTry={(value) => { feed.tryOut([change({ value })]); }}
        onCommit={(value) => void edit(change({ value }))}
      />
    </Space>
  );
}

/** The kind of segment to the right of the chosen keys, and deleting them. */
function Kinds({ picks }: { picks: KeyPick[] }) {
  const edit = useEdit();
  const curve = useCurve(picks[0]?.part ?? "", picks[0]?.channel ?? "");
  const frame = picks[0]?.frames[0];
  const now = curve?.keys.find((key) => key.frame === frame)?.interpolation ?? "smooth";
  const set = (interpolation: Interpolation) =>
    void edit({ do: "set interpolation", picks, interpolation });
  return (
    <Space size={5}>
      <Segmented size="small" aria-label="Interpolation to the right of the key" options={kinds} value={now} onChange={set} />
      <Select<Interpolation | null>
        size="small"
        aria-label="Ease to the right of the key"
        style={{ width: 68 }}
        popupMatchSelectWidth={false}
        placeholder="ease"
        value={eases.find((ease) => ease === now) ?? null}
        options={eases.map((value) => ({ value, label: value }))}
        onChange={(kind) => {
          if (kind) set(kind);
        }}
      />
      <Hint title="Delete the chosen keys (Delete)">
        <Button
          size="small"
          aria-label="Delete key"
          onClick={() => { deleteKeys(edit); }}
          icon={<DeleteOutlined />}
        />
      </Hint>
    </Space>
  );
}

function AddKey({ part, channel, curve }: { part: PartView; channel: ChannelView; curve: Curve | null }) {
  const edit = useEdit();
  const here = usePlayer(({ frame }) => curve?.keys.some((key) => key.frame === frame) ?? false);
  const hint = channel.locked
    ? "The channel is locked"
    : here
      ? "There is a key on this frame already"
      : "A key on the curve at the playhead; the shape stays (D)";
  return (
    <Hint title={hint}>
      <Button
        size="small"
        disabled={here || channel.locked}
        onClick={() => {
          const { frame } = usePlayer.getState();
          const layer = chosenLayer();
          const id = keyedId(channel, layer);
          void edit({ do: "key channels", frame, channels: [[part.id, channel.id]], layer }).then((stored) => {
            if (stored) chooseKeys([{ part: part.id, channel: id, frames: [frame] }]);
          });
        }}
      >
        Add key
      </Button>
    </Hint>
  );
}
