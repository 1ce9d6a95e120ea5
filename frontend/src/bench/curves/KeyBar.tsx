import { Button, Segmented, Select, Space, Tooltip } from "antd";

import type { ChannelView, Interpolation, PartView } from "../../api/client";
import { useEdit } from "../../shell/useEdit";
import { usePlayer } from "../../state/player";
import { feed } from "../../state/samples";
import { chooseKeys, useSelection } from "../../state/selection";
import { exact } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../theme";

interface Props {
  part: PartView;
  channel: ChannelView;
}

const kinds: Interpolation[] = ["hold", "linear", "smooth"];
const eases: Interpolation[] = ["ease in", "ease out", "ease both", "overshoot", "bounce", "spring"];
const outsides = ["hold", "straight on", "repeat", "repeat with offset", "mirror"] as const;

/** The chosen key in numbers: frame, value, interpolation; add and delete; before and after. */
export function KeyBar({ part, channel }: Props) {
  const edit = useEdit();
  const frames = useSelection((selection) => selection.keys);
  const key = channel.curve?.keys.find((one) => one.frame === frames[0]);
  const where = { part: part.id, channel: channel.id };
  const change = (what: { to_frame?: number; value?: number; interpolation?: Interpolation }) => ({
    do: "change keys" as const,
    ...where,
    changes: [{ frame: key?.frame ?? 0, ...what }],
  });
  const moveTo = (frame: number) => {
    void edit(change({ to_frame: frame })).then((stored) => {
      if (stored) chooseKeys([frame]);
    });
  };
  return (
    <div
      style={{
        display: "flex",
        alignItems: "center",
        gap: 8,
        padding: "4px 12px",
        borderBottom: `1px solid ${ink.line}`,
        whiteSpace: "nowrap",
        overflow: "hidden",
        flex: "none",
        minHeight: 33,
      }}
    >
      <strong
        title={`${part.name}.${channel.name}`}
        style={{ overflow: "hidden", textOverflow: "ellipsis" }}
      >
        {part.name}.{channel.name}
      </strong>
      <span style={{ flex: 1 }} />
      {key ? (
        <Space size={5}>
          <span style={{ color: ink.quiet }}>frame</span>
          <NumberField
            label="Frame of the key"
            value={key.frame}
            text={exact(key.frame)}
            step={1}
            width={52}
            onTry={(frame) => { feed.tryOut([change({ to_frame: frame })]); }}
            onCommit={moveTo}
          />
          <span style={{ color: ink.quiet }}>value</span>
          <NumberField
            label="Value of the key"
            value={key.value}
            text={exact(key.value)}
            step={channel.unit === "°" ? 1 : 0.01}
            width={76}
            onTry={(value) => { feed.tryOut([change({ value })]); }}
            onCommit={(value) => void edit(change({ value }))}
          />
          <Segmented
            size="small"
            aria-label="Interpolation to the right of the key"
            options={kinds}
            value={key.interpolation ?? "smooth"}
            onChange={(interpolation) => void edit(change({ interpolation }))}
          />
          <Select<Interpolation | null>
            size="small"
            aria-label="Ease to the right of the key"
            style={{ width: 84 }}
            popupMatchSelectWidth={false}
            placeholder="ease…"
            value={eases.find((ease) => ease === key.interpolation) ?? null}
            options={eases.map((value) => ({ value, label: value }))}
            onChange={(interpolation) => {
              if (interpolation) void edit(change({ interpolation }));
            }}
          />
          <Tooltip title="Delete the key (Delete)">
            <Button
              size="small"
              aria-label="Delete key"
              onClick={() => {
                chooseKeys([]);
                void edit({ do: "remove keys", ...where, frames: [key.frame] });
              }}
            >
              Delete
            </Button>
          </Tooltip>
        </Space>
      ) : (
        channel.curve && <Outside {...{ part, channel }} />
      )}
      <AddKey {...{ part, channel }} />
    </div>
  );
}

function AddKey({ part, channel }: Props) {
  const edit = useEdit();
  const here = usePlayer(({ frame }) => channel.curve?.keys.some((key) => key.frame === frame) ?? false);
  const hint = channel.locked
    ? "The channel is locked"
    : here
      ? "There is a key on this frame already"
      : "A key on the curve at the playhead; the shape stays (D)";
  return (
    <Tooltip title={hint}>
      <Button
        size="small"
        disabled={here || channel.locked}
        onClick={() => {
          const { frame } = usePlayer.getState();
          void edit({ do: "insert key", part: part.id, channel: channel.id, frame }).then((stored) => {
            if (stored) chooseKeys([frame]);
          });
        }}
      >
        Add key
      </Button>
    </Tooltip>
  );
}

function Outside({ part, channel }: Props) {
  const edit = useEdit();
  const { curve } = channel;
  const options = outsides.map((value) => ({ value, label: value }));
  return (
    <Space size={6}>
      {(["before", "after"] as const).map((end) => (
        <label key={end} style={{ color: ink.quiet }}>
          {end}{" "}
          <Select
            size="small"
            aria-label={`${end} the keys`}
            style={{ width: 118 }}
            popupMatchSelectWidth={false}
            value={curve?.[end] ?? "hold"}
            options={options}
            onChange={(value) =>
              void edit({
                do: "set outside",
                part: part.id,
                channel: channel.id,
                ...(end === "before" ? { before: value } : { after: value }),
              })
            }
          />
        </label>
      ))}
    </Space>
  );
}
