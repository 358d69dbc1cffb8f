/** Sentences that have to be told and belong to no field. */

import { create } from "zustand";

interface Notices {
  text: string | null;
  /** Whether something went wrong, or is only to be known. */
  wrong: boolean;
  tell: (text: string) => void;
  say: (text: string) => void;
  clear: () => void;
}

export const useNotices = create<Notices>((set) => ({
  text: null,
  wrong: true,
  tell: (text) => set({ text, wrong: true }),
  say: (text) => set({ text, wrong: false }),
  clear: () => set({ text: null }),
}));
