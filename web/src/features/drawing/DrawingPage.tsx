import { useRack } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { LengthField } from "../../ui/LengthField";
import { Waiting } from "../../ui/states";
import type { DrawingRoute } from "../../state/route";
import { Brand } from "../shell/Brand";
import { Around } from "./Around";
import { Inks } from "./Inks";
import { Outcome } from "./Outcome";
import { ReadStrip } from "./ReadStrip";
import { Sheet } from "./Sheet";
import { firstStack, StackForm } from "./StackForm";
import { StackOutcome } from "./StackOutcome";
import { StackSheet } from "./StackSheet";
import { useDrawing, type OnTable } from "./useDrawing";

/** Between a drawing and its bodies: what becomes of each colour, what lies around and below, and which side shows. */
export function DrawingPage({ route }: { route: DrawingRoute }) {
  const table = useDrawing(route);
  const { view, work, problem, stacking } = table;
  if (problem) {
    return (
      <div className="flex h-full flex-col items-center justify-center gap-3" role="alert">
        <p className="max-w-[52ch] text-center">{problem.message}. Drop the drawing once more.</p>
        <Button onClick={table.leave}>Back</Button>
      </div>
    );
  }
  if (!view || !work || work.inks.length !== view.inks.length) return <Waiting what="Laying it flat" />;
  const [width, height] = view.size_mm;
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 shrink-0 items-center justify-between gap-4 border-b border-line px-3.5">
        <div className="flex min-w-0 items-center gap-3">
          <Brand />
          <span className="h-5 w-px shrink-0 bg-line" />
          <span className="truncate text-soft">{view.file}</span>
        </div>
        <div className="flex gap-2">
          <Button disabled={table.isFirst} onClick={() => table.step(-1)} title="Ctrl Z">
            Undo
          </Button>
          <Button disabled={table.isLast} onClick={() => table.step(1)} title="Ctrl Shift Z">
            Redo
          </Button>
        </div>
      </header>
      <main className="grid min-h-0 flex-1 grid-cols-[400px_minmax(0,1fr)_286px]">
        <aside className="min-h-0 overflow-y-auto border-r border-line px-5 pb-5 pt-3.5" aria-label="What becomes of it">
          <h1 className="text-[15px] font-semibold">{view.is_picture ? "From a picture" : "From a drawing"}</h1>
          <div className="mt-1.5 flex items-center gap-2">
            <LengthField label="Width of the drawing" value={width} onCommit={(mm) => table.readAnew({ width_mm: mm })} width={92} />
            <span className="figure text-[15px] font-semibold" aria-label="Height of the drawing">
              × {height.toFixed(1)} mm
            </span>
          </div>
          {view.notes.map((n) => (
            <p key={n.message} className="mt-2 text-soft" title={n.mend}>
              <span className="text-look" aria-hidden>
                !{" "}
              </span>
              {n.message}. {n.mend}
            </p>
          ))}
          {view.is_picture && <Ways table={table} />}
          {stacking ? (
            <StackForm table={table} stacking={stacking} />
          ) : (
            <>
              <Inks view={view} work={work} say={table.say} />
              <Around view={view} work={work} say={table.say} />
            </>
          )}
        </aside>
        <div className="relative min-h-0 min-w-0 bg-bench">
          {!stacking ? (
            <Sheet view={view} work={work} bodies={table.bodies} say={table.say} />
          ) : table.stacked ? (
            <StackSheet stacked={table.stacked} isBusy={table.isStacking} />
          ) : (
            !table.refused && <Waiting what="Looking for the best stack" />
          )}
          <ReadStrip table={table} view={view} />
        </div>
        {stacking ? <StackOutcome table={table} stacking={stacking} /> : <Outcome table={table} />}
      </main>
    </div>
  );
}

/** Bodies of colour side by side, or shades of thin layers over one another. */
function Ways({ table }: { table: OnTable }) {
  const rack = useRack();
  return (
    <div className="mt-3">
      <Choice
        label="What it becomes"
        value={table.stacking ? "stacked" : "beside"}
        options={[
          ["beside", "Bodies side by side"],
          ["stacked", "Shades, stacked"],
        ]}
        onChange={(to) => table.stack(to === "stacked" ? firstStack(rack.data?.spools ?? []) : null)}
      />
    </div>
  );
}
