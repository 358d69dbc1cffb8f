/** One project: its state, its figures, and edits that go out one after the other. */

import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";

import { useNotices } from "../ui/notices";
import { keepArrays } from "./arrays";
import { changed } from "./changed";
import { ApiError, askBytes, getJson, getJsonQuietly } from "./client";
import { readPacket } from "./packet";
import type {
  DatumDrawing,
  Edit,
  Based,
  EditRequest,
  Figures,
  Finish,
  LibraryMaterial,
  Material,
  Project,
  ProjectChange,
  Pulse,
  Roundness,
  Totals,
} from "./wire.gen";
import { attempt } from "../ui/attempt";

const projectKey = (id: number) => ["project", id];

export function useProject(id: number) {
  return useQuery({ queryKey: projectKey(id), queryFn: () => getJson<Project>(`/projects/${id}`) });
}

type FiguresByFinish = Record<string, Figures>;

const theSame = (figures: FiguresByFinish) => figures;

/** More rows than these are asked for all together. */
const FEW_ROWS = 20;

/** The state that figures were measured of. */
const measuredOf = new WeakMap<FiguresByFinish, Project>();

/** The rows whose figures may be others: those laid otherwise, or of another material; all where a material changed. */
function stale(project: Project, before: FiguresByFinish): Finish[] {
  const then = measuredOf.get(before);
  if (then?.materials !== project.materials) return project.finishes;
  const material = new Map(then.finishes.map((finish) => [finish.key, finish.material]));
  return project.finishes.filter(
    (finish) => before[finish.key]?.laying_key !== finish.laying_key || material.get(finish.key) !== finish.material,
  );
}

/** Figures of all rows: only those are asked for that may be others than before, where these are few. */
export async function measured(project: Project, before: FiguresByFinish | undefined): Promise<FiguresByFinish> {
  const path = `/projects/${project.id}/figures`;
  const rows = before ? stale(project, before) : project.finishes;
  let found: FiguresByFinish;
  if (!before || rows.length > FEW_ROWS) found = await getJson<FiguresByFinish>(path);
  else {
    const asked = rows.map(({ key }) => `of=${encodeURIComponent(key)}`).join("&");
    const anew = rows.length > 0 ? await getJson<FiguresByFinish>(`${path}?${asked}`) : {};
    // What was asked for and is not there could not be measured: figures of before would be those of another laying.
    const asking = new Set(rows.map(({ key }) => key));
    const now = project.finishes.map(({ key }) => [key, asking.has(key) ? anew[key] : before[key]] as const);
    found = Object.fromEntries(now.filter((row): row is [string, Figures] => row[1] !== undefined));
  }
  measuredOf.set(found, project);
  return found;
}

/** Figures of the revision shown; those of the last one stay until the new ones are measured. */
export function useFigures(project: Project) {
  const queries = useQueryClient();
  return useQuery({
    queryKey: ["figures", project.id, project.revision],
    queryFn: () => {
      const kept = queries.getQueriesData<FiguresByFinish>({ queryKey: ["figures", project.id] });
      return measured(project, kept.filter(([, found]) => found).at(-1)?.[1]);
    },
    // A query that selects keeps what is equal in the last revision's figures, so that only changed rows are drawn anew.
    select: theSame,
    placeholderData: (previous) => previous,
  });
}

/** What the whole schedule comes to; that of the last revision stays until the new one is measured. */
export function useTotals(project: Project) {
  return useQuery({
    queryKey: ["totals", project.id, project.revision],
    queryFn: () => getJson<Totals>(`/projects/${project.id}/totals`),
    placeholderData: (previous) => previous,
  });
}

/** What is drawn of a finish's datum; that of its last state stays until the new one is there. */
export function useDatumDrawing(project: Project, finish: Finish | null) {
  return useQuery({
    queryKey: ["datum", project.id, finish?.key, finish?.laying_key],
    queryFn: () => getJson<DatumDrawing>(`/projects/${project.id}/datum/${finish!.key}`),
    enabled: finish !== null && finish.datum_for === "pick",
    placeholderData: (previous, query) => (query?.queryKey[2] === finish?.key ? previous : undefined),
  });
}

/** The same of a coat with a laying of its own; row: among the coats of the finish. */
export function useCoatDrawing(project: Project, finish: Finish | null, row: number | null) {
  const coat = row === null ? undefined : finish?.coats[row];
  const laid = JSON.stringify([coat?.projection, coat?.datum]);
  return useQuery({
    queryKey: ["coat-datum", project.id, finish?.key, row, finish?.laying_key, laid],
    queryFn: () => getJson<DatumDrawing>(`/projects/${project.id}/datum/${finish!.key}?coat=${row}`),
    enabled: Boolean(coat?.material && coat.projection),
    placeholderData: (previous, query) =>
      query?.queryKey[2] === finish?.key && query?.queryKey[3] === row ? previous : undefined,
  });
}

