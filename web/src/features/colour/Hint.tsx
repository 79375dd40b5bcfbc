import type { ReactNode } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Hit } from "../../scene/Model";
import { ownRegion, useBench, useTarget } from "../../state/bench";
import { count, fixed } from "../../ui/format";
import type { Taken } from "./tools/useTaken";
import { cardOf } from "./toolList";
import { useBusy } from "./useBusy";
import { Working } from "./Working";
import { useOf } from "../../state/useOf";

/** Says what the tool in hand would take here, or how to use it. */
export function Hint({
  job,
  taken,
  at,
  lift,
  bands,
}: {
  job: JobView;
  taken: Taken | null;
  at: Hit | null;
  lift: number;
  bands: readonly (readonly [number, number])[];
}) {
  const { tool, settings: s } = useOf(useBench, "tool", "settings");
  const card = cardOf(tool);
  const target = useTarget();
  const name = job.regions.find((r) => r.key === target)?.name;
  const to = target === ownRegion ? <b className="text-ink">the part's own region</b> : <b className="text-ink">{name}</b>;
  const isBusy = useBusy();
  return (
    <p className="pointer-events-none absolute left-3.5 top-3 max-w-[80%] text-soft" role="status">
      {isBusy ? <Working id={job.id} /> : taken && at ? <Here /> : card.how(to, s)}
    </p>
  );

  function Here(): ReactNode {
    if (!taken || !at) return null;
    if (taken.problem) return taken.problem;
    const height = <span className="figure text-ink">{fixed(at.point[2] + lift, 2)} mm</span>;
    if (!card.click && !card.here) return card.how(to, s);
    if (card.here) return card.here({ to, height, settings: s, bands });
    if (taken.pieces === null) return "Finding what hangs together";
    const alike =
      tool === "alike" &&
      (s.alikeTo === "parts"
        ? `${taken.count} ${taken.count === 1 ? "copy" : "copies"}, `
        : `${taken.count} ${taken.count === 1 ? "patch" : "patches"} alike, `);
    if (taken.pieces === 0)
      return (
        <>
          {alike}All of this belongs to {to} already
        </>
      );
    return (
      <>
        {alike}
        <span className="figure text-ink">
          {count(taken.pieces)} {taken.pieces === 1 ? "facet" : "facets"}
        </span>
        {taken.areaMm2 !== null && <span className="figure">, {fixed(taken.areaMm2, 1)} mm²</span>} to {to}
      </>
    );
  }
}
