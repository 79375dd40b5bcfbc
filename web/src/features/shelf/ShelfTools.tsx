import { useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { JobSummary } from "../../api/generated/JobSummary";
import { Button } from "../../ui/Button";
import { counted } from "../../ui/format";
import { Select } from "../../ui/Select";
import { orders, places, tagsOf, useShelfView, type Order } from "./shelfView";
import { TagLine } from "./TagLine";
import type { ShelfWork } from "./useShelfWork";

/** Where to look, what for, in what order; and what can be done to those that are chosen. */
export function ShelfTools({ jobs, listed, work }: { jobs: JobSummary[]; listed: JobSummary[]; work: ShelfWork }) {
  const { place, order, sought, tag, chosen, set } = useShelfView();
  const field = useRef<HTMLInputElement>(null);
  const [isTagging, setTagging] = useState(false);
  useHotkeys("slash", () => field.current?.focus(), { preventDefault: true });
  const tags = tagsOf(jobs);
  const picked = listed.filter((j) => chosen.includes(j.id));
  return (
    <>
      <div className="mt-4 flex flex-wrap items-center gap-x-5 gap-y-2 pb-2.5">
        <div role="group" aria-label="Where to look" className="flex gap-4">
          {places.map(([value, name]) => (
            <button
              key={value}
              type="button"
              aria-pressed={place === value}
              className={`border-b-2 py-1 font-semibold ${place === value ? "border-plum" : "border-transparent text-soft hover:text-ink"}`}
              onClick={() => set({ place: value, chosen: [], tag: null })}
            >
              {name}
            </button>
          ))}
        </div>
        <input
          ref={field}
          type="search"
          aria-label="Look for jobs"
          placeholder="Name, tag, colour or how far"
          title="/"
          className="w-60 rounded-[4px] border border-line bg-sheet px-2 py-1 focus:border-plum focus:outline-none"
          value={sought}
          onChange={(e) => set({ sought: e.target.value })}
          onKeyDown={(e) => {
            if (e.key === "Escape") set({ sought: "" });
          }}
        />
        <Select label="Order of the shelf" value={order} options={orders} onChange={(v) => set({ order: v as Order })} />
        {tags.length > 0 && (
          <span className="flex flex-wrap gap-1.5" role="group" aria-label="Tags">
            {tags.map((t) => (
              <button
                key={t}
                type="button"
                aria-pressed={tag === t}
                className={`rounded-full border px-2 text-[12px] ${tag === t ? "border-plum bg-plum-tint" : "border-line bg-sheet hover:border-faint"}`}
                onClick={() => set({ tag: tag === t ? null : t })}
              >
                {t}
              </button>
            ))}
          </span>
        )}
      </div>
      {picked.length > 0 && (
        <div className="flex items-center gap-2 border-t border-line bg-plum-tint px-2 py-2" role="group" aria-label="Chosen jobs">
          <span className="mr-2 font-semibold">{counted(picked.length, "job")} chosen</span>
          {place === "bin" ? (
            <>
              <Button onClick={() => void work.bringBack(picked)}>Bring back</Button>
              <Button kind="danger" onClick={() => void work.removeForGood(picked)}>
                Delete for good
              </Button>
            </>
          ) : (
            <>
              <Button onClick={() => setTagging(true)}>Tag…</Button>
              <Button onClick={() => void work.duplicate(picked)}>Duplicate</Button>
              <Button onClick={() => void work.putAway(picked, place === "shelf")}>
                {place === "shelf" ? "Put away" : "Put back on the shelf"}
              </Button>
              <Button onClick={() => void work.remove(picked)}>Delete</Button>
            </>
          )}
          <Button kind="link" className="ml-auto" onClick={() => set({ chosen: [] })}>
            Choose none
          </Button>
        </div>
      )}
      {isTagging && picked.length > 0 && (
        <TagLine
          label="Tags for all chosen"
          value=""
          onDone={(more) => {
            setTagging(false);
            if (more) void work.tag(picked, (tags) => [...tags, ...more]);
          }}
        />
      )}
    </>
  );
}
