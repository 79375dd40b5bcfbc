import type { Caution } from "../../api/generated/Caution";
import type { JobView } from "../../api/generated/JobView";
import type { ReleaseCheck } from "../../api/generated/ReleaseCheck";
import type { ReleaseStage } from "../../api/generated/ReleaseStage";
import type { ReleaseView } from "../../api/generated/ReleaseView";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { go } from "../../state/route";
import { counted } from "../../ui/format";
import { LevelMark } from "../../ui/LevelMark";
import { CareList } from "./CareList";
import { ReleaseBox } from "./ReleaseBox";

const wheres: Record<ReleaseStage, [string, string] | null> = {
  colour: ["colour", "See it"],
  load: ["load", "In Load"],
  plan: ["plan", "In Plan"],
  rehearsal: ["rehearsal", "Rehearse"],
  handover: null,
};

/** Everything that is looked at before a job is printed, what is ticked off by hand, and whether it may go. */
export function BeforeItGoes({ job, release, cautions }: { job: JobView; release: ReleaseView | undefined; cautions: Caution[] }) {
  const wrong = release?.checks.filter((c) => c.level === "wrong").length ?? 0;
  return (
    <aside className="flex min-h-0 flex-col border-r border-line px-5 pt-5" aria-label="Before it goes">
      <h2 className="heading shrink-0">
        Before it goes
        {release && <span className={wrong > 0 ? "text-wrong" : "text-fine"}> · {wrong > 0 ? `${wrong} wrong` : "nothing wrong"}</span>}
      </h2>
      {!release && <p className="py-3 text-soft">Looking it over</p>}
      {release && (
        <>
          <div className="-mr-5 min-h-0 flex-1 overflow-y-auto pr-5">
            <ul className="mt-1.5" aria-label="Checks">
              {release.checks.map((c) => (
                <CheckRow key={c.code + c.message} job={job} check={c} caution={cautions.find((k) => k.message === c.message)} />
              ))}
            </ul>
            <CareList job={job} release={release} />
          </div>
          <ReleaseBox job={job} release={release} wrong={wrong > 0 ? counted(wrong, "thing") : null} />
        </>
      )}
    </aside>
  );
}

function CheckRow({ job, check, caution }: { job: JobView; check: ReleaseCheck; caution: Caution | undefined }) {
  const { edit } = useChanges(job.id);
  const setLayer = useBench((s) => s.setLayer);
  const mend = caution?.edit;
  const where = check.level === "fine" && check.stage !== "rehearsal" ? null : wheres[check.stage];
  const name = check.code === "rehearsed" ? "Watch it" : where?.[1];
  return (
    <li className="grid grid-cols-[20px_minmax(0,1fr)_auto] gap-x-2 border-b border-line py-2">
      <LevelMark level={check.level} />
      <span className="min-w-0">
        {check.message}
        {check.detail && !mend && <span className="block text-[12px] leading-[1.3] text-soft">{check.detail}</span>}
        {mend && (
          <button type="button" className="block text-left font-semibold text-plum hover:underline" onClick={() => edit(mend)}>
            {caution.mend}
          </button>
        )}
      </span>
      {check.layer !== null && check.stage === "handover" ? (
        <button type="button" className="self-start font-semibold text-plum hover:underline" onClick={() => setLayer(check.layer ?? 0)}>
          Show
        </button>
      ) : where ? (
        <button
          type="button"
          className="self-start font-semibold text-plum hover:underline"
          onClick={() => {
            if (check.layer !== null) setLayer(check.layer);
            go(`/jobs/${job.id}/${where[0]}`);
          }}
        >
          {name}
        </button>
      ) : null}
    </li>
  );
}
