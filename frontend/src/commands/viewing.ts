import { useEye } from "../model/eye";
import { LOOKS } from "../looks/registry";
import { put } from "../state";
import { useDesk } from "../state/desk";
import type { EyeView } from "../state/eyes";
import { goTo, useLook, type Look } from "../state/look";
import { usePick } from "../state/pick";
import type { Command, WorkbenchContext } from "./command";

export const VIEWS: { value: EyeView; text: string; key: string }[] = [
  { value: "around", text: "From around", key: "5" },
  { value: "front", text: "Front", key: "4" },
  { value: "right", text: "Right", key: "6" },
  { value: "back", text: "Back", key: "7" },
  { value: "left", text: "Left", key: "8" },
  { value: "top", text: "Top", key: "9" },
  { value: "below", text: "From below", key: "0" },
];

/** By how much a press of a key comes closer. */
const STEP = 1.25;

const looks = (Object.keys(LOOKS) as Look[]).map((look): Command<WorkbenchContext> => ({
  id: `look-${look}`,
  name: `Look: ${LOOKS[look].text}`,
  key: LOOKS[look].key,
  run: () => put({ look }),
}));

const views = VIEWS.map(({ value, text, key }): Command<WorkbenchContext> => ({
  id: `view-${value}`,
  name: `View: ${text}`,
  key,
  run: () => goTo(value),
}));

export const VIEWING: Command<WorkbenchContext>[] = [
  ...looks,
  ...views,
  {
    id: "view-pick",
    name: "Bring the pick into view",
    key: "Z",
    run: () => goTo(useLook.getState().going.view, usePick.getState().pick.faces > 0),
  },
  { id: "approach", name: "Come closer", key: "+", run: () => useEye.getState().steer?.approach(STEP) },
  { id: "recede", name: "Go further off", key: "-", run: () => useEye.getState().steer?.approach(1 / STEP) },
  {
    id: "turntable",
    name: "Start or stop the turntable",
    run: () => put({ turning: !useLook.getState().turning }),
  },
  {
    id: "datum",
    name: "Draw the datum",
    key: "D",
    run: () => put({ datumShown: !useLook.getState().datumShown }),
  },
  {
    id: "tape",
    name: "Lay a tape over the model",
    key: "M",
    run: () => {
      const at = useDesk.getState().task?.what === "tape";
      put({ task: at ? null : { what: "tape", from: null }, tape: null });
    },
  },
];
