import type { Plan } from "../../../api/generated/Plan";
import { counted, fixed, mm } from "../../../ui/format";
import { begins, clock, runsOf } from "./runs";

const Head = ({ names }: { names: string[] }) => (
  <thead>
    <tr className="heading border-b border-line text-left">
      {names.map((n, i) => (
        <th key={n} className={`py-1 font-semibold ${i === names.length - 1 ? "text-right" : ""}`}>
          {n}
        </th>
      ))}
    </tr>
  </thead>
);

/** Swaps of a machine that makes them itself, to and fro folded into one line. */
export function SwapRuns({ plan, nameOf }: { plan: Plan; nameOf: (slot: number) => string }) {
  return (
    <table className="mt-1 w-full border-t border-line">
      <Head names={["Swaps", "Layers", "Height", "Between", "At", "Purge"]} />
      <tbody>
        {runsOf(plan.swaps).map(({ swaps, number }) => {
          const [first, last] = [swaps[0], swaps.at(-1)];
          if (!first || !last) return null;
          const purge = swaps.reduce((sum, s) => sum + s.purge_mm3, 0);
          const by = plan.reloads.filter((r) => first.is_reload && r.layer === first.layer && r.slot === first.to);
          return (
            <tr key={number} className="break-inside-avoid border-b border-line align-top">
              <td className="figure py-1 text-soft">{swaps.length === 1 ? number : `${number}–${number + swaps.length - 1}`}</td>
              <td className="figure py-1">{first.layer === last.layer ? first.layer + 1 : `${first.layer + 1}–${last.layer + 1}`}</td>
              <td className="figure py-1">{first.layer === last.layer ? mm(first.z_mm) : `${fixed(first.z_mm, 1)}–${mm(last.z_mm)}`}</td>
              <td className="py-1">
                {nameOf(first.from)} {swaps.length === 1 ? "→" : "↔"} <span className="font-medium">{nameOf(first.to)}</span>
                {swaps.length > 1 && <span className="text-soft">, {counted(swaps.length, "time")}</span>}
                {by.map((r) => (
                  <b key={r.slot} className="block">
                    by hand: {nameOf(r.out)} out of place {r.place}, {nameOf(r.slot)} in
                  </b>
                ))}
              </td>
              <td className="figure py-1 text-soft">{clock(begins(plan, first.layer))}</td>
              <td className="figure py-1 text-right">{fixed(purge, 0)} mm³</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Swaps that a person makes: a row each with the clock, and a box to tick. */
export function HandSwaps({ plan, nameOf }: { plan: Plan; nameOf: (slot: number) => string }) {
  return (
    <>
      <p className="mt-1">At each: pull the filament, load the next, press it out until it is clean, brush the nozzle, go on.</p>
      <table className="mt-1 w-full border-t border-line">
        <Head names={["", "At", "Layer", "Height", "Pull", "Load", "Press out"]} />
        <tbody>
          {plan.swaps.map((s, i) => (
            <tr key={i} className="break-inside-avoid border-b border-line">
              <td className="w-7 py-1.5">
                <span className="inline-block size-3.5 border border-ink" aria-hidden />
              </td>
              <td className="figure">{clock(begins(plan, s.layer))}</td>
              <td className="figure">{s.layer + 1}</td>
              <td className="figure">{mm(s.z_mm)}</td>
              <td className="text-soft">{nameOf(s.from)}</td>
              <td className="font-semibold">{nameOf(s.to)}</td>
              <td className="figure text-right">{s.split.hand_mm3 > 0 ? `${fixed(s.purge_mm, 0)} mm` : "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** Passes, one after the other on the same bed: a page each. */
export function Passes({
  plan,
  files,
  nameOf,
}: {
  plan: Plan;
  files: readonly { name: string; slot: number | null }[];
  nameOf: (slot: number) => string;
}) {
  return (
    <>
      {files.map((file, i) => {
        const slot = file.slot ?? 1;
        const layers = plan.layers.filter((l) => l.order.includes(slot));
        const top = layers.at(-1)?.z1_mm ?? 0;
        return (
          <section key={file.name} className={i > 0 ? "break-before-page" : ""}>
            <h3 className="mt-5 font-semibold">
              Pass {i + 1} of {files.length}: {nameOf(slot)}
            </h3>
            <dl className="mt-1 grid grid-cols-[120px_1fr] gap-y-1 border-t border-line pt-2">
              <dt className="text-soft">File</dt>
              <dd className="figure">{file.name}</dd>
              <dt className="text-soft">Load</dt>
              <dd className="font-medium">{nameOf(slot)}</dd>
              <dt className="text-soft">Height</dt>
              <dd className="figure">
                layers {(layers[0]?.index ?? 0) + 1} to {(layers.at(-1)?.index ?? 0) + 1}, up to {mm(top)}
              </dd>
              <dt className="text-soft">Before</dt>
              <dd>
                {i === 0
                  ? "Bed clean and level."
                  : "Leave the print where it is. Pull strings off it, press the new filament out clean beside the bed, and do not find the height anew."}
              </dd>
            </dl>
          </section>
        );
      })}
    </>
  );
}
