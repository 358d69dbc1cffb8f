/** Keeps the drawn geometry in step with the schedule: only what changed is fetched. */

import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { BufferGeometry } from "three";

import { bytesOf, hasArray } from "../api/arrays";
import { askBytes, getBytes } from "../api/client";
import { readPacket } from "../api/packet";
import { linesTexture } from "../coats/lines";
import type { LinesTexture } from "../coats/shading";
import type { Finish, Project } from "../api/wire.gen";
import { facesByRow, groupByRow, partGeometry, placeSheet, placeTones, type ModelArrays } from "./geometry";
import { useHand } from "../state/hand";
import { usePick } from "../state/pick";
import { tellError } from "../ui/attempt";

/** A sheet that does not tile, over what lies beneath it. */
export interface Single {
  key: string;
  geometry: BufferGeometry;
}

/** What the view shows, all of one state. */
export interface Laid {
  revision: number;
  /** The finishes as the corners were laid. */
  finishes: Map<string, Finish>;
  /** The faces that each finish is laid on. */
  drawn: Map<string, Uint32Array>;
  singles: Single[];
  /** The lines that the masks of finishes are near to, by their codes. */
  lines: Map<string, LinesTexture>;
}

/** What of a finish's own laying or of its coats has to come anew: where from, and what is to be done with it. */
interface Wanted {
  finish: string;
  path: string;
  /** The attribute of the geometry that it is written to. */
  name: string;
}

/** What is written for each face and not for each corner. */
const TONES = "tones";

/** Every sheet of a finish, its own and those of its coats, with the key that says whether it has changed. */
function sheetsOf(finish: Finish): [string, string, Wanted][] {
  const own: [string, string, Wanted] = [
    finish.key,
    // Where the sheet as a whole is turned, moved or scaled, the corners stay as they were laid.
    finish.raw_key ?? finish.laying_key,
    { finish: finish.key, path: `laying/${finish.key}?key=${finish.laying_key}`, name: "uv" },
  ];
  const over = finish.over.flatMap(({ laying_key }, row): [string, string, Wanted][] => {
    const path = `coats/${finish.key}/laying/${row}?key=${laying_key}`;
    return laying_key ? [[`${finish.key}/${row}`, laying_key, { finish: finish.key, path, name: `sheet${row}` }]] : [];
  });
  const path = `coats/${finish.key}/tones?key=${finish.tones_key}`;
  const tones: [string, string, Wanted][] = finish.tones_key
    ? [[`${finish.key} tones`, finish.tones_key, { finish: finish.key, path, name: TONES }]]
    : [];
  return [own, ...over, ...tones];
}

/** Where the (s', t') of a finish belong: the model's own geometry, or that of its single sheet. */
export function geometryOf(laid: Laid, whole: BufferGeometry, key: string): BufferGeometry {
  return laid.singles.find((single) => single.key === key)?.geometry ?? whole;
}

/**
 * The state that the geometry shows, or null before the first.
 *
 * A newer state aborts the fetches of an older one, and everything of one state is applied at once:
 * the view never shows an older state after a newer one, nor half of one.
 */
