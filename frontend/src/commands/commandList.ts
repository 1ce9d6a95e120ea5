import { useEffect } from "react";
import { create } from "zustand";

import { useLatest } from "../shared/useLatest";
import type { ShortcutName } from "./shortcuts";

/** Something that can be done now, by its name. */
export interface Command {
  name: string;
  /** Which keys it has, by the command that they run. */
  shortcut?: ShortcutName;
  run: () => void;
}

/** All commands that can be found in the palette, by who offers them. */
const useOffers = create<Record<string, () => Command[]>>(() => ({}));

/** Offers commands for as long as the component is there. */
export function useCommands(owner: string, offer: () => Command[]) {
  const latest = useLatest(offer);
  useEffect(() => {
    useOffers.setState({ [owner]: () => latest.current() });
    return () => {
      useOffers.setState({ [owner]: () => [] });
    };
  }, [owner, latest]);
}

export function allCommands(): Command[] {
  return Object.values(useOffers.getState()).flatMap((offer) => offer());
}