/** How round the pick of a cylindrical or spherical finish is. */
export function useRoundness(project: Project, finish: Finish) {
  return useQuery({
    queryKey: ["roundness", project.id, finish.key, project.cover_key, finish.projection.kind],
    queryFn: () => getJson<Roundness>(`/projects/${project.id}/roundness/${finish.key}`),
  });
}

export function useLibrary() {
  return useQuery({
    queryKey: ["library"],
    queryFn: () => getJson<LibraryMaterial[]>("/library"),
    staleTime: Infinity,
  });
}

/** Every material that can be chosen in a project: its own, as it has them, and the rest of the library. */
export function useMaterials(project: Project): (Material | LibraryMaterial)[] {
  const { data: library = [] } = useLibrary();
  return [...Object.values(project.materials), ...library.filter((m) => !(m.key in project.materials))];
}

const FOLLOW_MS = 1000;

/** What a page has lost: the server, which may come back, or the project, which somebody deleted. */
export type Lost = "server" | "project";

function lostBy(error: Error | null): Lost | null {
  if (!error) return null;
  return error instanceof ApiError && error.status === 404 ? "project" : "server";
}

/**
 * Keeps this page in step with others on the same project, and finds out when the server is gone and when it
 * is back, or that the project was deleted. Returns what is lost, if anything is.
 */
export function useFollow(project: Project | undefined): Lost | null {
  const queries = useQueryClient();
  const id = project?.id;
  const { data, error, isError } = useQuery({
    queryKey: ["pulse", id],
    queryFn: () => getJsonQuietly<Pulse>(`/projects/${id}/pulse`),
    enabled: id !== undefined,
    refetchInterval: (query) => (lostBy(query.state.error) === "project" ? false : FOLLOW_MS),
    refetchIntervalInBackground: true,
    retry: false,
    gcTime: 0,
  });
  useEffect(() => {
    if (!project || !data || isError) return;
    // An answer that was on its way while an edit of this page came back is older than what is shown.
    const newer = data.revision > project.revision || data.aside > project.aside;
    if (newer) void queries.invalidateQueries({ queryKey: projectKey(project.id) });
  }, [project, data, isError, queries]);
  useEffect(() => {
    // Back again: whatever failed meanwhile is asked for anew.
    if (!isError && id !== undefined) void queries.refetchQueries({ predicate: (q) => q.state.status === "error" });
  }, [isError, id, queries]);
  return lostBy(error);
}

type Step = "undo" | "redo";

/** Edits wait for each other, so that each is based on the revision that the one before it made. */
let line: Promise<unknown> = Promise.resolve();

async function send(queries: QueryClient, id: number, what: Edit | Step): Promise<Project> {
  const before = queries.getQueryData<Project>(projectKey(id));
  const revision = before?.revision ?? 0;
  const answer =
    typeof what === "string"
      ? await askBytes(`/projects/${id}/${what}?changes`, { revision } satisfies Based)
      : await askBytes(`/projects/${id}/edits?changes`, { revision, edit: what } satisfies EditRequest);
  const { header: change, apart } = readPacket<ProjectChange>(answer);
  keepArrays(`/projects/${id}/`, apart());
  // What another page did meanwhile to views and kept picks is not in the change: then all of it is asked for.
  const aside = change.views || change.pick_sets ? 1 : 0;
  const known = before?.revision === change.since && before.aside + aside === change.aside;
  const project = known ? changed(before, change) : await getJson<Project>(`/projects/${id}`);
  queries.setQueryData(projectKey(id), project);
  useNotices.getState().mended();
  if (change.said) useNotices.getState().say(change.said);
  return project;
}

/**
 * Carries out an edit. The promise fails with the server's sentence; `run` tells it as a notice
 * instead, for edits that have no field of their own to show it at.
 */
export function useEdits(id: number) {
  const queries = useQueryClient();

  const edit = useCallback(
    (what: Edit | Step): Promise<Project> => {
      const result = line.then(
        () => send(queries, id, what),
        () => send(queries, id, what),
      );
      line = result;
      return result.catch((error: unknown) => {
        // Somebody else's edit came first: show theirs, so that the next try is based on it.
        if (error instanceof ApiError && error.status === 409) {
          void queries.invalidateQueries({ queryKey: projectKey(id) });
        }
        throw error;
      });
    },
    [queries, id],
  );

  const run = useCallback(
    (what: Edit | Step) => {
      attempt(edit(what));
    },
    [edit],
  );

  return { edit, run };
}

/** Puts a project as the server answered it in the place of what is shown. */
export function useTakeProject(id: number) {
  const queries = useQueryClient();
  return useCallback((project: Project) => queries.setQueryData(projectKey(id), project), [queries, id]);
}
