import type { Answer } from "../../api/generated/Answer";
import type { HowItWent } from "../../api/generated/HowItWent";
import type { JobView } from "../../api/generated/JobView";
import type { RehearsalView } from "../../api/generated/RehearsalView";
import { api } from "../../api/client";
import { Button } from "../../ui/Button";
import { counted, duration, fixed } from "../../ui/format";

const tints: Record<HowItWent, string> = { fine: "bg-fine", look: "bg-look", wrong: "bg-wrong" };
const hows: Record<HowItWent, string> = { fine: "fine", look: "worth a look", wrong: "wrong" };

/** Hours, minutes and seconds on the print's own clock. */
function clock(s: number): string {
  const whole = Math.floor(s);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${Math.floor(whole / 3600)}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}`;
}

/** What the machine asks, what happened, and what it comes to. */
export function WhatHappened({
  job,
  rehearsal,
  answer,
}: {
  job: JobView;
  rehearsal: RehearsalView;
  answer: (answer: Answer) => Promise<void>;
}) {
  const { status, happenings, slots } = rehearsal;
  return (
    <aside className="min-h-0 overflow-y-auto border-l border-line px-5 py-3.5" aria-label="What happened">
      {status.is === "waits" && (
        <section role="alert" className={`mb-4 border bg-sheet px-4 py-3 ${status.is_planned ? "border-plum" : "border-wrong"}`}>
          <p className="font-semibold">{status.words}.</p>
          <div className="mt-2.5 flex flex-wrap gap-2">
            <Button kind="main" onClick={() => void answer({ do: "go-on" })}>
              {status.slot === null ? "Done, go on" : "Loaded, go on"}
            </Button>
            {status.slot !== null &&
              slots
                .filter((s) => s.slot !== status.slot)
                .slice(0, 2)
                .map((s) => (
                  <Button key={s.slot} onClick={() => void answer({ do: "use", slot: s.slot })}>
                    Put in {s.name} instead
                  </Button>
                ))}
            <Button onClick={() => void answer({ do: "stop" })}>Stop here</Button>
          </div>
        </section>
      )}
      {(status.is === "dead" || status.is === "stopped") && (
        <section role="alert" className="mb-4 border border-wrong bg-sheet px-4 py-3">
          <p className="font-semibold">
            {status.is === "dead" ? "The power is gone" : "It was stopped"} in layer {rehearsal.layer + 1}.
          </p>
          <p className="text-soft">
            The rest can be printed from here: heat, place and filament as they were
            {status.is === "dead" ? ", after the nozzle is brought down to the print by hand" : ""}.
          </p>
          <a href={api.restUrl(job.id)} className="mt-2 inline-block font-semibold text-plum hover:underline" download>
            Save the rest of the file
          </a>
        </section>
      )}
      <VerdictTable rehearsal={rehearsal} />
      <h2 className="heading mt-5">What happened</h2>
      <ol className="mt-1" aria-live="polite" aria-relevant="additions">
        {happenings.map((h, i) => (
          <li key={`${h.s}-${happenings.length - i}`} className="flex gap-2.5 border-b border-line py-1.5">
            <span className="figure shrink-0 text-soft">{clock(h.s)}</span>
            <span className={`mt-[5px] size-2 shrink-0 rounded-full ${tints[h.how]}`} title={hows[h.how]} />
            <span className="min-w-0">
              {h.how === "wrong" ? <b className="font-semibold">{h.words}</b> : h.words}
              <span className="figure text-[11.5px] text-soft"> L{h.layer + 1}</span>
            </span>
          </li>
        ))}
        {happenings.length === 0 && <li className="py-1.5 text-soft">Nothing yet: it prints its first colour.</li>}
      </ol>
    </aside>
  );
}

/** What it came to so far. */
function VerdictTable({ rehearsal }: { rehearsal: RehearsalView }) {
  const { verdict, status } = rehearsal;
  const isDone = status.is === "done";
  const later = verdict.time_s - verdict.planned_s;
  // Two counts of the same moves differ by as much.
  const isOnTime = Math.abs(later) < Math.max(60, 0.02 * verdict.planned_s);
  const rows: [string, string, boolean][] = [
    [
      "Worst colour in sight",
      verdict.worst ? `${fixed(verdict.worst.delta_e, 1)} at layer ${verdict.worst.layer + 1}` : "none off",
      verdict.stained_layers > 0,
    ],
    ["Touched what stands", verdict.touched === 0 ? "never" : counted(verdict.touched, "time"), verdict.touched > 0],
    [
      "Swaps as planned",
      `${verdict.swaps_as_planned} of ${isDone ? verdict.swaps_planned : verdict.swaps}`,
      verdict.swaps_as_planned < (isDone ? verdict.swaps_planned : verdict.swaps),
    ],
    [
      "Spools that ran out",
      verdict.ran_out.length === 0 ? "none" : verdict.ran_out.map((s) => `slot ${s}`).join(", "),
      verdict.ran_out.length > 0,
    ],
    ...(verdict.missing_mm > 0
      ? ([["Beads that are missing", `${fixed(verdict.missing_mm, 0)} mm`, true]] as [string, string, boolean][])
      : []),
    ...(verdict.aside_mm > 0
      ? ([["Laid aside of its place", `${fixed(verdict.aside_mm, 1)} mm`, true]] as [string, string, boolean][])
      : []),
    ...(isDone
      ? ([["Against the bill", isOnTime ? "on time" : `${later > 0 ? "+" : "−"}${duration(Math.abs(later))}`, !isOnTime && later > 0]] as [
          string,
          string,
          boolean,
        ][])
      : []),
  ];
  return (
    <section aria-label="Verdict">
      <div className="flex items-baseline justify-between">
        <h2 className="heading">{isDone ? "Verdict" : "Verdict so far"}</h2>
        {isDone && (
          <span className={`font-semibold ${verdict.is_good ? "text-fine" : "text-wrong"}`} role="status">
            {verdict.is_good ? "It prints as it should" : "It does not print as it should"}
          </span>
        )}
      </div>
      <dl className="mt-1">
        {rows.map(([name, value, isBad]) => (
          <div key={name} className="flex justify-between gap-3 border-b border-dotted border-line py-1">
            <dt>{name}</dt>
            <dd className={`figure ${isBad ? "font-semibold text-wrong" : ""}`}>{value}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
