import { DeleteOutlined } from "@ant-design/icons";
import { Button, Space } from "antd";
import { memo } from "react";

import type { ChannelView } from "../../api/client";
import { useEdit } from "../../state/useEdit";
import { usePart } from "../../state/openScene";
import { Popup } from "../../shared/Popup";
import { ChannelForm } from "./ChannelForm";

/** The form that gives a part a channel of its own. */
export const AddChannel = memo(function AddChannel({ partId }: { partId: string }) {
  return (
    <Popup label="New channel" placement="rightBottom" content={(close) => <ChannelForm partId={partId} onDone={close} />}>
      <Button size="small" title="Give the part a channel of its own">Add…</Button>
    </Popup>
  );
});

/** Changes, locks and deletes the chosen channel, where that can be done. */
export function ChannelTools({ partId, channel }: { partId: string; channel: ChannelView }) {
  const edit = useEdit();
  const own = isOwn(channel);
  const others = usePart(partId)?.channels.filter(isOwn) ?? [];
  const place = others.findIndex(({ id }) => id === channel.id);
  const count = others.length;
  const move = (by: number) =>
    void edit({ do: "move channel", part: partId, channel: channel.id, position: place + by });
  const lock = { do: "lock channels" as const, part: partId, channels: [channel.id], locked: !channel.locked };
  return (
    <Space size={3}>
      <Button size="small" style={tight} title={`${channel.locked ? "Unlock" : "Lock"} ${channel.name}`} onClick={() => void edit(lock)}>{channel.locked ? "Unlock" : "Lock"}</Button>
      {own && (
        <>
          <Popup label="Channel" placement="right" content={(close) => <ChannelForm partId={partId} channel={channel} onDone={close} />}>
            <Button size="small" style={tight}>Change…</Button>
          </Popup>
          <Button size="small" style={tight} title="Before the channel above it" aria-label={`Move ${channel.name} up`} disabled={place < 1} onClick={() => { move(-1); }}>↑</Button>
          <Button size="small" style={tight} title="Behind the channel below it" aria-label={`Move ${channel.name} down`} disabled={place >= count - 1} onClick={() => { move(1); }}>↓</Button>
          <Button size="small" style={tight} icon={<DeleteOutlined />} title="Delete the channel" aria-label={`Delete ${channel.name}`} onClick={() => void edit({ do: "remove channel", part: partId, channel: channel.id })} />
        </>
      )}
    </Space>
  );
}

const tight = { paddingInline: 6 } as const;

function isOwn({ id }: ChannelView): boolean {
  return /^c\d+$/.test(id);
}
