import { useState } from "react";

import { saysNoUnit } from "../shared/fileUnits";
import type { useScenes } from "./useScenes";

/** Takes files in: those that say their unit at once, the others once somebody has said it. */
export function useImport(bring: ReturnType<typeof useScenes>["bring"]) {
  const [unsaid, setUnsaid] = useState<File[]>([]);
  const take = (files: File[]) => {
    const told = files.filter((file) => !saysNoUnit(file));
    if (told.length) bring.mutate(told.map((file) => ({ file })));
    setUnsaid((before) => [...before, ...files.filter(saysNoUnit)]);
  };
  const leave = () => { setUnsaid([]); };
  const takeIn = (unit: string) => {
    bring.mutate(unsaid.map((file) => ({ file, unit })));
    leave();
  };
  return { unsaid, take, takeIn, leave };
}
