import { Button, Result } from "antd";
import type { ReactNode } from "react";
import { Component } from "react";

/** Shows what is fetched when it is first opened; where that fails it says so, and offers to load the
 * page again. */
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
        subTitle="The server did not send it, or it stopped in the middle. Nothing of the scene is lost."
        extra={<Button type="primary" onClick={() => { window.location.reload(); }}>Load again</Button>}
      />
    );
  }
}
