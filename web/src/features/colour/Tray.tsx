import { Eraser } from "lucide-react";
import type { JobView } from "../../api/generated/JobView";
import { useBench } from "../../state/bench";
import { TrayButton } from "../../ui/TrayButton";
import { PartToolOptions } from "../parts/PartToolOptions";
import { hands, partToolList } from "../parts/partTools";
import { ToolOptions } from "./ToolOptions";
import { toolList } from "./toolList";
import { useOf } from "../../state/useOf";

const icon = {
  width: 20,
  height: 20,
  viewBox: "0 0 20 20",
  fill: "none",
  stroke: "currentColor",
  strokeWidth: 1.5,
  strokeLinejoin: "round",
  "aria-hidden": true,
} as const;

/** The tools in two hands, those that give surface to a region and those that work on parts, with their options. */
export function Tray({
  job,
  patchCount,
  onBands,
  onAll,
}: {
  job: JobView;
  patchCount: number | undefined;
  onBands: () => void;
  /** The part tool on every part at once. */
  onAll: () => void;
}) {
  const { hand, setHand, tool, setTool, partTool, setPartTool, isErasing, setErasing } = useOf(
    useBench,
    "hand",
    "setHand",
    "tool",
    "setTool",
    "partTool",
    "setPartTool",
    "isErasing",
    "setErasing",
  );
  const size = "h-[58px] w-[40px] leading-[1.1]";
  return (
    <div
      className="absolute bottom-3 left-1/2 flex -translate-x-1/2 rounded-[5px] border border-line bg-sheet shadow-[0_2px_10px_rgb(0_0_0/0.12)]"
      role="toolbar"
      aria-label="Tools"
    >
      <div className="flex flex-col border-r border-line text-[11px]" role="radiogroup" aria-label="What the tools work on">
        {hands.map(([value, name, why]) => (
          <button
            key={value}
            type="button"
            role="radio"
            aria-checked={hand === value}
            title={`${why} (X)`}
            onClick={() => setHand(value)}
            className={`flex-1 px-1.5 font-semibold first:rounded-tl-[4px] last:rounded-bl-[4px] ${hand === value ? "bg-plum-tint text-plum" : "text-soft hover:text-ink"}`}
          >
            {name}
          </button>
        ))}
      </div>
      <div className={`flex items-center p-1.5 ${hand === "surface" ? "" : "gap-0.5"}`}>
        {hand === "surface"
          ? toolList.map((t) => (
              <TrayButton
                key={t.tool}
                name={t.name}
                title={`${t.name} (${t.key})`}
                isPressed={tool === t.tool}
                onPress={() => setTool(t.tool)}
                className={size}
              >
                <svg {...icon}>{t.icon}</svg>
              </TrayButton>
            ))
          : partToolList.map((t) => (
              <TrayButton
                key={t.tool}
                name={t.name}
                title={`${t.name} (${t.key})`}
                isPressed={partTool === t.tool}
                onPress={() => setPartTool(t.tool)}
                className={`${size} w-[62px]!`}
              >
                <svg {...icon}>{t.icon}</svg>
              </TrayButton>
            ))}
      </div>
      <div className="flex w-[206px] flex-col justify-center gap-[3px] border-l border-line px-2 py-1 text-[12px]">
        {hand === "surface" ? (
          <ToolOptions job={job} patchCount={patchCount} onBands={onBands} />
        ) : (
          <PartToolOptions job={job} onAll={onAll} />
        )}
      </div>
      {hand === "surface" && (
        <div className="flex p-1.5 pl-0">
          <TrayButton
            name="Erase"
            title="Take surface back to each part's own region (E)"
            isPressed={isErasing}
            onPress={() => setErasing(!isErasing)}
            className="h-[58px] w-[46px] border-l border-line"
          >
            <Eraser size={19} strokeWidth={1.5} aria-hidden />
          </TrayButton>
        </div>
      )}
    </div>
  );
}
