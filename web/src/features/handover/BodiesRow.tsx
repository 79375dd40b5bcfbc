import { ChevronDown, ChevronRight } from "lucide-react";
import { useState } from "react";
import { api } from "../../api/client";
import type { BodiesView } from "../../api/generated/BodiesView";
import type { BodyDepth } from "../../api/generated/BodyDepth";
import type { JobView } from "../../api/generated/JobView";
import { outputs } from "../../api/generated/outputs";
import { useBodies } from "../../api/queries";
import { useHandover } from "../../state/handover";
import { Dot } from "../../ui/Dot";
import { count, counted, volume } from "../../ui/format";
import { Select } from "../../ui/Select";
import { Bar } from "../../ui/states";
import { Download } from "./Download";
import { OutputRow } from "./OutputRow";

const { bodies } = outputs;

const ways: { value: BodyDepth; label: string; loses: string }[] = [
  { value: "soak", label: "colours as deep as they soak", loses: bodies.loses },
  {
    value: "through",
    label: "colours straight through",
    loses: "The soak depth, names and colours but in the note, units, slots, the plan.",
  },
  { value: "surface", label: "parts only", loses: "Colours on the surface, units, slots, the plan." },
];

/** The print as closed bodies, one STL each: how deep colours go, and what will be in it before it is taken. */
export function BodiesRow({ job }: { job: JobView }) {
  const [isOpen, setOpen] = useState(false);
  const depth = useHandover((s) => s.depth);
  const setDepth = useHandover((s) => s.setDepth);
  const found = useBodies(job.id, job.revision, depth, isOpen);
  const Mark = isOpen ? ChevronDown : ChevronRight;
  return (
    <>
      <OutputRow
        name={bodies.name}
        carries={
          <>
            {bodies.carries}
            <span className="mt-1.5 flex items-center gap-3">
              <Select
                label="What the bodies are"
                value={depth}
                options={ways}
                onChange={(d) => setDepth(d as BodyDepth)}
                className="w-60"
              />
              <button
                type="button"
                aria-expanded={isOpen}
                onClick={() => setOpen(!isOpen)}
                className="flex items-center gap-1 font-medium text-plum hover:underline"
              >
                <Mark size={13} aria-hidden /> What is in it
              </button>
            </span>
          </>
        }
        loses={ways.find((w) => w.value === depth)?.loses ?? ""}
      >
        <Download href={`${api.fileUrl(job.id, bodies.file)}?depth=${depth}`} name={bodies.name} />
      </OutputRow>
      {isOpen && (
        <li className="border-b border-line pb-4 pt-2">
          {found.data ? (
            <Bodies job={job} view={found.data} />
          ) : found.error ? (
            <p className="text-wrong" role="alert">
              {found.error.message}
            </p>
          ) : (
            <span className="flex items-center gap-3 py-1 text-soft" role="status">
              <Bar done={null} /> cutting the bodies
            </span>
          )}
        </li>
      )}
    </>
  );
}

/** The bodies with their volumes, the regions against the plan, and what is not as it was asked for. */
function Bodies({ job, view }: { job: JobView; view: BodiesView }) {
  const named = (key: string) => {
    const region = job.regions.find((r) => r.key === key);
    return (
      <span className="flex items-center gap-1.5">
        {region && <Dot colour={region.colour} />}
        {region?.name ?? key}
      </span>
    );
  };
  return (
    <>
      {view.told.map((t) => (
        <p key={`${t.code} ${t.message}`} className="mb-1.5 border-l-2 border-wrong pl-2">
          {t.message}. <span className="text-soft">{t.mend}</span>
        </p>
      ))}
      <div className="flex flex-col gap-3">
        <div className="max-h-64 w-full overflow-y-auto" data-testid="bodies">
          <table className="w-full">
            <thead>
              <tr className="border-b border-line text-left text-soft">
                <th className="py-1 pr-4 font-normal">{counted(view.bodies.length, "file")}</th>
                <th className="py-1 font-normal">Region</th>
                <th className="py-1 text-right font-normal">Facets</th>
                <th className="py-1 text-right font-normal">Volume</th>
                <th className="py-1 pl-4 font-normal">Surface</th>
              </tr>
            </thead>
            <tbody>
              {view.bodies.map((b, i) => (
                <tr key={i} className="border-b border-line/60">
                  <td className="py-1 pr-4">{b.part}</td>
                  <td className="py-1">{named(b.region)}</td>
                  <td className="figure py-1 text-right text-soft">{count(b.facets)}</td>
                  <td className="figure py-1 pl-4 text-right">{volume(b.volume_mm3)}</td>
                  <td className="py-1 pl-4">{b.is_closed ? "closed" : <span className="text-wrong">not closed</span>}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <table className="w-full" data-testid="body-sums">
          <thead>
            <tr className="border-b border-line text-left text-soft">
              <th className="py-1 font-normal">Region</th>
              <th className="py-1 text-right font-normal">In bodies</th>
              <th className="py-1 text-right font-normal">In the plan</th>
            </tr>
          </thead>
          <tbody>
            {view.sums.map((s) => (
              <tr key={s.region} className="border-b border-line/60">
                <td className="py-1">{named(s.region)}</td>
                <td className="figure py-1 text-right">{volume(s.bodies_mm3)}</td>
                <td className="figure py-1 text-right text-soft">{s.plan_mm3 === null ? "waiting" : volume(s.plan_mm3)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
