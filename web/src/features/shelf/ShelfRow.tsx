import { AlertDialog } from "radix-ui";
import type { JobSummary } from "../../api/generated/JobSummary";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { count, counted, duration, fixed } from "../../ui/format";
import { Swatch } from "../../ui/Swatch";

/** One job on the shelf: its colours, its size, and what it costs to print. */
export function ShelfRow({ job, onRemove }: { job: JobSummary; onRemove: () => void }) {
  const size = job.size_mm.map((s) => fixed(s, 1)).join(" × ");
  return (
    <div className="group flex items-center gap-5 border-b border-line py-3.5 hover:bg-sheet">
      <a
        href={`/jobs/${job.id}/colour`}
        onClick={(e) => {
          e.preventDefault();
          go(`/jobs/${job.id}/colour`);
        }}
        className="flex min-w-0 flex-1 items-center gap-5 px-2"
      >
        <span className="flex w-32 shrink-0 gap-1">
          {job.colours.slice(0, 4).map((c, i) => (
            <Swatch key={i} colour={c} />
          ))}
          {job.colours.length > 4 && <span className="figure self-end text-faint">+{job.colours.length - 4}</span>}
        </span>
        <span className="min-w-0 flex-1">
          <span className="block truncate text-[15px] font-semibold" title={job.name}>
            {job.name}
          </span>
          {job.trouble ? (
            <span className="block text-wrong">{job.trouble}</span>
          ) : (
            <span className="figure block text-soft">{size} mm</span>
          )}
        </span>
        <span className="w-40 shrink-0 text-right text-soft">
          <span className="figure block">{count(job.facets)} facets</span>
          <span className="figure block">
            {job.parts} {job.parts === 1 ? "part" : "parts"}
          </span>
        </span>
        <span className="w-36 shrink-0 text-right">
          <span className="figure block text-[15px]">
            {job.time_s !== null ? duration(job.time_s) : job.swaps === null ? "not planned" : "planned"}
          </span>
          <span className="figure block text-soft">{job.swaps === null ? "\u00a0" : counted(job.swaps, "swap")}</span>
        </span>
      </a>
      <AlertDialog.Root>
        <AlertDialog.Trigger asChild>
          <Button className="mr-2" aria-label={`Delete ${job.name}`}>
            Delete
          </Button>
        </AlertDialog.Trigger>
        <AlertDialog.Portal>
          <AlertDialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
          <AlertDialog.Content className="fixed left-1/2 top-1/3 z-50 w-96 -translate-x-1/2 border border-line bg-sheet p-5 shadow-lg">
            <AlertDialog.Title className="font-semibold">Delete {job.name}?</AlertDialog.Title>
            <AlertDialog.Description className="mt-1 text-soft">
              The job and all its edits go for good. Your model file stays where it is.
            </AlertDialog.Description>
            <div className="mt-4 flex justify-end gap-2">
              <AlertDialog.Cancel asChild>
                <Button>Keep it</Button>
              </AlertDialog.Cancel>
              <AlertDialog.Action asChild>
                <Button kind="danger" onClick={onRemove}>
                  Delete
                </Button>
              </AlertDialog.Action>
            </div>
          </AlertDialog.Content>
        </AlertDialog.Portal>
      </AlertDialog.Root>
    </div>
  );
}
