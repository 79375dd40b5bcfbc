import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { tellEditing } from "../state/editing";
import { useNotice } from "../state/notice";
import { take, takeJob } from "./answers";
import { readMesh, readPatches } from "./binary";
import { api, Refused } from "./client";
import type { BodyDepth } from "./generated/BodyDepth";
import type { AddModels } from "./generated/AddModels";
import { listen } from "./events";
import type { Desk } from "./generated/Desk";
import type { Palettes } from "./generated/Palettes";
import type { DefectKind } from "./generated/DefectKind";
import type { Edit } from "./generated/Edit";
import type { JobView } from "./generated/JobView";
import type { Mending } from "./generated/Mending";
import type { PartEdit } from "./generated/PartEdit";
import type { PlanView } from "./generated/PlanView";

export const keys = {
  shelf: ["shelf"] as const,
  bin: ["bin"] as const,
  rack: ["rack"] as const,
  job: (id: number) => ["job", id] as const,
  plan: (id: number) => ["plan", id] as const,
  labels: (id: number, model: number) => ["labels", id, model] as const,
};

export const useBin = (isShown: boolean) => useQuery({ queryKey: keys.bin, queryFn: api.bin, staleTime: 0, enabled: isShown });
export const useStatus = () => useQuery({ queryKey: ["status"], queryFn: api.status, refetchInterval: 2000 });
export const useShelf = () => useQuery({ queryKey: keys.shelf, queryFn: api.shelf, staleTime: 0 });

export const useRack = () => useQuery({ queryKey: keys.rack, queryFn: api.rack });

export const useJob = (id: number) => useQuery({ queryKey: keys.job(id), queryFn: () => api.job(id) });

/** The plan; asks again by itself while it is being worked out. */
export const usePlan = (id: number) =>
  useQuery({
    queryKey: keys.plan(id),
    queryFn: () => api.plan(id),
    refetchInterval: (q) => (q.state.data?.state === "working" ? 150 : false),
  });

/** A model's mesh as it stands; fetched again when its key changes. */
export const useMesh = (id: number, model: number, meshKey: string) =>
  useQuery({
    queryKey: ["mesh", id, model, meshKey],
    queryFn: async () => readMesh(await api.mesh(id, model)),
    placeholderData: (old) => old,
    gcTime: 20_000,
    structuralSharing: false,
  });

/** Region number of each facet, asked for again with every revision. */
export const useLabels = (id: number, model: number, revision: number) =>
  useQuery({
    queryKey: [...keys.labels(id, model), revision],
    queryFn: () => api.labels(id, model),
    placeholderData: (old) => old,
    gcTime: 5_000,
    structuralSharing: false,
  });

export const usePatches = (id: number, model: number, meshKey: string, crease: number) =>
  useQuery({
    queryKey: ["patches", id, model, meshKey, crease],
    queryFn: async () => readPatches(await api.patches(id, model, crease)),
    placeholderData: (old) => old,
    gcTime: 30_000,
    structuralSharing: false,
  });

/** What an edit would take; asked for when there is one. */
export const usePreview = (id: number, revision: number, key: string, edit: Edit | null) =>
  useQuery({
    queryKey: ["preview", id, revision, key],
    queryFn: () => api.preview(id, edit as Edit),
    enabled: edit !== null,
    retry: false,
    gcTime: 10_000,
    staleTime: Infinity,
  });

/** What an edit of parts would make; asked for when there is one, given up when another is asked for. */
export const useTried = (id: number, revision: number, key: string, edit: PartEdit | null) =>
  useQuery({
    queryKey: ["tried", id, revision, key],
    queryFn: ({ signal }) => api.tryParts(id, edit as PartEdit, signal),
    enabled: edit !== null,
    retry: false,
    gcTime: 5_000,
    staleTime: Infinity,
  });

/** The closed bodies a job would go out as; given up when nobody looks any more. */
export const useBodies = (id: number, revision: number, depth: BodyDepth, isOn: boolean) =>
  useQuery({
    queryKey: ["bodies", id, revision, depth],
    queryFn: ({ signal }) => api.bodies(id, depth, signal),
    enabled: isOn,
    retry: false,
    gcTime: 10_000,
    staleTime: Infinity,
  });

/** Which parts meet; asks again by itself while the search goes on. */
export const useMeetings = (id: number, revision: number) =>
  useQuery({
    queryKey: ["meetings", id, revision],
    queryFn: () => api.meetings(id, false),
    placeholderData: (old) => old,
    gcTime: 10_000,
    refetchInterval: (q) => (q.state.data?.state === "working" ? 200 : false),
  });

/** What two parts share, as loose triangles. */
export const useShared = (id: number, revision: number, pair: [number, number] | null) =>
  useQuery({
    queryKey: ["shared", id, revision, pair],
    queryFn: () => api.shared(id, pair ?? [0, 0]),
    enabled: pair !== null,
    retry: false,
    gcTime: 5_000,
    structuralSharing: false,
  });

/** Layers of the deepest row of the table of depths. */
export const deepestRow = 8;

/** What a region costs at each depth; asks again by itself while rows are being planned. */
export const useDepths = (id: number, revision: number, region: string, tolerance: number, isOn: boolean) =>
  useQuery({
    queryKey: ["depths", id, revision, region, tolerance],
    queryFn: () => api.depths(id, region, deepestRow, tolerance, false),
    placeholderData: (old) => old,
    enabled: isOn,
    retry: false,
    gcTime: 10_000,
    // A search that was given up because of an edit is begun again by that edit's own revision.
    refetchInterval: (q) => (q.state.data?.state === "working" || q.state.data?.state === "waiting" ? 200 : false),
  });

