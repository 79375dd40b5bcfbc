import { ChevronRight } from "lucide-react";
import { useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import type { SheetItem } from "../../api/generated/SheetItem";
import type { SheetLine } from "../../api/generated/SheetLine";
import { usePlanning, useSheet } from "../../api/planning";
import { useBench } from "../../state/bench";
import { Button } from "../../ui/Button";
import { Dot } from "../../ui/Dot";
import { fixed } from "../../ui/format";
import { NumberField } from "../../ui/NumberField";
import { slotColour, slotName } from "../score/names";

type Ready = Extract<PlanView, { state: "ready" }>;

const figures: Record<string, string> = {
  time: "Time",
  swaps: "Swaps",
  model: "In the model",
  purge: "Purged",
  tower: "Keeping the tower up",
  cost: "Filament cost",
  hand: "A person's time",
};

/** Every figure of the bill, opened down to the swaps that make it up. What is shown sums to the last digit. */
export function BillSheet({ job, latest }: { job: JobView; latest: Ready }) {
  const sheet = useSheet(job.id, latest.revision);
  const lines = sheet.data?.lines.filter((l) => l.total !== 0 || l.items.length > 0);
  const bill = latest.plan.bill;
  return (
    <section aria-label="The bill opened">
      <ul className="border-t border-line">
        {lines?.map((line) => (
          <Line key={line.figure} job={job} line={line} />
        ))}
        <li className="flex justify-between border-b border-line py-1.5">
          <span>Wasted share: purge and tower of all plastic</span>
          <span className="figure">{fixed(100 * bill.wasted_share, 1)} %</span>
        </li>
      </ul>
      <KnownTime job={job} time={bill.time_s} />
    </section>
  );
}

/** An amount in the unit of its figure; times in hours, minutes and seconds, so that nothing is rounded again. */
function amountText(line: SheetLine, n: number) {
  if (line.unit !== "s") return `${fixed(n, line.digits)}${line.unit === "g" ? " g" : ""}`;
  const [h, m, s] = [Math.floor(n / 3600), Math.floor((n % 3600) / 60), Math.round(n % 60)];
  const two = (k: number) => String(k).padStart(2, "0");
  return h > 0 ? `${h}:${two(m)}:${two(s)} h` : m > 0 ? `${m}:${two(s)} min` : `${s} s`;
}

function Line({ job, line }: { job: JobView; line: SheetLine }) {
  return (
    <Item
      job={job}
      line={line}
      depth={0}
      item={{ what: figures[line.figure] ?? line.figure, slot: null, layer: null, amount: line.total, items: line.items }}
    />
  );
}

function Item({ job, line, item, depth }: { job: JobView; line: SheetLine; item: SheetItem; depth: number }) {
  const [isOpen, setOpen] = useState(false);
  const setLayer = useBench((s) => s.setLayer);
  const pair = /^(\d+) → (\d+)$/.exec(item.what);
  const name = pair
    ? `${slotName(job, Number(pair[1]))} → ${slotName(job, Number(pair[2]))}`
    : item.layer !== null
      ? `Layer ${item.layer + 1}`
      : item.what || (item.slot !== null ? slotName(job, item.slot) : "");
  const canOpen = item.items.length > 0;
  const layer = item.layer;
  return (
    <li className={depth === 0 ? "border-b border-line" : ""}>
      <button
        type="button"
        aria-expanded={canOpen ? isOpen : undefined}
        className={`flex w-full items-center gap-1.5 py-[3px] text-left ${depth === 0 ? "py-1.5 font-semibold" : "text-[12.5px]"} ${canOpen || layer !== null ? "hover:bg-sheet" : "cursor-default"}`}
        style={{ paddingLeft: depth * 16 }}
        onClick={() => (layer !== null ? setLayer(layer) : canOpen && setOpen(!isOpen))}
      >
        <ChevronRight
          size={12}
          className={`shrink-0 text-faint transition-transform ${isOpen ? "rotate-90" : ""} ${canOpen ? "" : "opacity-0"}`}
          aria-hidden
        />
        {item.slot !== null && <Dot colour={slotColour(job, item.slot)} />}
        <span className="min-w-0 flex-1 truncate">
          {name}
          {canOpen && depth > 0 && <span className="text-faint"> · {item.items.length}</span>}
        </span>
        <span className="figure shrink-0 font-normal">{amountText(line, item.amount)}</span>
      </button>
      {isOpen && (
        <ul className="pb-1">
          {item.items.map((inner, i) => (
            <Item key={i} job={job} line={line} item={inner} depth={depth + 1} />
          ))}
        </ul>
      )}
    </li>
  );
}

/** The printer's pace from how long this very job took. */
function KnownTime({ job, time }: { job: JobView; time: number }) {
  const { knownTime } = usePlanning(job.id);
  const [minutes, setMinutes] = useState<number | null>(null);
  const factor = job.printer.time_factor;
  return (
    <div className="mt-3 text-[12.5px]">
      <p className="flex flex-wrap items-center gap-2">
        It really took{" "}
        <NumberField label="Minutes it really took" value={minutes ?? time / 60} unit="min" digits={0} width={86} onCommit={setMinutes} />
        <Button
          disabled={minutes === null || knownTime.isPending}
          onClick={() => minutes !== null && knownTime.mutate(minutes * 60, { onSuccess: () => setMinutes(null) })}
        >
          Set the printer's pace by it
        </Button>
      </p>
      <p className="pt-1 text-soft">
        {factor === 1 ? (
          "Times are as speeds and volumes give them; most printers take longer."
        ) : (
          <>
            Printing takes <span className="figure">{fixed(factor, 2)}</span> times what speeds and volumes give, from a print whose time
            was known.
          </>
        )}
      </p>
    </div>
  );
}
