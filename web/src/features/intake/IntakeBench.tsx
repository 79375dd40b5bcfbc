import { useMemo, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import { useChanges, useDefects, useMesh } from "../../api/queries";
import { Bench } from "../../scene/Bench";
import { useBench } from "../../state/bench";
import { nameOf, targetOf, useIntake, type Selection } from "../../state/intake";
import { Trouble, Waiting } from "../../ui/states";
import { NoModel } from "./NoModel";
import { DefectMark } from "./DefectMark";
import { IntakeModel } from "./IntakeModel";
import { PlacingTray } from "./PlacingTray";
import { useOf } from "../../state/useOf";

/** All models on the printer's bed; a click chooses, or lays the face under the pointer down. */
export function IntakeBench({ job, selection }: { job: JobView; selection: Selection }) {
  const fits = useBench((s) => s.fits);
  const fit = useBench((s) => s.fit);
  const { tool, defect, setTool } = useOf(useIntake, "tool", "defect", "setTool");
  const { edit, isBusy } = useChanges(job.id);
  const [over, setOver] = useState<string | null>(null);
  const first = useMesh(job.id, 0, job.models[0]?.mesh_key ?? "");
  const lift = -(job.low_mm[2] ?? 0);
  const colours = useMemo(() => new Map(job.regions.map((r) => [r.number, r.colour])), [job]);
  const marked = defect ? job.models[defect.model] : undefined;
  const places = useDefects(job.id, defect?.model ?? 0, marked?.mesh_key ?? "", defect?.kind ?? null);
  const place = defect ? places.data?.[defect.at] : undefined;
  const focus = useMemo(
    () => (place ? { at: [place.at[0], place.at[1], place.at[2] + lift] as const, radius: place.radius_mm } : null),
    [place, lift],
  );
  const shifts = job.copy_shifts;
  const [w = 0, d = 0, h = 0] = job.size_mm;
  const [x = 0, y = 0] = job.low_mm;
  const reach = shifts.reduce((most, s) => [Math.max(most[0], Math.abs(s[0])), Math.max(most[1], Math.abs(s[1]))] as [number, number], [
    0, 0,
  ] as [number, number]);
  return (
    <section className="relative min-h-0 min-w-0 overflow-hidden bg-bench" aria-label="Bench">
      {first.data ? (
        <Bench
          low={[x - reach[0], y - reach[1]]}
          size={[w + 2 * reach[0], d + 2 * reach[1], h]}
          bed={job.printer.bed_mm}
          fits={fits}
          covered={0.22}
          focus={focus}
        >
          {job.models.map((m, i) => (
            <IntakeModel
              key={m.name}
              job={job}
              index={i}
              colours={colours}
              lift={lift}
              selection={selection}
              onOver={setOver}
              onFace={(at) => {
                edit({ edit: "place", target: targetOf(selection, job), placing: { how: tool === "up" ? "face-up" : "face-down", at } });
                setTool("choose");
              }}
            />
          ))}
          {place && <DefectMark place={place} lift={lift} />}
        </Bench>
      ) : job.models.length === 0 ? (
        <NoModel job={job} />
      ) : first.error ? (
        <Trouble error={first.error} retry={() => void first.refetch()} />
      ) : (
        <Waiting what="Bringing the model to the bench" />
      )}
      <p className="pointer-events-none absolute left-3.5 top-3 max-w-[75%] text-soft" role="status" aria-label="What a click does">
        {tool === "down" || tool === "up" ? (
          <>
            Click the face of <b className="text-ink">{nameOf(selection, job)}</b> that shall {tool === "up" ? "look up" : "lie on the bed"}
            .
          </>
        ) : over ? (
          <>
            Click to choose <b className="text-ink">{over}</b>.
          </>
        ) : (
          <>Bed {job.printer.bed_mm.slice(0, 2).join(" × ")} mm, a line every 20 mm.</>
        )}
      </p>
      {isBusy && (
        <p className="absolute right-24 top-3 text-soft" role="status">
          Working
        </p>
      )}
      <button
        type="button"
        title="See everything (F)"
        onClick={fit}
        className="absolute right-3 top-3 rounded-[4px] border border-line bg-sheet px-3 py-1 font-medium hover:border-faint"
      >
        Fit
      </button>
      <PlacingTray job={job} selection={selection} />
    </section>
  );
}
