import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../state/notice";
import { take, takeJob } from "./answers";
import { api, Refused } from "./client";
import type { JobView } from "./generated/JobView";
import type { LoadView } from "./generated/LoadView";
import type { JobRun } from "./generated/JobRun";
import type { NotePrinted } from "./generated/NotePrinted";
import type { PrinterChange } from "./generated/PrinterChange";
import type { PrintersView } from "./generated/PrintersView";
import type { RackChange } from "./generated/RackChange";
import type { RackView } from "./generated/RackView";
import { keys } from "./queries";

const loadKey = (id: number) => ["load", id] as const;

/** What Load shows besides the job; asked for again with every revision and plan, and while contacts are looked for. */
export const useLoad = (id: number, revision: number, planned: number | undefined) =>
  useQuery({
    queryKey: [...loadKey(id), revision, planned],
    queryFn: () => api.load(id),
    placeholderData: (old) => old,
    gcTime: 10_000,
    refetchInterval: (q) => (q.state.data?.is_looking ? 250 : false),
  });

export const usePrinters = () => useQuery({ queryKey: ["printers"], queryFn: api.printers });

/** Sends a change for the state that is known; if that is no longer the newest, once more for the one that is. */
async function onNewest<T extends { revision: number }>(
  known: T | undefined,
  fetched: () => Promise<T>,
  send: (revision: number) => Promise<T>,
): Promise<T> {
  try {
    return await send((known ?? (await fetched())).revision);
  } catch (e) {
    if (!(e instanceof Refused) || !e.problem.code.endsWith("-changed")) throw e;
    return send((await fetched()).revision);
  }
}

/** Changes of what the maker owns, and what the printer is asked. Refusals are shown as notices. */
export function useLoading(id: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const onError = (e: Error) => {
    if (e instanceof Refused) show(e.problem);
  };
  /** The rack stands in jobs, plans and checks. */
  const racked = () => {
    for (const queryKey of [keys.rack, ["job"], ["plan"], ["load"], ["mixture"], ["runs"]]) void queries.invalidateQueries({ queryKey });
  };
  const changeRack = useMutation({
    mutationFn: (changes: RackChange[]) =>
      onNewest(queries.getQueryData<RackView>(keys.rack), api.rack, (revision) => api.changeRack(revision, changes)),
    onSuccess: racked,
    onError,
  });
  const importRack = useMutation({
    mutationFn: (file: File) => api.importRack(file.name.toLowerCase().endsWith(".json") ? "json" : "csv", file),
    onSuccess: racked,
    onError,
  });
  const changePrinters = useMutation({
    mutationFn: (changes: PrinterChange[]) =>
      onNewest(queries.getQueryData<PrintersView>(["printers"]), api.printers, (revision) => api.changePrinters(revision, changes)),
    onSuccess: (all) => take(queries, ["printers"], all),
    onError,
  });
  const ask = useMutation({
    mutationFn: () => api.askPrinter(id),
    onSuccess: (view: LoadView) => take(queries, loadKey(id), view),
    onError,
  });
  const setKey = useMutation({
    mutationFn: (key: string | null) => api.setPrinterKey(id, key),
    onSuccess: (view: LoadView) => take(queries, loadKey(id), view),
    onError,
  });
  const useLoaded = useMutation({
    mutationFn: () => api.useLoaded(id),
    onSuccess: async (view: JobView) => {
      await takeJob(queries, view);
      racked();
    },
    onError,
  });
  const printed = useMutation({ mutationFn: (noted: NotePrinted) => api.printed(id, noted), onSuccess: racked, onError });
  const notPrinted = useMutation({ mutationFn: (of: JobRun) => api.notPrinted(of.job, of.run), onSuccess: racked, onError });
  return { changeRack, importRack, changePrinters, ask, setKey: setKey.mutate, useLoaded, printed, notPrinted };
}
