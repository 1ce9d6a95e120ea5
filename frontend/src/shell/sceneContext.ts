import { App } from "antd";
import { createContext, useCallback, useContext } from "react";

import type { ChannelView, OneEdit, PartView } from "../api/client";
import { reason } from "../api/client";
import type { Scene } from "../api/scene";
import { sendEdits } from "../api/scene";
import { feed } from "../state/samples";
import { useSelection } from "../state/selection";

interface Open {
  sceneId: number;
  scene: Scene;
}

export const SceneContext = createContext<Open | null>(null);

/** The scene that is open. */
export function useOpenScene(): Open {
  const open = useContext(SceneContext);
  if (!open) throw new Error("outside a scene");
  return open;
}

/** Sends edits; a refusal is told in a message. Resolves to whether they were stored. */
export function useEdit() {
  const { sceneId } = useOpenScene();
  const { message } = App.useApp();
  return useCallback(
    async (...edits: OneEdit[]): Promise<boolean> => {
      try {
        await sendEdits(sceneId, edits);
        return true;
      } catch (error) {
        feed.tryOut([]);
        void message.error(reason(error), 6);
        return false;
      }
    },
    [sceneId, message],
  );
}

/** The chosen part, if it is there. */
export function useChosenPart(): PartView | undefined {
  const { scene } = useOpenScene();
  const id = useSelection((selection) => selection.part);
  return id ? scene.parts[id] : undefined;
}

/** The chosen channel of the chosen part, if it is there. */
export function useChosenChannel(): ChannelView | undefined {
  const part = useChosenPart();
  const id = useSelection((selection) => selection.channel);
  return part?.channels.find((channel) => channel.id === id);
}
