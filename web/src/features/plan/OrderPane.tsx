import { useState } from "react";
import type { Aim } from "../../api/generated/Aim";
import type { JobView } from "../../api/generated/JobView";
import type { OrderRule } from "../../api/generated/OrderRule";
import type { Plan } from "../../api/generated/Plan";
import { useChanges } from "../../api/queries";
import { Button } from "../../ui/Button";
import { fixed } from "../../ui/format";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { regionName, slotName } from "../score/names";
import { Reloads } from "./Reloads";

const aims: [Aim["is"], string][] = [
  ["purge", "the least purge"],
  ["time", "the least time"],
  ["swaps", "the fewest swaps"],
  ["weighed", "all three, weighed"],
  ["slot-order", "no aim: slots in number order"],
];

/** What the order makes least, what is asked of it, and what it is worth. */
export function OrderPane({ job, plan }: { job: JobView; plan: Plan }) {
  const { edit } = useChanges(job.id);
  const aim = job.rules.aim;
  const setAim = (aim: Aim) => edit({ edit: "plan", do: "aim", aim });
  const choose = (is: Aim["is"]) => setAim(is === "weighed" ? { is, purge_cm3: 1, minute: 0.1, swap: 0.5 } : { is });
  return (
    <section aria-label="Order">
      <label className="flex items-center gap-2">
        <span className="heading">Order for</span>
        <Select
          label="Order for"
          value={aim.is}
          options={aims.map(([value, label]) => ({ value, label }))}
          onChange={(is) => choose(is as Aim["is"])}
          className="w-[230px]"
        />
      </label>
      {aim.is === "weighed" && (
        <div className="flex items-center gap-2 pt-2 text-[12.5px] text-soft">
          cm³{" "}
          <NumberField
            label="Weight of a cm³ purged"
            value={aim.purge_cm3}
            unit=""
            digits={2}
            width={58}
            onCommit={(purge_cm3) => setAim({ ...aim, purge_cm3 })}
          />
          minute{" "}
          <NumberField
            label="Weight of a minute"
            value={aim.minute}
            unit=""
            digits={2}
            width={58}
            onCommit={(minute) => setAim({ ...aim, minute })}
          />
          swap{" "}
          <NumberField
            label="Weight of a swap"
            value={aim.swap}
            unit=""
            digits={2}
            width={58}
            onCommit={(swap) => setAim({ ...aim, swap })}
          />
        </div>
      )}
      <ProofTable plan={plan} />
      <RuleList job={job} />
      <Reloads job={job} plan={plan} />
    </section>
  );
}

function ProofTable({ plan }: { plan: Plan }) {
  const p = plan.proof;
  const amount = (n: number) =>
    p.unit === "mm³"
      ? `${fixed(n / 1000, 2)} cm³`
      : p.unit === "swaps"
        ? fixed(n, 0)
        : `${fixed(n, p.unit === "points" ? 2 : 0)} ${p.unit}`;
  const rows: [string, number][] = [
    [p.is_least ? "This order: the least there is" : "This order: the best found", p.chosen],
    ...(p.is_least ? [] : ([["No order costs less than", p.least]] as [string, number][])),
    ["Always the nearest next slot", p.greedy],
    ["Slots in number order", p.number_order],
  ];
  return (
    <table className="mt-2.5 w-full border-t border-line" aria-label="What the order is worth">
      <tbody>
        {rows.map(([name, n], i) => (
          <tr key={name} className={`border-b border-line ${i === 0 ? "bg-plum-tint font-medium" : ""}`}>
            <td className="px-1.5 py-1.5">{name}</td>
            <td className="figure px-1.5 text-right">{amount(n)}</td>
            <td className="figure w-24 px-1.5 text-right text-soft">{n > p.chosen + 1e-9 ? `+${amount(n - p.chosen)}` : ""}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function RuleList({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
  const rules = job.rules.order;
  const set = (rules: OrderRule[]) => edit({ edit: "plan", do: "order", rules });
  const words = (r: OrderRule) => {
    switch (r.rule) {
      case "pale-first":
        return "Pale before dark on the first layer";
      case "first":
        return `${slotName(job, r.slot)} always first`;
      case "last":
        return `${slotName(job, r.slot)} always last`;
      case "before":
        return `${regionName(job, r.region)} before ${regionName(job, r.then)}`;
    }
  };
  return (
    <section aria-label="Asked of the order" className="mt-4">
      <h2 className="heading pb-1">Asked of the order</h2>
      <ul className="border-t border-line">
        {rules.map((r, i) => (
          <li key={i} className="flex items-center justify-between border-b border-line py-1">
            {words(r)}
            <button
              type="button"
              className="text-[12px] font-semibold text-plum hover:underline"
              onClick={() => set(rules.filter((_, n) => n !== i))}
            >
              Take away
            </button>
          </li>
        ))}
        {rules.length === 0 && <li className="border-b border-line py-1.5 text-soft">Nothing: any order will do that costs least.</li>}
      </ul>
      <AddRule job={job} onAdd={(rule) => set([...rules, rule])} />
    </section>
  );
}

function AddRule({ job, onAdd }: { job: JobView; onAdd: (rule: OrderRule) => void }) {
  const [kind, setKind] = useState<OrderRule["rule"]>("pale-first");
  const [slot, setSlot] = useState("1");
  const [pair, setPair] = useState<[string, string]>([job.regions[0]?.key ?? "", job.regions[1]?.key ?? ""]);
  const slots = job.slots.map((s) => ({ value: String(s.slot), label: slotName(job, s.slot) }));
  const regions = job.regions.map((r) => ({ value: r.key, label: r.name }));
  const rule = (): OrderRule =>
    kind === "pale-first"
      ? { rule: kind }
      : kind === "before"
        ? { rule: kind, region: pair[0], then: pair[1] }
        : { rule: kind, slot: Number(slot) };
  return (
    <div className="flex flex-wrap items-center gap-1.5 pt-2">
      <Select
        label="Rule"
        value={kind}
        options={[
          { value: "pale-first", label: "Pale before dark, layer 1" },
          { value: "first", label: "A slot first" },
          { value: "last", label: "A slot last" },
          { value: "before", label: "A region before another" },
        ]}
        onChange={(v) => setKind(v as OrderRule["rule"])}
        className="w-[190px]"
      />
      {(kind === "first" || kind === "last") && (
        <Select label="Slot" value={slot} options={slots} onChange={setSlot} className="w-[130px]" />
      )}
      {kind === "before" && (
        <>
          <Select
            label="Region that goes first"
            value={pair[0]}
            options={regions}
            onChange={(v) => setPair([v, pair[1]])}
            className="w-[120px]"
          />
          <Select
            label="Region that waits"
            value={pair[1]}
            options={regions}
            onChange={(v) => setPair([pair[0], v])}
            className="w-[120px]"
          />
        </>
      )}
      <Button onClick={() => onAdd(rule())}>Ask for it</Button>
    </div>
  );
}
