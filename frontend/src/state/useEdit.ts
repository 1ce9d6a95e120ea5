import { App } from "antd";
import { useCallback } from "react";

import type { OneEdit } from "../api/client";
import { reason } from "../api/client";
import { sendEdits } from "./scene";
import { useOpenScene } from "./openScene";
import { feed } from "./samples";

/** Sends the edits of a command; where they are stored, says what was done and runs `done`. */
export function useCommand() {
  const { message } = App.useApp();
  const edit = useEdit();
  return useCallback(
    async (done: () => void, ...edits: OneEdit[]): Promise<void> => {
      if (!(await edit(...edits))) return;
      done();
      const said = useOpenScene.getState().header.undo;
      if (said) void message.info(said, 3);
    },
    [edit, message],
  );
}

/** Sends edits; a refusal is told in a message. Resolves to whether they were stored. */
export function useEdit() {
  const { message } = App.useApp();
  return useCallback(
    async (...edits: OneEdit[]): Promise<boolean> => {
      try {
        await sendEdits(useOpenScene.getState().sceneId, edits);
        return true;
      } catch (error) {
        feed.tryOut([]);
        void message.error(reason(error), 6);
        return false;
      }
    },
    [message],
  );
}
