import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import type { PairView } from "../../api/generated/PairView";
import { useChanges, useMeetings } from "../../api/queries";
import { useBench } from "../../state/bench";
import { Button } from "../../ui/Button";
import { fixed, percent } from "../../ui/format";
import { partsByKey } from "./partTree";
import { TouchingPair } from "./TouchingPair";
import { useOf } from "../../state/useOf";

/** Pairs that touch and are listed. */
const mostTouching = 40;

/** The parts that share volume, lie within one another, or touch. */
export function OverlapList({ job }: { job: JobView }) {
  const found = useMeetings(job.id, job.revision);
  const queries = useQueryClient();
  const { pair: chosen, setPair } = useOf(useBench, "pair", "setPair");
  const { edit, isBusy } = useChanges(job.id);
  useEffect(() => () => useBench.getState().setPair(null), []);
  const view = found.data;
  if (!view || view.state === "working") {
    return (
      <div className="flex items-center justify-between px-3.5 py-2 text-soft" role="status">
        Comparing parts {view ? <span className="figure">{percent(view.done, 0)}</span> : ""}
        <Button kind="link" onClick={() => void api.stopMeetings(job.id)}>
          Stop
        </Button>
      </div>
    );
  }
  if (view.state === "stopped") {
    return (
      <div className="flex items-center justify-between px-3.5 py-2 text-soft">
        Stopped.
        <Button
          kind="link"
          onClick={() => void api.meetings(job.id, true).then(() => queries.invalidateQueries({ queryKey: ["meetings", job.id] }))}
        >
          Go on
        </Button>
      </div>
    );
  }
  const parts = partsByKey(job);
  const name = (key: number) => parts.get(key)?.part.name ?? "a part";
  const shown = view.pairs.filter((p) => p.meeting.is !== "touch");
  const area = (p: PairView) => (p.meeting.is === "touch" ? p.meeting.area_mm2 : 0);
  const touching = view.pairs.filter((p) => p.meeting.is === "touch").sort((a, b) => area(b) - area(a));
  const switchOwner = ({ parts: [over, under] }: PairView) => {
    const [a, b] = [parts.get(over), parts.get(under)];
    if (a && b) edit({ edit: "part", do: "order", at: b.at, beside: a.at, above: true });
  };
  const cut = ({ parts: [over, under] }: PairView) => {
    const [a, b] = [parts.get(over), parts.get(under)];
    if (a && b) edit({ edit: "part", do: "cut-overlap", keep: a.at, from: b.at });
  };
  return (
    <div aria-label="Overlaps">
      {view.unknown.map((u) => (
        <p key={u.part} className="border-b border-line px-3.5 py-1.5 text-[12.5px] text-amber" role="status">
          Cannot tell what {name(u.part)} meets: its surface is open{u.at ? ` at ${u.at.map((c) => fixed(c, 1)).join(", ")} mm` : ""}. Mend
          it in Intake.
        </p>
      ))}
      {shown.length === 0 && view.unknown.length === 0 && (
        <p className="px-3.5 py-2 text-soft" role="status">
          No two parts share space.
        </p>
      )}
      <ul>
        {shown.map((p) => {
          const key = p.parts.join();
          const isChosen = chosen?.join() === key;
          return (
            <li key={key} className={`border-b border-line px-3.5 py-1.5 ${isChosen ? "bg-plum-tint" : "hover:bg-sheet"}`}>
              <button
                type="button"
                className="flex w-full items-baseline gap-2 text-left"
                title="Show it on the bench"
                aria-pressed={isChosen}
                onClick={() => setPair(isChosen ? null : p.parts)}
              >
                <span className="min-w-0 flex-1">
                  <span className="font-semibold">{name(p.parts[0])}</span> {p.meeting.is === "enclosed" ? "within" : "over"}{" "}
                  {name(p.parts[1])}
                </span>
                <span className="figure shrink-0 text-[12px] text-soft">
                  {p.meeting.is === "overlap" && `${fixed(p.meeting.volume_mm3, 1)} mm³`}
                  {p.meeting.is === "enclosed" && `wall ${fixed(p.meeting.wall_mm, 2)} mm`}
                </span>
              </button>
              {p.meeting.is === "overlap" && (
                <span className="flex gap-3 text-[12px]">
                  <Button
                    kind="link"
                    className="text-[12px]"
                    disabled={isBusy}
                    title={`${name(p.parts[1])} owns the shared space from now on`}
                    onClick={() => switchOwner(p)}
                  >
                    Switch owner
                  </Button>
                  <Button
                    kind="link"
                    className="text-[12px]"
                    disabled={isBusy}
                    title={`Takes the shared space off ${name(p.parts[1])} for good`}
                    onClick={() => cut(p)}
                  >
                    Cut it away
                  </Button>
                </span>
              )}
              {p.meeting.is === "unclear" && (
                <span className="text-[12px] text-amber">They cross, but not cleanly: mend the models in Intake.</span>
              )}
            </li>
          );
        })}
      </ul>
      {touching.length > 0 && (
        <>
          <h3 className="heading px-3.5 pt-2.5 pb-1">Face to face, sharing no space</h3>
          <ul className="border-t border-line">
            {touching.slice(0, mostTouching).map((p) => {
              const [one, other] = p.parts.map((key) => parts.get(key));
              const key = p.parts.join();
              const isChosen = chosen?.join() === key;
              return (
                one &&
                other && (
                  <TouchingPair
                    key={key}
                    job={job.id}
                    pair={p}
                    sides={[one, other]}
                    isChosen={isChosen}
                    onShow={() => setPair(isChosen ? null : p.parts)}
                  />
                )
              );
            })}
          </ul>
          {touching.length > mostTouching && (
            <p className="px-3.5 py-1.5 text-[12px] text-soft">And {touching.length - mostTouching} more, over less.</p>
          )}
        </>
      )}
    </div>
  );
}
