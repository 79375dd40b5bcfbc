import { Fragment, type ReactNode } from "react";
import type { CutDepth } from "../../api/generated/CutDepth";
import type { Edit } from "../../api/generated/Edit";
import type { JobView } from "../../api/generated/JobView";
import type { TriedWay } from "../../api/generated/TriedWay";
import type { WayGroup } from "../../api/generated/WayGroup";
import { api } from "../../api/client";
import { usePlanning, useWays } from "../../api/planning";
import { useChanges } from "../../api/queries";
import { usePlanPanes } from "../../state/planPanes";
import { Button } from "../../ui/Button";
import { fixed, grams } from "../../ui/format";
import { Bar } from "../../ui/states";
import { useOf } from "../../state/useOf";

const groups: Record<WayGroup, string> = {
  now: "",
  order: "Order",
  purge: "Where purge goes",
  depth: "",
  side: "Which side is up",
  pieces: "Pieces together",
  machine: "Your machines",
  "one-colour": "For comparison",
};

type Figures = NonNullable<TriedWay["figures"]>;

interface Column {
  key: string;
  name: string;
  /** For one piece. */
  read: (f: Figures) => number;
  text: (n: number, f: Figures) => string;
  /** Whether less is neither better nor worse. */
  isPlain?: boolean;
}

const each = (of: (f: Figures) => number) => (f: Figures) => of(f) / f.pieces;
const columns: Column[] = [
  { key: "swaps", name: "Swaps", read: each((f) => f.swaps), text: (n, f) => fixed(n, f.pieces > 1 ? 1 : 0) },
  { key: "waste", name: "Wasted", read: each((f) => f.waste_g), text: grams },
  { key: "time", name: "Time", read: each((f) => f.time_s), text: clock },
  { key: "cost", name: "Cost", read: each((f) => f.cost), text: (n) => fixed(n, 2) },
  { key: "hand", name: "By hand", read: each((f) => f.hand_s), text: (n) => (n > 0 ? clock(n) : "–"), isPlain: true },
];
const purge: Column = { key: "purge", name: "Purge", read: each((f) => f.purge_g), text: grams };
/** What painting, parts and bands are compared by, beside how deep they go. */
const depthColumns = [...columns.filter((c) => c.key === "swaps"), purge, ...columns.filter((c) => c.key === "time")];

