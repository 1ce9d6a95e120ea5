import type { Clip, OneEdit } from "../../api/client";
import { post, reason } from "../../api/client";
import { counted } from "../../shared/format";
import { channelsInScope, channelsOf, chosenLayer, useKeyState } from "../../state/keying";
import { useOpenScene } from "../../state/openScene";
import { remembered } from "../../state/remembered";
import { usePlayer } from "../../state/player";
import { useSelection } from "../../state/selection";

type Edit = (...edits: OneEdit[]) => Promise<boolean>;

export interface PoseCommand {
  id: string;
  name: string;
  hint: string;
  section: "reset" | "copy" | "rest";
  run: () => void;
}

const store = "bindu.clip";

/** Commands on the pose of the chosen parts. A copy is kept in this browser, so that it can be
 * pasted into another scene. */
export function poseCommands(edit: Edit, tell: (text: string) => void): PoseCommand[] {
  const parts = () => useSelection.getState().parts;
  const frame = () => usePlayer.getState().frame;
  const always = () => useKeyState.getState().autoKey === "always";
  const reset = (group: "all" | "position" | "rotation" | "scale" | "own channels"): PoseCommand => ({
    id: `reset ${group}`,
    name: group === "all" ? "all channels" : group,
    hint: `Brings ${group} of the chosen parts back to their default pose`,
    section: "reset",
    run: () => void edit({ do: "reset channels", parts: parts(), group, frame: frame(), layer: chosenLayer(), key: always() }),
  });
  const paste = (mirrored: boolean, onto: boolean): PoseCommand => ({
    id: `paste${mirrored ? " mirrored" : ""}${onto ? " onto chosen" : ""}`,
    name: onto ? "paste onto the chosen parts" : mirrored ? "paste mirrored" : "paste by names",
    hint: onto ? "Onto the chosen parts, in their order" : mirrored ? "Onto the opposites" : "Onto parts of the same names",
    section: "copy",
    run: () => {
      const clip = remembered(localStorage, store) as Clip | null;
      if (!clip) {
        tell("Nothing was copied yet.");
        return;
      }
      const wish = { do: "paste clip", clip, frame: frame(), mirrored, onto: onto ? parts() : [], layer: chosenLayer(), key: always() } as const;
      // What of it is not here or locked, and at which rate it came, stands in what the edit is called.
      void edit(wish).then((done) => { if (done) tell(useOpenScene.getState().header.undo ?? ""); });
    },
  });
  const rest = (below: boolean, keep: boolean): PoseCommand => ({
    id: `rest ${String(below)} ${String(keep)}`,
    name: `make this pose the rest${below ? ", with all below" : ""}${keep ? "" : ", and let things move"}`,
    hint: keep ? "Channels become their defaults; nothing moves in the world on any frame" : "The rest takes the pose; keyed channels keep their curves and move from there",
    section: "rest",
    run: () => void edit({ do: "rest from pose", parts: parts(), frame: frame(), below, keep }),
  });
  return [
    reset("all"), reset("position"), reset("rotation"), reset("scale"), reset("own channels"),
    { id: "copy pose", name: "copy the pose", hint: "The values of the chosen parts on this frame, or of the key scope where that is a set", section: "copy", run: () => void copy(null, tell) },
    { id: "copy animation", name: "copy the animation", hint: "The keys of the chosen parts over the whole range", section: "copy", run: () => void copy("range", tell) },
    paste(false, false), paste(true, false), paste(false, true),
    { id: "set default pose", name: "make this pose the default pose", hint: "What reset goes back to, for the chosen parts", section: "rest", run: () => void edit({ do: "set default pose", parts: parts(), frame: frame() }) },
    { id: "clear default pose", name: "clear the default pose", hint: "Reset goes back to the channels' defaults", section: "rest", run: () => void edit({ do: "set default pose", parts: parts() }) },
    rest(false, true), rest(true, true), rest(false, false), rest(true, false),
  ];
}

async function copy(span: "range" | null, tell: (text: string) => void) {
  const { sceneId, parts, header } = useOpenScene.getState();
  const { scope } = useKeyState.getState();
  const chosen = useSelection.getState().parts;
  const channels = scope.startsWith("set:")
    ? channelsInScope()
    : chosen.flatMap((id) => channelsOf(parts[id]?.channels ?? [], id, "all"));
  const first = span ? header.first : usePlayer.getState().frame;
  const wish = { channels, first, last: span ? header.last : null, layer: chosenLayer() };
  try {
    const { clip } = await post<{ clip: Clip }>(`/api/scenes/${String(sceneId)}/copy`, wish);
    localStorage.setItem(store, JSON.stringify(clip));
    tell(`Copied the ${clip.kind} of ${counted(clip.parts.length, "part")}.`);
  } catch (error) {
    tell(reason(error));
  }
}
