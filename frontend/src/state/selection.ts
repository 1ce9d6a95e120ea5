import { create } from "zustand";

import { goTo, usePlayer } from "./player";

export interface Selection {
  part: string | null;
  channel: string | null;
  step: string | null;
  /** The frames of the chosen keys of the chosen channel. */
  keys: number[];
}

const nothing: Selection = { part: null, channel: null, step: null, keys: [] };

/** What is chosen. It stands in the browser's address, so that a link shows the same. */
export const useSelection = create<Selection>(() => nothing);

export function choosePart(part: string | null) {
  const { part: before } = useSelection.getState();
  if (part !== before) useSelection.setState({ ...nothing, part });
}

export function chooseChannel(part: string, channel: string) {
  const now = useSelection.getState();
  if (now.part === part && now.channel === channel) return;
  useSelection.setState({ part, channel, step: null, keys: [] });
}

export function chooseStep(step: string | null) {
  useSelection.setState({ step });
}

export function chooseKeys(keys: number[]) {
  useSelection.setState({ keys });
}

/** Takes selection and frame from the address. */
export function readAddress() {
  const query = new URLSearchParams(window.location.search);
  useSelection.setState({
    ...nothing,
    part: query.get("part"),
    channel: query.get("part") ? query.get("channel") : null,
  });
  const frame = Number(query.get("frame"));
  if (query.has("frame") && Number.isFinite(frame)) goTo(frame);
}

/** Keeps the address up to date; gives back what ends that. */
export function writeAddress() {
  let timer = 0;
  const write = () => {
    window.clearTimeout(timer);
    timer = window.setTimeout(() => {
      const { part, channel } = useSelection.getState();
      const { frame, playing } = usePlayer.getState();
      if (playing) return;
      const query = new URLSearchParams();
      if (part) query.set("part", part);
      if (part && channel) query.set("channel", channel);
      query.set("frame", String(frame));
      window.history.replaceState(window.history.state, "", `?${query.toString()}`);
    }, 150);
  };
  const ends = [useSelection.subscribe(write), usePlayer.subscribe(write)];
  return () => {
    window.clearTimeout(timer);
    for (const end of ends) end();
  };
}
