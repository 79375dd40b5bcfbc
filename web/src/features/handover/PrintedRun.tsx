import { useRef, useState } from "react";
import { api } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import type { RunView } from "../../api/generated/RunView";
import { useLoading } from "../../api/loading";
import { usePlanning } from "../../api/planning";
import { useAfter } from "../../api/runs";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { day, duration, grams } from "../../ui/format";
import { HowItWent } from "./HowItWent";

/** Within this share a time is as good as planned. */
const near = 0.03;

/** A print that was noted. `now_s`: how long the job takes as it is now. Shown are how it went, its photo, and what can be learned from it. */
export function PrintedRun({ job, run, now_s }: { job: JobView; run: RunView; now_s: number }) {
  const { say, setPhoto, noPhoto } = useAfter(job.id);
  const { notPrinted } = useLoading(job.id);
  const { knownTime } = usePlanning(job.id);
  const [isOpen, setOpen] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const { took_s, note } = run.about;
  const { planned_s } = run;
  // What the job is now has nothing to learn from a print of something else.
  const isSame = planned_s !== null && Math.abs(planned_s / now_s - 1) < 0.01;
  const isOff = isSame && took_s !== null && Math.abs(took_s / planned_s - 1) > near;
  if (isOpen) {
    return (
      <HowItWent
        about={run.about}
        says="Keep it"
        isBusy={false}
        onCancel={() => setOpen(false)}
        onSay={(about) => void say(run.run, about).then((is) => is && setOpen(false))}
      />
    );
  }
  return (
    <li className="flex gap-3 border-b border-line py-2.5" aria-label={`Print ${run.run}`}>
      {run.has_photo && (
        <a href={api.photoUrl(job.id, run.run)} target="_blank" rel="noreferrer" className="shrink-0">
          <img src={api.photoUrl(job.id, run.run)} alt={`Print ${run.run}`} className="h-20 w-24 rounded-[4px] object-cover" />
        </a>
      )}
      <div className="min-w-0 flex-1">
        <p>
          <b>{day(run.printed_at_s)}</b>
          <span className="figure ml-2 text-[12.5px] text-soft">
            {took_s === null ? "" : `took ${duration(took_s)} · `}
            {planned_s === null ? "" : `planned ${duration(planned_s)} · `}
            {grams(run.grams)} · revision {run.revision}
          </span>
        </p>
        {note && <p className="whitespace-pre-wrap break-words text-[12.5px]">{note}</p>}
        <p className="mt-0.5 flex flex-wrap gap-x-4 text-[12.5px]">
          {isOff && (
            <Button kind="link" disabled={knownTime.isPending} onClick={() => knownTime.mutate(took_s)}>
              Let the plan learn its pace
            </Button>
          )}
          <Button kind="link" onClick={() => go(`/jobs/${job.id}/plan`)} title="Where a rinse that was watched is typed in">
            Colours not clean?
          </Button>
          <Button kind="link" onClick={() => setOpen(true)}>
            Change
          </Button>
          <Button kind="link" onClick={() => (run.has_photo ? void noPhoto(run.run) : picker.current?.click())}>
            {run.has_photo ? "Take the photo away" : "Add a photo"}
          </Button>
          <Button
            kind="link"
            disabled={notPrinted.isPending}
            title="Puts the grams back on the spools, and forgets this print"
            onClick={() => notPrinted.mutate({ job: job.id, run: run.run })}
          >
            Take it back
          </Button>
        </p>
        <input
          ref={picker}
          type="file"
          accept="image/jpeg,image/png,image/webp"
          hidden
          aria-label={`Photo of print ${run.run}`}
          onChange={(e) => {
            const [photo] = e.target.files ?? [];
            if (photo) void setPhoto(run.run, photo);
            e.target.value = "";
          }}
        />
      </div>
    </li>
  );
}
