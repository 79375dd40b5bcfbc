import type { ReactNode } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Hit } from "../../scene/Model";
import { ownRegion, useBench, useTarget } from "../../state/bench";
import { count, fixed } from "../../ui/format";
import type { Taken } from "./tools/useTaken";
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
  const target = useTarget();
  const name = job.regions.find((r) => r.key === target)?.name;
  const to = target === ownRegion ? <b className="text-ink">the part's own region</b> : <b className="text-ink">{name}</b>;
  const isBusy = useBusy();
  return (
    <p className="pointer-events-none absolute left-3.5 top-3 max-w-[66%] text-soft" role="status">
      {isBusy ? <Working id={job.id} /> : taken && at ? <Here /> : <How />}
    </p>
  );

  function Here(): ReactNode {
    if (!taken || !at) return null;
    if (taken.problem) return taken.problem;
    const height = <span className="figure text-ink">{fixed(at.point[2] + lift, 2)} mm</span>;
    if (tool === "band")
      return (
        <>
          At {height}. Drag to another height, or click to give {to} {bandsInWords(bands)}.
        </>
      );
    if (tool === "dab" || tool === "dip")
      return (
        <>
          {tool === "dab" ? "Dab" : "Dip"} of <span className="figure text-ink">{fixed(s.radiusMm, 2)} mm</span> to {to}, at {height} height
        </>
      );
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

  function How(): ReactNode {
    switch (tool) {
      case "patch":
        return (
          <>
            Click a patch to give it to {to}. Patches stop where the surface turns more than {s.creaseDeg}°.
          </>
        );
      case "relief":
        return <>Click a raised or sunken face to give it to {to} with its walls.</>;
      case "dab":
        return <>Draw on the model to give what you see to {to}. Drag beside it, or with the right button, to turn.</>;
      case "dip":
        return <>Draw on the model to give everything inside the ball to {to}, seen or not.</>;
      case "facet":
        return <>Click or drag over facets to give them to {to}.</>;
      case "band":
        return <>Drag from one height to another to give the band to {to}, or type both.</>;
      case "lasso":
        return s.lassoStraight ? (
          <>Click corners around what goes to {to}; Enter or a double click closes, Escape lets go.</>
        ) : (
          <>Draw around what goes to {to}. Escape lets go.</>
        );
      case "part":
        return <>Click a part to give it to {to}.</>;
      case "alike":
        return s.alikeTo === "parts" ? (
          <>Click a part: its share of {to} is repeated on every copy of it.</>
        ) : (
          <>Click a patch: all patches of the same make go to {to}.</>
        );
    }
  }
}

function bandsInWords(bands: readonly (readonly [number, number])[]): string {
  const [first] = bands;
  if (!first) return "the band";
  const from = `${fixed(first[0], 2)} to ${fixed(first[1], 2)} mm`;
  return bands.length === 1 ? from : `${bands.length} bands from ${from} on`;
}