export function useLaying(project: Project, model: ModelArrays, geometry: BufferGeometry): Laid | null {
  const hidden = usePick((s) => s.hidden.mask);
  const held = useRef({
    geometry,
    hidden,
    coverKey: "",
    drawn: new Map<string, Uint32Array>(),
    singles: [] as Single[],
    finishes: new Map<string, Finish>(),
    lines: new Map<string, LinesTexture>(),
  });
  const keys = useRef(new Map<string, string>());
  const [laid, setLaid] = useState<Laid | null>(null);
  const queries = useQueryClient();

  useEffect(() => {
    const stop = new AbortController();
    if (held.current.geometry !== geometry) {
      const { lines } = held.current;
      held.current = { geometry, hidden, coverKey: "", drawn: new Map(), singles: [], finishes: new Map(), lines };
      keys.current = new Map();
    }
    const path = `/projects/${project.id}`;

    const bring = async () => {
      const have = held.current;
      const recovered = have.coverKey !== project.cover_key || have.hidden !== hidden;
      // A geometry of its own begins without its sheet whenever it is made anew.
      const anew = (finish: Finish) => recovered && have.singles.some((single) => single.key === finish.key);
      const shown = project.finishes.filter((finish) => finish.faces > 0);
      const wanted = shown.flatMap((finish) =>
        sheetsOf(finish)
          .filter(([name, key]) => keys.current.get(name) !== key || anew(finish))
          .map(([, , sheet]) => sheet),
      );
      const near = shown.filter((finish) => finish.lines_key && have.lines.get(finish.key)?.key !== finish.lines_key);
      const [cover, lines, sheets] = await Promise.all([
        recovered ? bytesOf(`${path}/cover?key=${project.cover_key}`, stop.signal) : null,
        Promise.all(near.map((f) => getBytes(`${path}/coats/${f.key}/lines?key=${f.lines_key}`, stop.signal))),
        sheetsAt(path, wanted, stop.signal),
      ]);
      if (stop.signal.aborted) return;
      // No content: the project has moved on already. Its newer state is on the way or is asked for.
      if ([cover, ...lines, ...sheets].some((part) => part?.byteLength === 0)) {
        void queries.invalidateQueries({ queryKey: ["project", project.id] });
        return;
      }
      let { drawn, singles } = have;
      if (cover) {
        have.singles.forEach((single) => single.geometry.dispose());
        ({ drawn, singles } = recover(project, model, geometry, cover, hidden));
      }
      wanted.forEach(({ finish, name }, at) => {
        const target = singles.find((single) => single.key === finish)?.geometry ?? geometry;
        const place = name === TONES ? placeTones : placeSheet;
        place(target, model, drawn.get(finish)!, new Float32Array(sheets[at]!), name);
      });
      const grids = new Map(have.lines);
      near.forEach((finish, at) => {
        grids.get(finish.key)?.texture.dispose();
        grids.set(finish.key, linesTexture(finish.lines_key!, lines[at]!));
      });
      const anewLaid = new Set(wanted.filter(({ name }) => name === "uv").map(({ finish }) => finish));
      const finishes = new Map(
        project.finishes.map((f) => [f.key, anewLaid.has(f.key) ? f : asLaid(f, have.finishes)]),
      );
      held.current = { geometry, hidden, coverKey: project.cover_key, drawn, singles, finishes, lines: grids };
      keys.current = new Map(project.finishes.flatMap((f) => sheetsOf(f).map(([name, key]) => [name, key])));
      // What was let go has arrived: from here on the core's own result is shown.
      useHand.setState((s) => (s.live?.settling ? { live: null } : {}));
      setLaid({ revision: project.revision, finishes, drawn, singles, lines: grids });
    };
    bring().catch((error: unknown) => {
      if (!stop.signal.aborted) tellError(error);
    });
    return () => stop.abort();
  }, [project, model, geometry, hidden, queries]);

  return laid;
}

/** A finish placed as its corners were laid: by an earlier turn, offset and scale, if none came since. */
function asLaid(finish: Finish, before: Map<string, Finish>): Finish {
  const { turn_deg, offset_mm, scale } = before.get(finish.key) ?? finish;
  return { ...finish, turn_deg, offset_mm, scale };
}

/** The sheets that are wanted, in their order; those of several finishes come in one answer. */
async function sheetsAt(path: string, wanted: Wanted[], signal: AbortSignal): Promise<ArrayBuffer[]> {
  const own = wanted.filter(({ name }) => name === "uv").map(({ finish }) => finish);
  let together = new Map<string, ArrayBuffer>();
  if (own.length > 1 && !wanted.some((sheet) => hasArray(`${path}/${sheet.path}`))) {
    together = readPacket(await askBytes(`${path}/layings`, { finishes: own }, signal)).apart();
  }
  return Promise.all(wanted.map(async (sheet) => together.get(sheet.path) ?? bytesOf(`${path}/${sheet.path}`, signal)));
}

/** Which faces each finish is laid on, and a geometry for each single sheet. Its corners come again. */
function recover(
  project: Project,
  model: ModelArrays,
  geometry: BufferGeometry,
  cover: ArrayBuffer,
  hidden: Uint8Array,
) {
  const packet = readPacket<{ singles: number[] }>(cover);
  const base = packet.shorts("base");
  groupByRow(geometry, model, base, project.finishes.length, hidden, project.model.sources.length);
  const rows = facesByRow(base, project.finishes.length);
  const singles: Single[] = [];
  for (const row of packet.header.singles) {
    rows[row] = packet.ids(`over_${row}`);
    if (rows[row].length > 0) {
      singles.push({ key: project.finishes[row]!.key, geometry: partGeometry(model, rows[row], hidden) });
    }
  }
  const drawn = new Map(project.finishes.map((finish, row) => [finish.key, rows[row]!]));
  return { drawn, singles };
}
