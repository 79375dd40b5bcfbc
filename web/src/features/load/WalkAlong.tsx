import type { JobView } from "../../api/generated/JobView";
import type { LoadView } from "../../api/generated/LoadView";
import { useChanges, useDesk, useDeskChanges } from "../../api/queries";
import { fixed, grams } from "../../ui/format";
import { Select } from "../../ui/Select";
import { Ring } from "./bay/cards";

/** The machine's places in their own order, to be ticked off one by one while loading. */
export function WalkAlong({ job, load }: { job: JobView; load: LoadView | undefined }) {
  const { edit } = useChanges(job.id);
  const desk = useDesk(job.id).data;
  const { setDesk } = useDeskChanges(job.id);
  const word = job.machine.place_word;
  const ticked = desk?.ticked ?? [];
  const along = [...job.places].sort((a, b) => a.machine_place - b.machine_place);
  const tick = (place: number, spool: string) => {
    if (!desk) return;
    const mark = `${place} ${spool}`;
    setDesk({ ...desk, ticked: ticked.includes(mark) ? ticked.filter((t) => t !== mark) : [...ticked, mark] });
  };
  /** The two places change: every place stays taken once. */
  const put = (place: number, to: number) => {
    const places = job.places.map((p) => p.machine_place);
    const from = places[place - 1];
    edit({ edit: "load", do: "places", places: places.map((m, i) => (i === place - 1 ? to : m === to && from !== undefined ? from : m)) });
  };
  const done = along.filter((p) => p.spool && ticked.includes(`${p.machine_place} ${p.spool.id}`)).length;
  const wanted = along.filter((p) => p.spool).length;
  return (
    <div className="py-2">
      <p className="pb-2 text-soft" role="status">
        Stand at the machine and tick what you have checked:{" "}
        <span className="figure text-ink">
          {done} of {wanted}
        </span>
        .
      </p>
      <ul className="border-t border-line" aria-label="Places of the machine">
        {along.map((p) => {
          const need = load?.needs.find((n) => n.place === p.place);
          const isTicked = p.spool !== null && ticked.includes(`${p.machine_place} ${p.spool.id}`);
          return (
            <li key={p.place} className="flex items-center gap-3 border-b border-line py-1.5">
              <input
                type="checkbox"
                className="size-4 accent-plum"
                aria-label={`Place ${p.machine_place} is checked`}
                disabled={!p.spool}
                checked={isTicked}
                onChange={() => p.spool && tick(p.machine_place, p.spool.id)}
              />
              <span className="figure w-16 font-semibold">Place {p.machine_place}</span>
              {p.spool ? (
                <Ring colour={p.spool.colour} size={24} />
              ) : (
                <span className="size-6 rounded-full border border-dashed border-faint" aria-hidden />
              )}
              <span className="min-w-0 flex-1">
                <span className="block truncate font-medium">{p.spool?.name ?? "stays empty"}</span>
                {p.spool && (
                  <span className="figure block text-[12px] text-soft">
                    {p.spool.material}, {fixed(p.spool.nozzle_c[0], 0)} to {fixed(p.spool.nozzle_c[1], 0)} °C
                    {need ? `, takes ${grams(need.model_g + need.purge_g + need.tower_g)}` : ""}
                  </span>
                )}
              </span>
              <label className="flex items-center gap-2 text-[12px] text-soft">
                {word} {p.place} is at
                <Select
                  label={`Place of ${word.toLowerCase()} ${p.place}`}
                  className="h-6 w-24 py-0!"
                  value={String(p.machine_place)}
                  options={along.map((a) => ({ value: String(a.machine_place), label: `Place ${a.machine_place}` }))}
                  onChange={(v) => put(p.place, Number(v))}
                />
              </label>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
