import { EyeInvisibleOutlined, EyeOutlined } from "@ant-design/icons";
import { Button, Tooltip } from "antd";

import type { StepView } from "../../api/client";
import { useEdit } from "../../shell/useEdit";

/** Mutes a step, or lets it work again. */
export function StepTools({ step }: { step: StepView }) {
  const edit = useEdit();
  const word = step.on ? "Mute" : "Unmute";
  return (
    <Tooltip title={`${word} (M)`}>
      <Button
        type="text"
        size="small"
        aria-label={`${word} ${step.name}`}
        icon={step.on ? <EyeOutlined /> : <EyeInvisibleOutlined />}
        style={{ width: 20, height: 18 }}
        onClick={() => void edit({ do: "change step", step: step.id, on: !step.on })}
      />
    </Tooltip>
  );
}
