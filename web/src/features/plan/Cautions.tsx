import { CircleAlert, OctagonX } from "lucide-react";
import type { Caution } from "../../api/generated/Caution";
import type { JobView } from "../../api/generated/JobView";
import { useChanges } from "../../api/queries";

/** What should be known before it is printed, each with its mend; in a pane of limited height unless it is free. */
export function Cautions({ job, cautions, isFree }: { job: JobView; cautions: Caution[]; isFree?: boolean }) {
  const { edit } = useChanges(job.id);
  if (cautions.length === 0) return null;
  return (
    <ul
      aria-label="Before it is printed"
      className={
        isFree
          ? "border-b border-line py-1"
          : "max-h-[132px] shrink-0 overflow-y-auto border-b border-line px-4 py-1 text-[12.5px] leading-[1.3]"
      }
    >
      {cautions.map((c) => {
        const Icon = c.is_wrong ? OctagonX : CircleAlert;
        const mend = c.edit;
        return (
          <li key={c.code + c.message} className="flex gap-2 py-1">
            <Icon
              size={14}
              className={`mt-px shrink-0 ${c.is_wrong ? "text-wrong" : "text-look"}`}
              aria-label={c.is_wrong ? "Wrong" : "Look at it"}
            />
            <span>
              {c.message}.{" "}
              {mend ? (
                <button type="button" className="text-left font-semibold text-plum hover:underline" onClick={() => edit(mend)}>
                  {c.mend}
                </button>
              ) : (
                <span className="text-soft">{c.mend}</span>
              )}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
