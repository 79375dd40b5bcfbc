import { useMemo, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Place } from "../../api/generated/Place";
import { useLabels, useMesh, usePatches } from "../../api/queries";
import { Model, wholeModel, type Hit } from "../../scene/Model";
import { useIntake, type Selection } from "../../state/intake";
import { useOf } from "../../state/useOf";

const plain = {};

/** Turns of less than this belong to one face when a face is chosen to lie down. */
const flatDeg = 3;

/** Facets drawn of all pieces together; beyond it only one piece is drawn. */
const mostDrawn = 4_000_000;

/** One model on the bed. */
export function IntakeModel({
  job,
  index,
  colours,
  lift,
  selection,
  onOver,
  onFace,
}: {
  job: JobView;
  index: number;
  colours: Map<number, string>;
  lift: number;
  selection: Selection;
  /** Name of what the pointer is over. */
  onOver: (name: string | null) => void;
  onFace: (at: Place) => void;
}) {
  const model = job.models[index];
  const key = model?.mesh_key ?? "";
  const { tool, select, defect } = useOf(useIntake, "tool", "select", "defect");
  const isFacing = tool === "down" || tool === "up";
  const mesh = useMesh(job.id, index, key);
  const labels = useLabels(job.id, index, job.revision);
  const faces = usePatches(job.id, index, key, flatDeg);
  const [hit, setHit] = useState<Hit | null>(null);
  const isOne = (model?.parts.length ?? 0) <= 1;
  const isMine = selection.of !== "everything" && selection.model === index;
  const chosen = !isMine ? null : selection.of === "part" ? selection.part : job.models.length > 1 ? wholeModel : null;
  const groups = isFacing ? faces.data?.patchOf : mesh.data?.partOf;
  const hovered = isFacing ? (hit && groups ? (groups[hit.facet] ?? null) : null) : chosen;
  const looks = useMemo(() => ({ ...plain, xray: defect?.model === index }), [defect, index]);
  const shifts = useMemo(
    () => (job.copy_shifts.length * (model?.facets ?? 0) > mostDrawn ? job.copy_shifts.slice(0, 1) : job.copy_shifts),
    [job.copy_shifts, model?.facets],
  );
  if (!mesh.data || !model) return null;
  const partAt = (at: Hit) => mesh.data.partOf[at.facet] ?? 0;
  return (
    <Model
      mesh={mesh.data}
      labels={labels.data?.facets}
      divisions={labels.data?.facets.length === mesh.data.facets ? labels.data.divisions : undefined}
      groups={groups}
      hovered={hovered}
      colours={colours}
      looks={looks}
      cutAt={1e9}
      lift={lift}
      shifts={shifts}
      onHover={(at) => {
        setHit(isFacing ? at : null);
        onOver(at && !isFacing ? ((isOne ? model.name : model.parts[partAt(at)]?.name) ?? null) : null);
      }}
      onPick={(at) => {
        if (isFacing) onFace({ model: model.name, point: at.point, normal: at.normal });
        else select(isOne ? { of: "model", model: index } : { of: "part", model: index, part: partAt(at) });
      }}
    />
  );
}
