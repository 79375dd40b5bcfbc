import { Check, CircleAlert, OctagonX } from "lucide-react";
import type { JobView } from "../../api/generated/JobView";
import type { Level } from "../../api/generated/Level";
import type { LoadCheck } from "../../api/generated/LoadCheck";
import type { LoadView } from "../../api/generated/LoadView";
import { useLoading } from "../../api/loading";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { go } from "../../state/route";
import { useOf } from "../../state/useOf";

const marks: Record<Level, { icon: typeof Check; tone: string; says: string }> = {
  wrong: { icon: OctagonX, tone: "text-wrong", says: "Wrong" },
  look: { icon: CircleAlert, tone: "text-look", says: "Look at it" },
  fine: { icon: Check, tone: "text-fine", says: "Fine" },
};

/** Everything that was checked, the worst first, each with its mend. */
export function CheckList({ job, load }: { job: JobView; load: LoadView | undefined }) {
  if (!load) return <p className="py-3 text-soft">Checking</p>;
  return (
    <>
      <ul aria-label="Checks">
        {load.checks.map((c, i) => (
          <Line key={`${c.code} ${i}`} job={job} check={c} />
        ))}
      </ul>
      {load.checks.length === 0 && load.is_planned && <p className="py-3 text-soft">Nothing stands against it.</p>}
      {!load.is_planned && !job.machine.jets && (
        <p className="py-2 text-soft" role="status">
          Grams are checked when the plan is ready.
        </p>
      )}
      {load.is_looking && (
        <p className="py-2 text-soft" role="status">
          Looking for what touches what.
        </p>
      )}
    </>
  );
}

function Line({ job, check: c }: { job: JobView; check: LoadCheck }) {
  const { icon: Icon, tone, says } = marks[c.level];
  return (
    <li className="flex items-start gap-3 border-b border-line py-2">
      <Icon size={15} className={`mt-px shrink-0 ${tone}`} aria-label={says} />
      <span className="min-w-0 flex-1">{c.message}</span>
      <span className="shrink-0">
        <Mend job={job} check={c} />
      </span>
    </li>
  );
}

function Mend({ job, check: c }: { job: JobView; check: LoadCheck }) {
  const { edit } = useChanges(job.id);
  const { ask, useLoaded } = useLoading(job.id);
  const { setRegion, setAlone } = useOf(useBench, "setRegion", "setAlone");
  const mend = c.mend;
  if (!mend) return null;
  const button = (label: string, onClick: () => void) => (
    <button type="button" className="font-semibold text-plum hover:underline" onClick={onClick}>
      {label}
    </button>
  );
  switch (mend.by) {
    case "edit":
      return button(mend.label, () => edit(mend.edit));
    case "use-loaded":
      return button("Use what is loaded", () => useLoaded.mutate());
    case "ask-again":
      return button("Ask again", () => ask.mutate());
    case "show":
      return button(mend.label, () => {
        // The later of two is the accent: alone on the bench, it shows where it sits.
        const region = c.regions.at(-1);
        if (region) {
          setRegion(region);
          setAlone({ region });
        }
        go(`/jobs/${job.id}/colour`);
      });
  }
}
