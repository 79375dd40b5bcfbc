import { ChevronDown, ChevronRight } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { NameField } from "../../ui/NameField";
import { useRowDrag } from "../../ui/useRowDrag";
import { PartRow } from "./PartRow";
import { partRows, type Listed } from "./partTree";
import { useOf } from "../../state/useOf";

/** The parts in the order that says who owns shared space, in groups. */
export function PartList({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
  const { chosen, setChosen } = useOf(useBench, "chosen", "setChosen");
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const list = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => partRows(job, closed), [job, closed]);
  const shown = rows.flatMap((r) => (r.kind === "part" ? [r.listed] : []));
  const put = (one: Listed, beside: Listed, above: boolean) => edit({ edit: "part", do: "order", at: one.at, beside: beside.at, above });
  const drag = useRowDrag(list, (key, to) => {
    const [one, beside] = [key, to.key].map((k) => shown.find((s) => s.part.key === k));
    if (one && beside) put(one, beside, to.above);
  });
  const move = (one: Listed, by: -1 | 1) => {
    const i = shown.findIndex((s) => s.part.key === one.part.key);
    const beside = shown[i + by];
    if (beside) put(one, beside, by < 0);
  };
  const step = (one: Listed, by: -1 | 1) => {
    const i = shown.findIndex((s) => s.part.key === one.part.key);
    const to = shown[i + by];
    if (!to) return;
    setChosen([to.part.key]);
    list.current?.querySelector<HTMLElement>(`[data-row="${to.part.key}"]`)?.focus();
  };
  const choose = (one: Listed, how: "one" | "more" | "span") => {
    const key = one.part.key;
    if (how === "one") return setChosen(chosen.length === 1 && chosen[0] === key ? [] : [key]);
    if (how === "more") return setChosen(chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key]);
    const [a, b] = [shown.findIndex((s) => s.part.key === chosen.at(-1)), shown.findIndex((s) => s.part.key === key)];
    setChosen(shown.slice(Math.max(0, Math.min(a, b)), Math.max(a, b) + 1).map((s) => s.part.key));
  };
  return (
    <section aria-label="Parts" className="border-t border-line">
      <div className="flex items-baseline justify-between px-3.5 pb-1 pt-3">
        <h2 className="heading" title="Where two parts overlap, the one higher up owns the space">
          Parts
        </h2>
        <span className="figure heading">{job.part_order.length}</span>
      </div>
      <div className="pb-3" ref={list} role="grid" aria-label="Parts, the higher owns shared space" aria-multiselectable>
        {rows.map((row) =>
          row.kind === "group" ? (
            <div
              key={`g ${row.group.key}`}
              role="row"
              className="flex items-center gap-1 py-1 pr-3.5 hover:bg-sheet"
              style={{ paddingLeft: 10 + 14 * row.depth }}
            >
              <span role="gridcell" className="contents">
                <button
                  type="button"
                  aria-label={`${closed.has(row.group.key) ? "Open" : "Close"} ${row.group.name}`}
                  className="text-soft hover:text-ink"
                  onClick={() =>
                    setClosed(
                      new Set(closed.has(row.group.key) ? [...closed].filter((k) => k !== row.group.key) : [...closed, row.group.key]),
                    )
                  }
                >
                  {closed.has(row.group.key) ? <ChevronRight size={13} aria-hidden /> : <ChevronDown size={13} aria-hidden />}
                </button>
                <NameField
                  label={`Name of group ${row.group.name}`}
                  value={row.group.name}
                  className="font-medium"
                  onCommit={(name) => edit({ edit: "part", do: "rename-group", group: row.group.key, name })}
                />
                <button
                  type="button"
                  className="text-[12px] text-soft hover:text-ink"
                  title="Choose all parts of the group"
                  onClick={() => setChosen(row.parts.map((p) => p.part.key))}
                >
                  <span className="figure">{row.parts.length}</span>
                </button>
                <button
                  type="button"
                  className="text-[12px] font-semibold text-plum hover:underline"
                  aria-label={`Ungroup ${row.group.name}`}
                  onClick={() => edit({ edit: "part", do: "ungroup", group: row.group.key })}
                >
                  Ungroup
                </button>
              </span>
            </div>
          ) : (
            <PartRow
              key={row.listed.part.key}
              job={job}
              listed={row.listed}
              depth={row.depth}
              onChoose={(how) => choose(row.listed, how)}
              onMove={(by) => move(row.listed, by)}
              onStep={(by) => step(row.listed, by)}
              onGrab={(e) => drag.start(e, row.listed.part.key)}
              gap={drag.gap?.key === row.listed.part.key ? (drag.gap.above ? "above" : "below") : null}
            />
          ),
        )}
      </div>
    </section>
  );
}
