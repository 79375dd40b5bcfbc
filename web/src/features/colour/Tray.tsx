import { Eraser } from "lucide-react";
import type { JobView } from "../../api/generated/JobView";
import { useBench } from "../../state/bench";
import { TrayButton } from "../../ui/TrayButton";
import { ToolOptions } from "./ToolOptions";
import { toolList } from "./toolList";

/** The tools that give surface to a region, and their options. */
export function Tray({ job, patchCount, onBands }: { job: JobView; patchCount: number | undefined; onBands: () => void }) {
  const { tool, setTool, isErasing, setErasing } = useBench();
  return (
    <div className="absolute bottom-3 left-1/2 flex -translate-x-1/2 rounded-[5px] border border-line bg-sheet shadow-[0_2px_10px_rgb(0_0_0/0.12)]" role="toolbar" aria-label="Tools">
      <div className="flex gap-0.5 p-1.5">
        {toolList.map((t) => (
          <TrayButton key={t.tool} name={t.name} title={`${t.name} (${t.key})`} isPressed={tool === t.tool} onPress={() => setTool(t.tool)} className="h-[58px] w-[49px] leading-[1.1]">
            <svg width="20" height="20" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="1.5" strokeLinejoin="round" aria-hidden>{t.icon}</svg>
          </TrayButton>
        ))}
      </div>
      <div className="flex w-[222px] flex-col justify-center gap-[3px] border-l border-line px-3 text-[12px]">
        <ToolOptions job={job} patchCount={patchCount} onBands={onBands} />
      </div>
      <div className="flex p-1.5 pl-0">
        <TrayButton name="Erase" title="Take surface back to each part's own region (E)" isPressed={isErasing} onPress={() => setErasing(!isErasing)} className="h-[58px] w-[49px] border-l border-line">
          <Eraser size={19} strokeWidth={1.5} aria-hidden />
        </TrayButton>
      </div>
    </div>
  );
}
