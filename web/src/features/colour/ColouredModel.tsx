import { useEffect, useMemo, useState } from "react";
import { borderOf } from "../../api/binary";
import type { JobView } from "../../api/generated/JobView";
import type { Place } from "../../api/generated/Place";
import { useLabels, useMesh, usePatches } from "../../api/queries";
import { Border } from "../../scene/Border";
import { Model, type Hit } from "../../scene/Model";
import { useBench } from "../../state/bench";

/** One model on the bench of Colour: shows what a click would take, and says so. */
export function ColouredModel({ job, index, colours, cutAt, lift, onTaken, onPatches, onPick }: {
  job: JobView;
  index: number;
  colours: Map<number, string>;
  cutAt: number;
  lift: number;
  /** How many facets a click would take; none when nothing is hovered. */
  onTaken: (facets: number | null) => void;
  onPatches: (index: number, count: number) => void;
  onPick: (at: Place) => void;
}) {
  const bench = useBench();
  const model = job.models[index];
  const key = model?.mesh_key ?? "";
  const mesh = useMesh(job.id, index, key);
  const labels = useLabels(job.id, index, job.revision);
  const patches = usePatches(job.id, index, key, bench.creaseDeg);
  const [hit, setHit] = useState<Hit | null>(null);
  const isPatch = bench.tool === "patch";
  const groups = isPatch ? patches.data?.patchOf : mesh.data?.partOf;
  const hovered = hit && groups ? (groups[hit.facet] ?? null) : null;
  const ends = useMemo(
    () => (isPatch && patches.data && hovered !== null ? borderOf(patches.data, hovered) : null),
    [isPatch, patches.data, hovered],
  );
  useEffect(() => {
    if (hovered === null || !groups) return;
    let n = 0;
    for (const g of groups) if (g === hovered) n++;
    onTaken(n);
    return () => onTaken(null);
  }, [groups, hovered, onTaken]);
  const count = patches.data?.count;
  useEffect(() => {
    if (count !== undefined) onPatches(index, count);
  }, [index, count, onPatches]);
  if (!mesh.data || !model) return null;
  return (
    <>
      <Model
        mesh={mesh.data}
        labels={labels.data}
        groups={groups}
        hovered={hovered}
        colours={colours}
        looks={bench.looks}
        cutAt={cutAt}
        lift={lift}
        onHover={setHit}
        onPick={(at) => onPick({ model: model.name, point: at.point, normal: at.normal })}
      />
      {ends && ends.length > 0 && <Border ends={ends} lift={lift} />}
    </>
  );
}
