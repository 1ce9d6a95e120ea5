import { useMutation, useQuery } from "@tanstack/react-query";
import { App } from "antd";
import { useNavigate } from "react-router";

import type { ExampleList, SceneEntry, SceneList, TakeInView } from "../api/client";
import { ask, get, post, postFile, reason } from "../api/client";
import { goFirst } from "../state/first";
import { againWhenFailed, queryClient } from "../api/queryClient";

const list = ["scenes"];
const bin = ["bin"];

const refresh = () => {
  void queryClient.invalidateQueries({ queryKey: list });
  void queryClient.invalidateQueries({ queryKey: bin });
};

const addScene = (wish: { name: string; start: string | null }) => post<SceneEntry>("/api/scenes", wish);

/** A file, and how many metres its unit is where it does not say that itself. */
interface Brought {
  file: File;
  unit?: string;
}

/** What became of a file. */
interface Outcome {
  said: string;
  /** It was made a scene of, without anything to tell. */
  plain: boolean;
  failed: boolean;
}

/** Makes scenes of files, each by itself: one that is refused holds up no other. */
const importScenes = (brought: Brought[]): Promise<Outcome[]> => Promise.all(brought.map(async (one) => {
  try {
    const told = await importScene(one);
    return { said: [`Imported ${one.file.name}.`, ...told].join(" · "), plain: !told.length, failed: false };
  } catch (error) {
    return { said: `${one.file.name}: ${reason(error)}`, plain: false, failed: true };
  }
}));

/** Makes a scene of a file: Bindu's own, or one of another program. Resolves to what it does not hold as
 * the file did. */
async function importScene({ file, unit }: Brought): Promise<string[]> {
  if (file.name.toLowerCase().endsWith(".json")) {
    const headers = { "Content-Type": "application/json" };
    await ask("/api/scenes/import", { method: "POST", headers, body: file });
    return [];
  }
  const query = new URLSearchParams({ file: file.name, ...(unit === undefined ? {} : { unit }) });
  const { report } = await postFile<TakeInView>(`/api/scenes/take-in?${query.toString()}`, file);
  return [...report.otherwise, ...report.lost.map((what) => `not held: ${what}`)];
}

const copyScene = (id: number) => post<SceneEntry>(`/api/scenes/${String(id)}/duplicate`, {});
const openExample = (name: string) => post<SceneEntry>("/api/examples", { name });
const tagScene = ({ id, tags }: { id: number; tags: string[] }) => ask(`/api/scenes/${String(id)}/tags`, { method: "PUT", headers: { "Content-Type": "application/json" }, body: JSON.stringify({ tags }) });
const removeScene = (id: number) => ask(`/api/scenes/${String(id)}`, { method: "DELETE" });

/** All scenes, and what is done with them: start, import, copy, put into the bin. */
export function useScenes() {
  const { message } = App.useApp();
  const navigate = useNavigate();
  const scenes = useQuery({
    queryKey: list,
    queryFn: async () => (await get<SceneList>("/api/scenes")).scenes,
    refetchInterval: againWhenFailed,
  });
  const failed = (error: unknown) => void message.error(reason(error), 8);
  const open = (entry: SceneEntry) => void navigate(`/scenes/${String(entry.id)}/bench`);
  const add = useMutation({ mutationFn: addScene, onSuccess: open, onError: failed });
  const first = useMutation({
    mutationFn: () => addScene({ name: "First wheel", start: null }),
    onSuccess: (entry) => {
      goFirst({ scene: entry.id, step: 0 });
      open(entry);
    },
    onError: failed,
  });
  const bring = useMutation({
    mutationFn: importScenes,
    onSuccess: (outcomes) => {
      // In one message: of several only the last few would stay to be read.
      void message.open({
        type: outcomes.some(({ failed: one }) => one) ? "error" : "success",
        content: outcomes.map(({ said }) => said).join("\n"),
        duration: outcomes.every(({ plain }) => plain) ? 3 : 12,
        style: { whiteSpace: "pre-line", textAlign: "start" },
      });
      refresh();
    },
  });
  const copy = useMutation({ mutationFn: copyScene, onError: failed, onSettled: refresh });
  // Shown before it is stored: the next tag is put to those that are shown.
  const tagged = ({ id, tags }: Parameters<typeof tagScene>[0]) => {
    queryClient.setQueryData<SceneEntry[]>(list, (entries) => entries?.map((entry) => (entry.id === id ? { ...entry, tags } : entry)));
  };
  const tag = useMutation({ mutationFn: tagScene, onMutate: tagged, onError: failed, onSettled: refresh });
  const example = useMutation({ mutationFn: openExample, onSuccess: open, onError: failed });
  const remove = useMutation({ mutationFn: removeScene, onError: failed, onSettled: refresh });
  return { scenes, add, first, tag, bring, copy, example, remove };
}

/** The scenes in the bin, and what is done with them. */
export function useBin() {
  const { message } = App.useApp();
  const failed = (error: unknown) => void message.error(reason(error), 8);
  const scenes = useQuery({ queryKey: bin, queryFn: async () => (await get<SceneList>("/api/bin")).scenes, retry: false });
  const back = useMutation({ mutationFn: (id: number) => post<SceneEntry>(`/api/bin/${String(id)}/back`, {}), onError: failed, onSettled: refresh });
  const forGood = useMutation({ mutationFn: (id: number) => ask(`/api/bin/${String(id)}`, { method: "DELETE" }), onError: failed, onSettled: refresh });
  return { scenes: scenes.data ?? [], back: back.mutate, forGood: forGood.mutate };
}

/** The demo's scenes, and what new scenes may begin with. */
export function useExamples(): ExampleList {
  return useQuery({ queryKey: ["examples"], queryFn: () => get<ExampleList>("/api/examples"), staleTime: Infinity }).data ?? { names: [], starts: [] };
}
