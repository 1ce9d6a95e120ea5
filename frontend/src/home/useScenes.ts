import { useMutation, useQuery } from "@tanstack/react-query";
import { App } from "antd";
import { useNavigate } from "react-router";

import type { SceneEntry, SceneList } from "../api/client";
import { ask, get, post, reason } from "../api/client";
import { againWhenFailed, queryClient } from "../api/queryClient";

const list = ["scenes"];

const addScene = (name: string) => post<SceneEntry>("/api/scenes", { name });

async function importScene(file: File) {
  const headers = { "Content-Type": "application/json" };
  const response = await ask("/api/scenes/import", { method: "POST", headers, body: file });
  return (await response.json()) as SceneEntry;
}

const removeScene = (id: number) => ask(`/api/scenes/${String(id)}`, { method: "DELETE" });

/** All scenes, and what is done with them: start, import, delete. */
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
  const bring = useMutation({
    mutationFn: importScene,
    onError: (error, file) => void message.error(`${file.name}: ${reason(error)}`, 8),
    onSuccess: (entry) => {
      void message.success(`Imported ${entry.name}.`);
      void queryClient.invalidateQueries({ queryKey: list });
    },
  });
  const remove = useMutation({
    mutationFn: removeScene,
    onError: failed,
    onSettled: () => void queryClient.invalidateQueries({ queryKey: list }),
  });
  return { scenes, add, bring, remove };
}
