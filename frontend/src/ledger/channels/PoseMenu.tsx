import { App, Button, Dropdown } from "antd";
import { memo } from "react";

import { useEdit } from "../../state/useEdit";
import { useOpenScene } from "../../state/openScene";
import { useSelection } from "../../state/selection";
import { poseCommands } from "./poses";
import { counted } from "../../shared/format";
import { asMenu } from "../../shared/menus";

/** What can be done with the pose of the chosen parts: reset, default, copy, paste, rest. */
export const PoseMenu = memo(function PoseMenu() {
  const edit = useEdit();
  const { message } = App.useApp();
  const commands = poseCommands(edit, (text) => void message.info(text, 3));
  const chosen = useSelection(({ parts }) => parts);
  const posed = useOpenScene(({ parts }) => chosen.some((id) => parts[id]?.posed));
  const item = ({ id, name, hint }: (typeof commands)[number]) => ({
    key: id,
    label: <span title={hint}>{name}</span>,
    disabled: id === "clear default pose" && !posed,
  });
  const group = (label: string, prefix: string) => ({
    key: prefix,
    type: "group" as const,
    label,
    children: commands.filter(({ section }) => section === prefix).map(item),
  });
  return (
    <Dropdown
      trigger={["click"]}
      // Beside the button: above it or below there is no room for all entries.
      align={{ points: ["tl", "tr"], offset: [4, 0], overflow: { shiftY: true } }}
      {...asMenu("Pose")}
      menu={{
        style: { maxHeight: "calc(100vh - 16px)", overflowY: "auto" },
        items: [
          group("Reset", "reset"),
          group("Copy and paste", "copy"),
          group("Default and rest", "rest"),
        ],
        onClick: ({ key }) => {
          commands.find(({ id }) => id === key)?.run();
        },
      }}
    >
      <Button type="text" size="small" title={`Reset, copy, paste the pose of ${counted(chosen.length, "chosen part")}`} style={{ height: 18, fontSize: 11.5 }}>
        pose…
      </Button>
    </Dropdown>
  );
});