export const useStrays = (id: number, revision: number, smaller: number, isOn: boolean) =>
  useQuery({
    queryKey: ["strays", id, revision, smaller],
    queryFn: () => api.strays(id, smaller, narrowestMm),
    placeholderData: (old) => old,
    enabled: isOn,
    gcTime: 10_000,
  });

/** Strips narrower than this are strays: less than a line of a usual nozzle. */
const narrowestMm = 0.3;
export const strayWidth = narrowestMm;

export const useSteps = (id: number, revision: number) =>
  useQuery({ queryKey: ["steps", id, revision], queryFn: () => api.steps(id), placeholderData: (old) => old, gcTime: 10_000 });

export const useDesk = (id: number) => useQuery({ queryKey: ["desk", id], queryFn: () => api.desk(id) });

export const usePalettes = () => useQuery({ queryKey: ["palettes"], queryFn: api.palettes });

/** Puts something on a job's desk, or keeps palettes. */
export function useDeskChanges(id: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const fail = (e: Error) => {
    if (e instanceof Refused) show(e.problem);
  };
  const desk = useMutation({
    mutationFn: (desk: Desk) => api.setDesk(id, desk),
    onSuccess: (_, desk) => take(queries, ["desk", id], desk),
    onError: fail,
  });
  const palettes = useMutation({
    mutationFn: (all: Palettes) => api.setPalettes(all),
    onSuccess: (_, all) => take(queries, ["palettes"], all),
    onError: fail,
  });
  return { setDesk: desk.mutate, setPalettes: palettes.mutate };
}

export const useSplit = (id: number, model: number, meshKey: string, crease: number) =>
  useQuery({
    queryKey: ["split", id, model, meshKey, crease],
    queryFn: () => api.split(id, model, crease),
    placeholderData: (old) => old,
  });

export const useDefects = (id: number, model: number, meshKey: string, kind: DefectKind | null) =>
  useQuery({
    queryKey: ["defects", id, model, meshKey, kind],
    queryFn: () => api.defects(id, model, kind ?? "open-edge"),
    enabled: kind !== null,
  });

export const useMendPreview = (id: number, model: number, meshKey: string, mending: Mending | null) =>
  useQuery({
    queryKey: ["mend", id, model, meshKey, mending],
    queryFn: () => api.mendPreview(id, model, mending ?? { degenerate: false, duplicates: false, turn: false }),
    enabled: mending !== null,
    retry: false,
  });

export const useLayer = (id: number, layer: number, revision: number | undefined) =>
  useQuery({
    queryKey: ["layer", id, layer, revision],
    queryFn: () => api.layer(id, layer),
    placeholderData: (old) => old,
    enabled: revision !== undefined,
    gcTime: 20_000,
  });

/** The beads of a layer, while they are shown. */
export const useBeads = (id: number, layer: number, revision: number | undefined, isShown: boolean) =>
  useQuery({
    queryKey: ["beads", id, layer, revision],
    queryFn: () => api.beads(id, layer),
    placeholderData: (old) => old,
    enabled: isShown && revision !== undefined,
    gcTime: 20_000,
  });

/** What changes a job: each shows the server's answer, or its refusal as a notice. */
export function useChanges(id: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const settle = async (view: JobView) => {
    await takeJob(queries, view);
    void queries.invalidateQueries({ queryKey: keys.plan(id) });
  };
  const fail = (e: Error) => {
    if (e instanceof Refused) show(e.problem);
  };
  const edit = useMutation({
    mutationFn: (edit: Edit) => api.edit(id, edit),
    onSuccess: settle,
    onError: fail,
    onSettled: () => tellEditing(null),
  });
  const undo = useMutation({ mutationFn: () => api.undo(id), onSuccess: settle, onError: fail });
  const redo = useMutation({ mutationFn: () => api.redo(id), onSuccess: settle, onError: fail });
  /** Takes staged files into the job. */
  const add = useMutation({ mutationFn: (asked: AddModels) => api.addModels(id, asked), onSuccess: settle, onError: fail });
  const revise = useMutation({
    mutationFn: ({ model, staged }: { model: number; staged: number }) => api.revise(id, model, { staged }),
    onSuccess: settle,
    onError: fail,
  });
  /** Undoes or redoes until so many steps are applied. */
  const stand = useMutation({ mutationFn: (at: number) => api.stand(id, at), onSuccess: settle, onError: fail });
  const isBusy = edit.isPending || add.isPending || revise.isPending;
  return { edit: edit.mutate, undo: undo.mutate, redo: redo.mutate, stand: stand.mutate, add: add.mutate, revise: revise.mutate, isBusy };
}

/** Keeps this tab in step with whatever happens to the job elsewhere. */
export function useJobEvents(id: number) {
  const queries = useQueryClient();
  useEffect(
    () =>
      listen(id, (event) => {
        const known = queries.getQueryData<JobView>(keys.job(id));
        if (event.event === "changed" && (known?.revision ?? 0) < event.revision) {
          void queries.invalidateQueries({ queryKey: keys.job(id) });
          void queries.invalidateQueries({ queryKey: keys.plan(id) });
        }
        if (event.event === "looked") void queries.invalidateQueries({ queryKey: ["release", id] });
        if (event.event === "sliced") void queries.invalidateQueries({ queryKey: ["sliced", id] });
        if (event.event === "editing") tellEditing(event.done);
        const plan = queries.getQueryData<PlanView>(keys.plan(id));
        if (event.event === "plan" && plan && (plan.state !== "ready" || plan.revision < event.revision)) {
          void queries.invalidateQueries({ queryKey: keys.plan(id) });
        }
      }),
    [id, queries],
  );
}
