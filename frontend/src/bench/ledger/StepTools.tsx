import { DeleteOutlined, EyeInvisibleOutlined, EyeOutlined } from "@ant-design/icons";
import { Button } from "antd";

import type { StepView } from "../../api/client";
import { useEdit } from "../../shell/useEdit";

const small = { width: 20, height: 18 };

/** Mutes a step or lets it work again; deletes it. */
export function StepTools({ step }: { step: StepView }) {
  const edit = useEdit();
  const word = step.on ? "Mute" : "Unmute";
  return (
    <span style={{ whiteSpace: "nowrap" }}>
      <Button
        type="text"
        size="small"
        title={`${word} (M)`}
        aria-label={`${word} ${step.name}`}
        icon={step.on ? <EyeOutlined /> : <EyeInvisibleOutlined />}
        style={small}
        onClick={() => void edit({ do: "change step", step: step.id, on: !step.on })}
      />
      <Button
        type="text"
        size="small"
        title="Delete the step; undo brings it back"
        aria-label={`Delete ${step.name}`}
        icon={<DeleteOutlined />}
        style={small}
        onClick={() => void edit({ do: "remove step", step: step.id })}
      />
    </span>
  );
}
