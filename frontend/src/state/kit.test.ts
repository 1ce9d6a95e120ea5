import { afterEach, expect, it } from "vitest";

import { closeForm, foldKind, openForm, showInKit, useKit } from "./kit";
import { closeScene, useOpenScene } from "./openScene";
import { usePanels, viewAlone } from "./panels";

const usual = useKit.getState();
afterEach(() => {
  useKit.setState(usual, true);
  usePanels.setState({ folded: [] });
  closeScene();
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

it("opens no form of one scene in another", () => {
  useOpenScene.setState({ sceneId: 1 });
  openForm("gaits", "w1");
  useOpenScene.setState({ sceneId: 1, order: ["p1"] });
  expect(useKit.getState().open).not.toBeNull();
  useOpenScene.setState({ sceneId: 2 });
  expect(useKit.getState().open).toBeNull();
  openForm("gaits", null);
  closeForm();
  expect(useKit.getState().open).toBeNull();
});