/** Ways to run this job, each planned in full. Figures are for one piece; choosing a row makes it so. */
export function WaysTable({ job }: { job: JobView }) {
  const found = useWays(job.id, job.revision);
  const { again } = usePlanning(job.id);
  const { edit, isBusy } = useChanges(job.id);
  const { waysBy, setWaysBy } = useOf(usePlanPanes, "waysBy", "setWaysBy");
  const view = found.data;
  if (!view || view.state === "waiting")
    return (
      <p className="text-soft" role="status">
        The plan comes first.
      </p>
    );
  const by = columns.find((c) => c.key === waysBy)?.read;
  const depths = view.ways.filter((w) => w.way.depth !== null);
  const rows = view.ways.filter((w) => w.way.group !== "depth");
  if (by) rows.sort((a, b) => (a.figures ? by(a.figures) : Infinity) - (b.figures ? by(b.figures) : Infinity));
  const shown = columns.filter((c) => c.key !== "hand" || view.ways.some((w) => (w.figures?.hand_s ?? 0) > 0));
  const now = view.ways.find((w) => w.way.group === "now")?.figures ?? null;
  const isOld = view.revision < job.revision;
  const choosing = {
    isWorking: view.state === "working",
    onChoose: (chosen: Edit) => {
      if (!isBusy && !isOld) edit(chosen);
    },
  };
  return (
    <section aria-label="Ways to run this job">
      {view.state !== "ready" && (
        <p className="flex items-center gap-2 pb-1.5 text-soft" role="status">
          {view.state === "working" ? (
            <>
              Trying them out <Bar done={view.done} />{" "}
              <Button kind="link" onClick={() => void api.stopTrials(job.id)}>
                Stop
              </Button>
            </>
          ) : (
            <>
              Stopped.{" "}
              <Button kind="link" onClick={() => void again("ways")}>
                Go on
              </Button>
            </>
          )}
        </p>
      )}
      {depths.length > 1 && (
        <table
          className={`mb-4 w-full text-[12.5px] ${isOld ? "opacity-60" : ""}`}
          aria-label="Painted, in parts or in bands"
          aria-busy={isOld}
        >
          <thead>
            <tr className="border-b border-line text-soft [&>th]:pb-1 [&>th]:font-semibold">
              <th className="text-left text-ink">Painted, in parts or in bands</th>
              <th className="pl-2 text-right" title="How deep colours are seen to go where the print is cut">
                In the cut
              </th>
              {depthColumns.map((c) => (
                <th key={c.key} className="pl-2 text-right">
                  {c.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {depths.map((row) => (
              <WayRow key={row.way.key} row={row} columns={depthColumns} now={now} {...choosing}>
                <td className="figure whitespace-nowrap pl-2 text-right text-soft">{row.way.depth && deepText(row.way.depth)}</td>
              </WayRow>
            ))}
          </tbody>
        </table>
      )}
      <table className={`w-full text-[12.5px] ${isOld ? "opacity-60" : ""}`} aria-label="All ways" aria-busy={isOld}>
        <thead>
          <tr className="border-b border-line text-soft [&>th]:pb-1 [&>th]:font-semibold">
            <th className="text-left">
              <button
                type="button"
                aria-pressed={waysBy === ""}
                className={waysBy === "" ? "text-ink" : "hover:text-ink"}
                onClick={() => setWaysBy("")}
              >
                Way
              </button>
            </th>
            {shown.map(({ key, name }) => (
              <th key={key} className="pl-2 text-right" aria-sort={waysBy === key ? "ascending" : "none"}>
                <button
                  type="button"
                  className={waysBy === key ? "text-ink underline decoration-plum decoration-2 underline-offset-4" : "hover:text-ink"}
                  title={`Least ${name.toLowerCase()} first`}
                  onClick={() => setWaysBy(key)}
                >
                  {name}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => {
            const group = groups[row.way.group];
            const starts = !by && rows[i - 1]?.way.group !== row.way.group && group;
            return (
              <Fragment key={row.way.key}>
                {starts && (
                  <tr>
                    <td colSpan={6} className="pt-2.5 pb-0.5 text-[11px] font-semibold text-faint">
                      {starts}
                    </td>
                  </tr>
                )}
                <WayRow row={row} columns={shown} now={now} under={by && group} {...choosing} />
              </Fragment>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

/** One way with its figures; a click makes it so. */
function WayRow({
  row: { way, figures: f },
  columns,
  now,
  under,
  isWorking,
  onChoose,
  children,
}: {
  row: TriedWay;
  columns: Column[];
  now: Figures | null;
  /** The group it is of, where rows stand by a figure. */
  under?: string | undefined;
  isWorking: boolean;
  onChoose: (edit: Edit) => void;
  /** Cells between its name and its figures. */
  children?: ReactNode;
}) {
  const isNow = way.group === "now";
  const chosen = f ? way.edit : null;
  const choose = () => chosen && onChoose(chosen);
  return (
    <tr
      tabIndex={chosen ? 0 : undefined}
      aria-current={isNow ? "true" : undefined}
      aria-label={way.name}
      title={chosen ? "Make it so" : undefined}
      className={`border-b border-line align-baseline outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-plum)] ${isNow ? "bg-plum-tint font-semibold" : chosen ? "cursor-pointer hover:bg-sheet" : ""}`}
      onClick={choose}
      onKeyDown={(e) => e.key === "Enter" && choose()}
    >
      <td className="py-1 leading-tight">
        {under && <span className="text-[11px] text-faint">{under}: </span>}
        {way.name}
        {f?.is_wrong && (
          <span className="text-wrong" title="Something would not print as planned">
            {" "}
            !
          </span>
        )}
        {f && f.pieces > 1 && <span className="text-soft"> · each of {f.pieces}</span>}
        {!way.keeps_look && <span className="block text-[11px] text-faint">changes the look</span>}
      </td>
      {children}
      {f ? (
        columns.map((c) => (
          <Cell key={c.key} text={c.text(c.read(f), f)} better={isNow || !now || c.isPlain ? 0 : Math.sign(c.read(f) - c.read(now))} />
        ))
      ) : (
        <td colSpan={5} className="pl-2 text-right text-[12px] leading-tight text-soft">
          {way.cannot ?? (isWorking ? "being tried" : "not tried")}
        </td>
      )}
    </tr>
  );
}

/** How deep colours go, short. */
function deepText({ least_mm, most_mm }: CutDepth) {
  const mm = (n: number) => fixed(n, 1);
  if (least_mm === null) return "all of it";
  if (most_mm === null) return `${mm(least_mm)} mm to all`;
  return least_mm === most_mm ? `${mm(least_mm)} mm` : `${mm(least_mm)}–${mm(most_mm)} mm`;
}

/** Hours and minutes, short. */
function clock(s: number) {
  const minutes = Math.round(s / 60);
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, "0")}`;
}

function Cell({ text, better }: { text: string; better: number }) {
  return <td className={`figure whitespace-nowrap pl-2 text-right ${better < 0 ? "text-fine" : better > 0 ? "text-soft" : ""}`}>{text}</td>;
}
