import { create } from "zustand";

/** Whether a part that gets another parent stays where it is in the world. */
export const useKeepPlace = create<{ keepPlace: boolean }>(() => ({ keepPlace: true }));
