import { Button, Result } from "antd";
import type { ReactNode } from "react";
import { Component } from "react";

/** Around a view: where it stops in the middle it says so, and offers to load the page again. */
export class Fetched extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <Result
        title="This view cannot be shown"
        subTitle="It stopped in the middle. Nothing of the scene is lost."
        extra={<Button type="primary" onClick={() => { window.location.reload(); }}>Load again</Button>}
      />
    );
  }
}
