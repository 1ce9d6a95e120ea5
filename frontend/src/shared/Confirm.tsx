import { Button, Space } from "antd";
import type { TooltipPlacement } from "antd/es/tooltip";
import type { ReactElement, ReactNode } from "react";

import { Popup } from "./Popup";

interface Props {
  title: string;
  text: ReactNode;
  /** What doing it is called. */
  yes: string;
  placement?: TooltipPlacement;
  /** Does it; the question stays where this gives false. */
  onYes: () => unknown;
  /** It is closed without an answer. */
  onNo?: () => void;
  children: ReactElement;
}

/** A question before something is done, beside what was clicked. */
export function Confirm({ title, text, yes, placement, onYes, onNo, children }: Props) {
  const content = (close: () => void) => (
    <div style={{ display: "grid", gap: 10, maxWidth: 300 }}>
      <div>{text}</div>
      <Space size={6}>
        <Button size="small" onClick={() => { onNo?.(); close(); }}>Cancel</Button>
        <Button
          size="small"
          type="primary"
          onClick={() => {
            void Promise.resolve(onYes()).then((done) => { if (done !== false) close(); });
          }}
        >
          {yes}
        </Button>
      </Space>
    </div>
  );
  return <Popup title={title} {...(placement ? { placement } : {})} content={content}>{children}</Popup>;
}
