import type { Plan } from "../../api/generated/Plan";
import { fixed } from "../../ui/format";

/** What other orders of the same slots would purge. */
export function Yardsticks({ plan }: { plan: Plan }) {
  const y = plan.yardsticks;
  const rows: [string, number][] = [
    ["This order: the least there is", y.best_purge_mm3],
    ["Always the nearest next slot", y.greedy_purge_mm3],
    ["Slots in number order", y.number_order_purge_mm3],
  ];
  return (
    <section aria-label="Other orders" className="mt-5">
      <h2 className="heading pb-1.5">What the order is worth</h2>
      <table className="w-full border-t border-line">
        <tbody>
          {rows.map(([name, mm3], i) => (
            <tr key={name} className={`border-b border-line ${i === 0 ? "bg-plum-tint font-medium" : ""}`}>
              <td className="px-1.5 py-1.5">{name}</td>
              <td className="figure px-1.5 text-right">{fixed(mm3 / 1000, 2)} cm³</td>
              <td className="figure w-24 px-1.5 text-right text-soft">{i === 0 || mm3 === y.best_purge_mm3 ? "" : `+${fixed((mm3 - y.best_purge_mm3) / 1000, 2)}`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
