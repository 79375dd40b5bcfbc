import { Plus } from "lucide-react";
import { useRef } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { LoadView } from "../../api/generated/LoadView";
import type { RackView } from "../../api/generated/RackView";
import { useLoading } from "../../api/loading";
import { useChanges } from "../../api/queries";
import { useNotice } from "../../state/notice";
import { Button } from "../../ui/Button";
import { Menu, MenuItem } from "../../ui/Menu";
import { columns } from "./bay/layout";
import { PrinterSelect } from "./PrinterSelect";

/** What stands over the three columns: what to do with all regions, the printer, the rack. */
export function BayHeads({ job, rack, load, onNew }: { job: JobView; rack: RackView; load: LoadView | undefined; onNew: () => void }) {
  const { edit } = useChanges(job.id);
  const { ask, importRack, changeRack } = useLoading(job.id);
  const show = useNotice((s) => s.show);
  const file = useRef<HTMLInputElement>(null);
  const archived = rack.spools.filter((s) => s.is_archived);
  const word = job.machine.slot_word.toLowerCase();
  const bringIn = (picked: File | undefined) => {
    if (picked)
      importRack.mutate(picked, {
        onSuccess: ({ added, replaced }) =>
          show({
            code: "done-rack",
            message: `${added} ${added === 1 ? "spool" : "spools"} added, ${replaced} replaced`,
            where: picked.name,
            mend: "Look them over on the rack.",
          }),
      });
  };
  return (
    <div className="relative mb-3 h-7">
      <div className="absolute flex h-7 items-center justify-between" style={columns.regions}>
        <h2 className="heading">Colour regions</h2>
        <Menu
          trigger={
            <button type="button" className="text-[12px] font-semibold text-plum hover:underline">
              All from one {word}
            </button>
          }
        >
          {job.slots.map((s) => (
            <MenuItem key={s.slot} onSelect={() => edit({ edit: "load", do: "all", slot: s.slot })}>
              Everything from {word} {s.slot}
              {s.spool ? `, ${s.spool.name}` : ""}
            </MenuItem>
          ))}
        </Menu>
      </div>
      <div className="absolute flex h-7 items-center gap-2" style={columns.slots}>
        <PrinterSelect job={job} className="h-7 min-w-0 flex-1 border-transparent! bg-transparent! px-0! font-semibold text-soft" />
        <Button
          disabled={ask.isPending || load?.abilities.no_asking != null}
          title={load?.abilities.no_asking ?? "Ask what it is and what is loaded"}
          onClick={() => ask.mutate()}
        >
          {ask.isPending ? "Asking\u2026" : "Ask the printer"}
        </Button>
      </div>
      <div className="absolute flex h-7 items-center justify-between" style={columns.spools}>
        <h2 className="heading">Spool rack</h2>
        <span className="flex items-center gap-3">
          <Menu
            trigger={
              <button type="button" className="text-[12px] font-semibold text-plum hover:underline">
                Rack
              </button>
            }
          >
            <MenuItem onSelect={() => file.current?.click()}>Bring in CSV or JSON</MenuItem>
            <MenuItem onSelect={() => window.location.assign("/api/rack/rack.csv")}>Take out as CSV</MenuItem>
            <MenuItem onSelect={() => window.location.assign("/api/rack/rack.json")}>Take out as JSON</MenuItem>
            {archived.map((s) => (
              <MenuItem key={s.id} onSelect={() => changeRack.mutate([{ do: "change", id: s.id, fields: { is_archived: false } }])}>
                Put {s.name} back on the rack
              </MenuItem>
            ))}
          </Menu>
          <Button onClick={onNew}>
            <Plus size={13} className="-ml-1 mr-0.5 inline align-[-2px]" aria-hidden />
            Spool
          </Button>
          <input
            ref={file}
            type="file"
            accept=".csv,.json,text/csv,application/json"
            hidden
            aria-label="Rack file"
            onChange={(e) => {
              bringIn(e.target.files?.[0]);
              e.target.value = "";
            }}
          />
        </span>
      </div>
    </div>
  );
}
