import { ArrowDownToLine, ArrowUpToLine, FlipHorizontal2, Grid2x2, Move, RotateCw, Ruler, type LucideIcon } from "lucide-react";
import type { JobView } from "../../api/generated/JobView";
import type { Placing } from "../../api/generated/Placing";
import { useChanges } from "../../api/queries";
import { nameOf, targetOf, useIntake, type PlacingTool, type Selection } from "../../state/intake";
import { TrayButton } from "../../ui/TrayButton";
import { CopiesPane } from "./placing/CopiesPane";
import { MirrorPane } from "./placing/MirrorPane";
import { MovePane } from "./placing/MovePane";
import { SizePane } from "./placing/SizePane";
import { TurnPane } from "./placing/TurnPane";
import { useOf } from "../../state/useOf";

const tools: { tool: PlacingTool; name: string; icon: LucideIcon }[] = [
  { tool: "down", name: "Face down", icon: ArrowDownToLine },
  { tool: "up", name: "Face up", icon: ArrowUpToLine },
  { tool: "turn", name: "Turn", icon: RotateCw },
  { tool: "size", name: "Size", icon: Ruler },
  { tool: "move", name: "Move", icon: Move },
  { tool: "mirror", name: "Mirror", icon: FlipHorizontal2 },
  { tool: "copies", name: "Pieces", icon: Grid2x2 },
];

/** What every pane of the tray works with. */
export interface PaneProps {
  job: JobView;
  selection: Selection;
  place: (placing: Placing) => void;
}

/** The tools that place what is chosen, and the figures of the one in hand. No key ever moves a model. */
export function PlacingTray({ job, selection }: { job: JobView; selection: Selection }) {
  const { tool, setTool } = useOf(useIntake, "tool", "setTool");
  const { edit } = useChanges(job.id);
  const pane = { job, selection, place: (placing: Placing) => edit({ edit: "place", target: targetOf(selection, job), placing }) };
  return (
    <div
      className="absolute bottom-3.5 left-1/2 -translate-x-1/2 rounded-[5px] border border-line bg-sheet shadow-[0_2px_10px_rgb(0_0_0/0.12)]"
      role="toolbar"
      aria-label="Placing"
    >
      {tool !== "choose" && tool !== "down" && tool !== "up" && (
        <div className="border-b border-line px-4 py-2.5">
          <p className="mb-1.5 max-w-[540px] truncate text-[12px] text-soft">
            {tool === "copies" ? (
              "Pieces of everything on the bed"
            ) : (
              <>
                Placing <b className="text-ink">{nameOf(selection, job)}</b>
              </>
            )}
          </p>
          {tool === "turn" && <TurnPane {...pane} />}
          {tool === "size" && <SizePane {...pane} />}
          {tool === "move" && <MovePane {...pane} />}
          {tool === "mirror" && <MirrorPane {...pane} />}
          {tool === "copies" && <CopiesPane job={job} selection={selection} />}
        </div>
      )}
      <div className="flex gap-1 p-1.5">
        {tools.map((t) => (
          <TrayButton key={t.tool} name={t.name} isPressed={tool === t.tool} onPress={() => setTool(t.tool)} className="h-[52px] w-[76px]">
            <t.icon size={18} strokeWidth={1.6} aria-hidden />
          </TrayButton>
        ))}
      </div>
    </div>
  );
}
