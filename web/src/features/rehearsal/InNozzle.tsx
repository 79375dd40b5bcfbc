import type { RehearsalView } from "../../api/generated/RehearsalView";
import type { TroubleKind } from "../../api/generated/TroubleKind";
import { Button } from "../../ui/Button";
import { fixed } from "../../ui/format";

const troubles: [TroubleKind, string, string][] = [
  ["run-out", "Run out", "The spool that prints ends"],
  ["jam", "Jam", "Nothing comes out any more"],
  ["wrong-spool", "Wrong spool", "In the slot is the spool of the next one"],
  ["lost-steps", "Lost steps", "The nozzle is 2 mm aside of where it thinks"],
  ["power-cut", "Power cut", "The power goes"],
];

/** What is in the nozzle, what is left on the spools, and what may go wrong. */
export function InNozzle({
  rehearsal,
  into,
  trouble,
}: {
  rehearsal: RehearsalView;
  /** What is laid at the moment. */
  into: string;
  trouble: (kind: TroubleKind) => Promise<void>;
}) {
  const { nozzle, slots, slot, delta_e, verdict } = rehearsal;
  const prints = slots.find((s) => s.slot === slot);
  const leaves = nozzle[nozzle.length - 1];
  const isClean = delta_e <= verdict.tolerance;
  const isOver = !(rehearsal.status.is === "running" || rehearsal.status.is === "waits");
  return (
    <aside className="min-h-0 overflow-y-auto border-l border-line bg-sheet px-4 py-3.5" aria-label="In the machine">
      <h2 className="heading">In the nozzle</h2>
      <div className="mt-2 flex gap-3">
        <div
          className="h-[132px] w-10 shrink-0 overflow-hidden rounded-[4px] border border-black/40"
          aria-hidden
          style={{ background: `linear-gradient(${[prints?.colour ?? "#fff", ...nozzle, leaves].join(", ")})` }}
        />
        <dl className="min-w-0">
          <dt className="text-soft">goes in</dt>
          <dd className="flex items-center gap-1.5">
            <span className="size-3.5 shrink-0 rounded-[3px] border border-black/30" style={{ background: prints?.colour }} />
            <span className="truncate">{prints?.name ?? `slot ${slot}`}</span>
          </dd>
          <dt className="mt-3 text-soft">leaves</dt>
          <dd className="flex items-center gap-1.5">
            <span className="size-3.5 shrink-0 rounded-[3px] border border-black/30" style={{ background: leaves }} />
            <span className={`figure ${isClean ? "" : "text-look"}`}>{delta_e < 0.05 ? "clean" : `${fixed(delta_e, 1)} off`}</span>
          </dd>
          <dt className="mt-3 text-soft">lays</dt>
          <dd>{into}</dd>
        </dl>
      </div>
      <h2 className="heading mt-5">Spools</h2>
      <ul className="mt-1">
        {slots.map((s) => (
          <li key={s.slot} className="flex items-center gap-2 border-b border-line py-1.5">
            <span className="size-3.5 shrink-0 rounded-[3px] border border-black/30" style={{ background: s.colour }} />
            <span className={`min-w-0 flex-1 truncate ${s.slot === slot ? "font-semibold" : ""}`}>{s.name}</span>
            <span className="figure text-soft">{s.left_g === null ? "–" : `${fixed(s.left_g, 0)} g`}</span>
          </li>
        ))}
      </ul>
      <h2 className="heading mt-5">Let something go wrong</h2>
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        {troubles.map(([kind, name, why]) => (
          <Button key={kind} title={why} disabled={isOver} onClick={() => void trouble(kind)}>
            {name}
          </Button>
        ))}
      </div>
    </aside>
  );
}
