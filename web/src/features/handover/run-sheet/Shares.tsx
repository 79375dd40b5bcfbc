import type { JobView } from "../../../api/generated/JobView";
import { percent } from "../../../ui/format";

/** What each colour of a mixing nozzle is made of. */
export function Shares({ job, used, nameOfFeed }: { job: JobView; used: readonly number[]; nameOfFeed: (feed: number) => string }) {
  return (
    <>
      <h2 className="mt-6 font-semibold">Mixtures</h2>
      <table className="mt-1 w-full border-t border-line" aria-label="Mixtures">
        <tbody>
          {used.map((slot) => {
            const of = job.slots[slot - 1];
            if (!of) return null;
            return (
              <tr key={slot} className="border-b border-line">
                <td className="w-40 py-1.5">
                  <span
                    className="mr-2 inline-block size-3.5 rounded-[2px] border border-black/30 align-[-2px]"
                    style={{ background: of.colour }}
                  />
                  {job.machine.slot_word} {slot}
                </td>
                <td className="figure">
                  {(of.shares ?? [])
                    .map((share, i): [number, number] => [i + 1, share])
                    .filter(([, share]) => share > 0)
                    .map(([feed, share]) => `${percent(share)} ${nameOfFeed(feed)}`)
                    .join(" + ")}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}
