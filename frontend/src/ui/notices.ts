/** Sentences that have to be told and belong to no field. */

import { create } from "zustand";

interface Notices {
  text: string | null;
  tell: (text: string) => void;
  clear: () => void;
}

export const useNotices = create<Notices>((set) => ({
  text: null,
  tell: (text) => set({ text }),
  clear: () => set({ text: null }),
}));
