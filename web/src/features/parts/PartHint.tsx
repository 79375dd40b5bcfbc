import type { UseQueryResult } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Refused } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import type { TriedParts } from "../../api/generated/TriedParts";
import { useBusy } from "../colour/useBusy";
import { Working } from "../colour/Working";
import { useBench, type PartTool, type Settings } from "../../state/bench";
import { fixed } from "../../ui/format";
import { useOf } from "../../state/useOf";

/** Says what the part tool in hand would make here, or how to use it. */
export function PartHint({ job, tried }: { job: JobView; tried: UseQueryResult<TriedParts> | null }) {
  const { partTool: tool, settings: s, region, points } = useOf(useBench, "partTool", "settings", "region", "points");
  const name = <b className="text-ink">{job.regions.find((r) => r.key === region)?.name}</b>;
  const isBusy = useBusy();
  let words: ReactNode;
  if (isBusy) {
    words = <Working id={job.id} />;
  } else if (tried?.error) {
    const problem = tried.error instanceof Refused ? tried.error.problem : null;
    words = (
      <>
        {problem?.message ?? tried.error.message}. <b className="font-medium text-ink">{problem?.mend}</b>
      </>
    );
  } else if (tried?.data) {
    words = <Would tried={tried.data} job={job} />;
  } else if (tried) {
    words = "Working it out";
  } else {
    words = how(tool, s, name, points.length);
  }
  return (
    <p className="pointer-events-none absolute left-3.5 top-3 max-w-[66%] text-soft" role="status">
      {words}
    </p>
  );
}

function Would({ tried, job }: { tried: TriedParts; job: JobView }) {
  const made = tried.parts.filter((p) => p.is_new);
  const changed = tried.parts.filter((p) => !p.is_new);
  const inlay = tried.inlay;
  const line = job.printer.line_width_mm;
  return (
    <>
      {made.length > 0 ? (
        <>
          Makes <b className="text-ink">{made.map((p) => p.name).join(", ")}</b>
        </>
      ) : (
        <>
          Changes <b className="text-ink">{changed.map((p) => p.name).join(", ")}</b>
        </>
      )}
      <span className="figure text-ink">
        {made.length > 0 && (
          <>
            ,{" "}
            {fixed(
              made.reduce((sum, p) => sum + p.volume_mm3, 0),
              1,
            )}{" "}
            mm³
          </>
        )}
        {made.some((p) => p.pieces > 1) && <>, {made.reduce((sum, p) => sum + p.pieces, 0)} pieces</>}
      </span>
      {inlay && (
        <>
          <br />
          <span className="figure text-ink">{fixed(inlay.thickness.mm, 2)} mm</span> thick
          {inlay.thickness.layers !== null && (
            <>
              , <span className="figure text-ink">{inlay.thickness.layers}</span> {inlay.thickness.layers === 1 ? "layer" : "layers"}
            </>
          )}
          {inlay.thickness.is_under_a_layer && <Warning>thinner than a layer</Warning>}
          {inlay.thickness.layers !== null && inlay.thickness.off_grid_mm > 0.005 && (
            <Warning>{fixed(inlay.thickness.off_grid_mm, 2)} mm off the layers</Warning>
          )}
          {inlay.is_under_a_line && (
            <Warning>
              {fixed(inlay.narrowest_mm, 2)} mm at its narrowest, a line is {fixed(line, 2)} mm
            </Warning>
          )}
        </>
      )}
      {tried.alike > 0 && (
        <>
          <br />
          {tried.alike === 1 ? "One other part has" : `${tried.alike} other parts have`} this shape.
        </>
      )}
    </>
  );
}

const Warning = ({ children }: { children: ReactNode }) => <span className="font-medium text-amber"> · {children}</span>;

function how(tool: PartTool, s: Settings, name: ReactNode, points: number): ReactNode {
  switch (tool) {
    case "to-part":
      return <>Click a part: what it shows of {name} becomes a part of its own.</>;
    case "cut":
      if (s.cutBy === "height") return <>Click a part to cut it at {fixed(s.cutMm, 2)} mm.</>;
      if (s.cutBy === "face") return <>Click a face: its part is cut in the plane of it.</>;
      return <>Click {points === 0 ? "three points" : points === 1 ? "two more points" : "one more point"} on the part to cut.</>;
    case "inlay":
      return <>Click the floor of an engraving to fill it with {name}, level with the face around it.</>;
    case "sink":
      return <>Click the face of a raised part that should stay in sight; it sinks into what is below.</>;
    case "split":
      return <>Click a part to make each of its separate shells a part.</>;
  }
}
