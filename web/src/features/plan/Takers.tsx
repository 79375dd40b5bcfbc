import type { JobView } from "../../api/generated/JobView";
import type { Takes } from "../../api/generated/Takes";
import { useChanges } from "../../api/queries";
import { Dot } from "../../ui/Dot";
import { Select } from "../../ui/Select";

type Takers = Record<string, Takes>;

const amounts = [
  { value: "infill", label: "its infill" },
  { value: "all", label: "all of it" },
  { value: "nothing", label: "nothing" },
];

/** Regions that take purge because their colour does not matter, and one more if asked. */
export function TakersList({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
  const takers: Takers = job.rules.takers;
  const set = (region: string, takes: Takes | null) => edit({ edit: "plan", do: "takes-purge", region, takes });
  const marked = job.regions.filter((r) => takers[r.key]);
  const others = job.regions.filter((r) => !takers[r.key]);
  return (
    <div role="group" aria-label="Takes purge" className="space-y-1">
      {marked.map((region) => (
        <div key={region.key} className="flex items-center gap-2">
          <Dot colour={region.colour} />
          <span className="min-w-0 truncate font-semibold">{region.name}</span>
          <span className="shrink-0 text-soft">takes purge:</span>
          <Select
            label={`What of ${region.name} takes purge`}
            value={takers[region.key] ?? "nothing"}
            options={amounts}
            onChange={(to) => set(region.key, to === "nothing" ? null : (to as Takes))}
            className="ml-auto w-28 shrink-0"
          />
        </div>
      ))}
      {others.length > 0 && (
        <Select
          label="Let a region take purge"
          value=""
          placeholder={marked.length > 0 ? "Another region whose colour does not matter …" : "A region whose colour does not matter …"}
          options={others.map((r) => ({
            value: r.key,
            label: (
              <span className="flex items-center gap-2">
                <Dot colour={r.colour} /> {r.name}
              </span>
            ),
          }))}
          onChange={(key) => set(key, "infill")}
          className="w-full text-soft"
        />
      )}
    </div>
  );
}
