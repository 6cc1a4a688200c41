/** Server state: one query library, one cache. The design being edited lives in its own session (design/session.ts). */
import {
  keepPreviousData,
  MutationCache,
  QueryClient,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import {
  act,
  ask,
  askLines,
  type Axis,
  type Changes,
  type Design,
  type DrawerRow,
  type Formula,
  type Intake,
  type LayoutRow,
  type LogBody,
  type LogEntry,
  type Off,
  type Quantity,
  type Reaches,
  Refusal,
  type Revision,
  type ShelfMachine,
  type Start,
  type StoreState,
  type WaysAnswer,
} from "./client";
import { useRef, useState } from "react";
import { tell } from "../kit/tell";

declare module "@tanstack/react-query" {
  interface Register {
    mutationMeta: { told?: boolean };
  }
}

/** What the program has refused it would refuse again. */
const onceMore = (tries: number, error: Error) => tries < 1 && !(error instanceof Refusal);

export const client = new QueryClient({
  mutationCache: new MutationCache({
    onError: (error, _input, _before, mutation) => {
      if (!mutation.meta?.told) tell(error);
    },
  }),
  // The program answers on this machine: what the browser says of the network holds up nothing.
  defaultOptions: {
    queries: { staleTime: 2_000, retry: onceMore, refetchOnWindowFocus: true, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});

export const useStart = () =>
  useQuery({ queryKey: ["start"], queryFn: () => ask<Start>("/start"), staleTime: Infinity });
export const useShelf = () =>
  useQuery({ queryKey: ["shelf"], queryFn: () => ask<ShelfMachine[]>("/shelf"), staleTime: 0 });
export const useDrawer = () => useQuery({ queryKey: ["drawer"], queryFn: () => ask<DrawerRow[]>("/drawer") });
export const useNumbers = () =>
  useQuery({ queryKey: ["numbers"], queryFn: () => ask<Formula[]>("/numbers"), staleTime: Infinity });
export const useAxis = (id: string) =>
  useQuery({
    queryKey: ["axis", id],
    queryFn: () => ask<Axis>(`/axes/${id}`),
    staleTime: Infinity,
    gcTime: 0,
  });
export const useStore = () =>
  useQuery({ queryKey: ["store"], queryFn: () => ask<StoreState>("/store"), staleTime: 0, retry: false });
export const useLayouts = () =>
  useQuery({ queryKey: ["layouts"], queryFn: () => ask<LayoutRow[]>("/layouts"), staleTime: Infinity });
export const useLog = (axis: string) =>
  useQuery({ queryKey: ["log", axis], queryFn: () => ask<LogEntry[]>(`/axes/${axis}/log`) });
const PAGE = 100;
/** Revisions of an axis ("axes/…/revisions") or of a machine's plan ("machines/…/plans"). */
export const useRevisions = (of: string, version: number) =>
  useInfiniteQuery({
    queryKey: ["revisions", of, version],
    queryFn: ({ pageParam }) =>
      ask<Revision[]>(`/${of}?most=${PAGE}${pageParam ? `&before=${pageParam}` : ""}`),
    initialPageParam: 0,
    getNextPageParam: (page: Revision[]) => (page.length === PAGE ? page.at(-1)!.number : undefined),
    placeholderData: keepPreviousData,
  });
/** Puts an axis or a machine back on the shelf, by its path. */
export const usePutBack = () =>
  useChange((path: string) => act(`${path}/back`, { method: "POST" }), "off", "shelf");
/** Brings rows back into the drawer, by their keys. */
export const useBringBack = () =>
  useChange((keys: string[]) => act("/drawer/back", { body: { keys } }), "drawer");
export const useOffShelf = () =>
  useQuery({ queryKey: ["off"], queryFn: () => ask<Off[]>("/shelf/off"), staleTime: 0 });
export const useTakenOut = (wanted: boolean) =>
  useQuery({
    queryKey: ["drawer", "out"],
    queryFn: () => ask<DrawerRow[]>("/drawer/out"),
    staleTime: 0,
    enabled: wanted,
  });
export const useIntakes = (wanted: boolean) =>
  useQuery({
    queryKey: ["drawer", "intakes"],
    queryFn: () => ask<Intake[]>("/drawer/intakes"),
    staleTime: 0,
    enabled: wanted,
  });
const numbered = new WeakMap<object, number>();
let last = 0;

/** A short key for a design that never changes in place: hashing the whole of it at every drawing would cost milliseconds. */
export function keyOf(design: Design): number {
  let known = numbered.get(design);
  if (known === undefined) numbered.set(design, (known = ++last));
  return known;
}

/** What stands behind one result, its equation, inputs and source, asked for when it is opened. */
export const useOpened = (design: Design, q: Quantity) =>
  useQuery({
    queryKey: ["open", q.key, q.value, keyOf(design)],
    queryFn: async () => (await ask<Quantity[]>("/open", { body: { design, keys: [q.key] } }))[0] ?? q,
    staleTime: Infinity,
    gcTime: 60_000,
    placeholderData: keepPreviousData,
  });

/** What the program says of a design and of what goes with it, asked for once; `kept` shows the last answer until the
 * next is there.
 */
export const useAsked = <T>(path: string, design: Design, more: object, wanted = true, kept = false) =>
  useQuery({
    queryKey: [path, keyOf(design), more],
    queryFn: ({ signal }) => ask<T>(`/${path}`, { body: { design, ...more }, signal }),
    enabled: wanted,
    retry: false,
    staleTime: Infinity,
    placeholderData: kept ? keepPreviousData : undefined,
  });

interface Progress {
  done: number;
  place?: number;
}

/** Long work that answers line by line: its progress, then its answer; ended by whoever no longer wants it. */
async function worked<T>(
  path: string,
  body: object,
  signal: AbortSignal,
  progress: (line: Progress) => void,
): Promise<T> {
  let answer: T | null = null;
  await askLines<Progress & { answer?: T | null }>(path, { body, signal }, (line) => {
    progress(line);
    answer = line.answer ?? null;
  });
  if (answer === null) throw new Error("The work ended without an answer.");
  return answer;
}

/** Long work on a design, done once for it and shared by whoever asks. */
const useWorked = <T>(kind: string, design: Design, wanted: boolean, progress?: (done: number) => void) =>
  useQuery({
    queryKey: [kind, keyOf(design)],
    queryFn: ({ signal }) => worked<T>(`/${kind}`, { design }, signal, (line) => progress?.(line.done)),
    enabled: wanted,
    staleTime: 60_000,
    gcTime: 60_000,
    retry: false,
  });

/** Every single change to a design: a rung that is opened, and the whole list. */
export const useChanges = (design: Design, wanted: boolean, progress?: (done: number) => void) =>
  useWorked<Changes>("change", design, wanted, progress);

/** How far a design goes, and what mends what is short. */
export const useReaches = (design: Design, wanted: boolean, progress?: (done: number) => void) =>
  useWorked<Reaches>("far", design, wanted, progress);

/** The same aim by other ways. */
export const useWays = (design: Design, progress: (done: number) => void) =>
  useWorked<WaysAnswer>("ways", design, true, progress);

/** Long work that somebody begins and may stop: how much is done, how many are before it, and its answer. */
export function useLongWork<T>(path: string, more: object = {}) {
  const [at, setAt] = useState<Progress>({ done: 0 });
  const stop = useRef<AbortController | null>(null);
  const work = useForm((design: Design) => {
    setAt({ done: 0 });
    stop.current = new AbortController();
    return worked<T>(path, { design, ...more }, stop.current.signal, setAt);
  });
  return {
    begin: work.mutate,
    stop: () => stop.current?.abort(),
    busy: work.isPending,
    done: at.done,
    place: at.place ?? 0,
    error: work.error,
    of: work.variables,
    answer: work.isPending ? undefined : work.data,
  };
}

/** Reads queries anew, all of them or those of one kind. What is under way is given up first: its answer may be older than
 * the change, and a query without data would otherwise wait for it and ask no more. */
export async function anew(queries: QueryClient, kind?: string) {
  const which = kind ? { queryKey: [kind] } : {};
  await queries.cancelQueries(which);
  await queries.invalidateQueries(which);
}

function useMade<T, R>(
  change: (input: T) => Promise<R>,
  stale: readonly string[],
  told: boolean,
  line?: string,
) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: change,
    meta: { told },
    scope: line ? { id: line } : undefined,
    onSuccess: () => Promise.all(stale.map((kind) => anew(queries, kind))),
  });
}

/** A change on the server, after which the named queries are read anew; where it fails, the page says so by itself. */
export const useChange = <T, R = unknown>(change: (input: T) => Promise<R>, ...stale: string[]) =>
  useMade(change, stale, false);

/** The same, one after the other: those of one line begin when the one before is done and read anew. */
export const useInLine = <T, R = unknown>(
  line: string,
  change: (input: T) => Promise<R>,
  ...stale: string[]
) => useMade(change, stale, false, line);

/** The same for a form, which says itself what is wrong with what was entered. */
export const useForm = <T, R = unknown>(change: (input: T) => Promise<R>, ...stale: string[]) =>
  useMade(change, stale, true);

export const addLog = (axis: string) => (body: LogBody) => act(`/axes/${axis}/log`, { body });
