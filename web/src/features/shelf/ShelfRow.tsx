import { MoreHorizontal } from "lucide-react";
import { useState } from "react";
import type { JobSummary } from "../../api/generated/JobSummary";
import { api } from "../../api/client";
import { Link } from "../../state/Link";
import { Button } from "../../ui/Button";
import { count, counted, duration, fixed, percent } from "../../ui/format";
import { Menu, MenuItem } from "../../ui/Menu";
import { Swatch } from "../../ui/Swatch";
import { standings, useShelfView } from "./shelfView";
import { TagLine } from "./TagLine";
import type { ShelfWork } from "./useShelfWork";

/** The job as it stands, in its colours; room for it where there is none. */
function JobPicture({ job, isBinned }: { job: JobSummary; isBinned: boolean }) {
  const [missing, setMissing] = useState("");
  // Another picture once it was changed.
  const address = `${api.pictureUrl(job.id)}?at=${job.changed_s}`;
  return (
    <span className="flex h-[54px] w-[72px] shrink-0 items-center justify-center rounded-[3px] bg-bench">
      {missing !== address && !isBinned && !job.trouble && (
        <img src={address} alt="" loading="lazy" className="h-[54px] w-[72px]" onError={() => setMissing(address)} key={address} />
      )}
    </span>
  );
}

/** One job on the shelf: its colours, its size, how far it is, and what it costs to print. */
export function ShelfRow({ job, work }: { job: JobSummary; work: ShelfWork }) {
  const { chosen, set, place } = useShelfView();
  const [isTagging, setTagging] = useState(false);
  const size = job.size_mm.map((s) => fixed(s, 1)).join(" × ");
  const isChosen = chosen.includes(job.id);
  const isBinned = place === "bin";
  const inside = (
    <>
      <JobPicture job={job} isBinned={isBinned} />
      <span className="flex w-36 shrink-0 gap-1">
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
          <span className="block truncate text-soft">
            <span className="figure">{size} mm</span>
            {job.tags.length > 0 && <span className="ml-3">{job.tags.join(", ")}</span>}
          </span>
        )}
      </span>
      <span className="w-44 shrink-0 whitespace-nowrap text-soft">
        <span className="block font-medium text-ink">{standings[job.stands]}</span>
        <span className="figure block">
          {counted(job.parts, "part")}, {count(job.facets)} facets
        </span>
      </span>
      <span className="w-40 shrink-0 whitespace-nowrap text-right">
        <span className="figure block text-[15px]">
          {job.time_s !== null ? duration(job.time_s) : job.swaps === null ? "not planned" : "planned"}
        </span>
        <span className="figure block text-soft">
          {job.swaps === null ? "\u00a0" : counted(job.swaps, "swap")}
          {job.wasted_share !== null && job.swaps !== null && job.swaps > 0 && `, ${percent(job.wasted_share)} waste`}
        </span>
      </span>
    </>
  );
  const look = "flex min-w-0 flex-1 items-center gap-5 px-2";
  return (
    <div className={`border-b border-line ${isChosen ? "bg-plum-tint" : "hover:bg-sheet"}`}>
      <div className="flex items-center gap-2 py-1.5">
        <input
          type="checkbox"
          className="ml-2 size-3.5 shrink-0 accent-plum"
          aria-label={`Choose ${job.name}`}
          checked={isChosen}
          onChange={() => set({ chosen: isChosen ? chosen.filter((id) => id !== job.id) : [...chosen, job.id] })}
        />
        {isBinned ? (
          <span className={look}>{inside}</span>
        ) : (
          <Link to={`/jobs/${job.id}/colour`} className={look}>
            {inside}
          </Link>
        )}
        {isBinned ? (
          <Button className="mr-2" onClick={() => void work.bringBack([job])}>
            Bring back
          </Button>
        ) : (
          <Menu
            trigger={
              <button
                type="button"
                aria-label={`More for ${job.name}`}
                className="mr-2 rounded-[3px] px-1.5 py-1 text-soft hover:bg-paper hover:text-ink"
              >
                <MoreHorizontal size={16} aria-hidden />
              </button>
            }
          >
            <MenuItem onSelect={() => void work.duplicate([job])}>Duplicate</MenuItem>
            <MenuItem onSelect={() => setTagging(true)}>Tags…</MenuItem>
            <MenuItem onSelect={() => void work.putAway([job], !job.is_archived)}>
              {job.is_archived ? "Put back on the shelf" : "Put away"}
            </MenuItem>
            <MenuItem onSelect={() => void work.remove([job])}>Delete</MenuItem>
          </Menu>
        )}
      </div>
      {isTagging && (
        <TagLine
          label={`Tags of ${job.name}`}
          value={job.tags.join(", ")}
          onDone={(tags) => {
            setTagging(false);
            if (tags) void work.tag([job], () => tags);
          }}
        />
      )}
    </div>
  );
}
