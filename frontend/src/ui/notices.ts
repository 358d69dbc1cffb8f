/** Sentences that have to be told and belong to no field. */

import { create } from "zustand";

/** What can be done about a notice: a word, and the doing. */
export interface NoticeAction {
  text: string;
  onAct: () => void;
}

interface Notices {
  text: string | null;
  action: NoticeAction | null;
  /** Whether something went wrong, or is only to be known. */
  wrong: boolean;
  tell: (text: string) => void;
  say: (text: string, action?: NoticeAction) => void;
  clear: () => void;
  /** An edit has succeeded: what was told before it is no longer worth a word. */
  mended: () => void;
}

export const useNotices = create<Notices>((set) => ({
  text: null,
  action: null,
  wrong: true,
  tell: (text) => set({ text, wrong: true, action: null }),
  say: (text, action) => set({ text, wrong: false, action: action ?? null }),
  clear: () => set({ text: null, action: null }),
  mended: () => set({ text: null, action: null }),
}));
