import { afterEach, expect, it } from "vitest";

import { foldKind, showInKit, useKit } from "./kit";
import { usePanels, viewAlone } from "./panels";

const usual = useKit.getState();
afterEach(() => {
  useKit.setState(usual, true);
  usePanels.setState({ folded: [] });
});

it("shows a thing in the list from elsewhere: panel and kind unfolded, nothing left out", () => {
  viewAlone();
  foldKind("limbs");
  foldKind("sets");
  useKit.setState({ find: "wing" });
  showInKit("limbs", "b1");
  expect(useKit.getState()).toEqual({ tab: "kit", open: { kind: "limbs", id: "b1" }, find: "", folded: ["sets"] });
  expect(usePanels.getState().folded).toEqual(["time", "ledger"]);
  foldKind("sets");
  expect(useKit.getState().folded).toEqual([]);
});
