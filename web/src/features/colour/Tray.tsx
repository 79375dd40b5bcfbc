import { Slider } from "radix-ui";
import { useState } from "react";
import { useBench, type Tool } from "../../state/bench";
import { TrayButton } from "../../ui/TrayButton";

const tools: { tool: Tool; name: string; key: string; icon: React.ReactNode }[] = [
  { tool: "patch", name: "Patch", key: "P", icon: <path d="M4 14 7 3l9 3 1 7-7 4z" /> },
  { tool: "part", name: "Whole part", key: "W", icon: <path d="m10 2 7 4v8l-7 4-7-4V6z M3 6l7 4 7-4 M10 10v8" /> },
];

/** The tools that give surface to a region, and their options. */
export function Tray({ patchCount, partCount }: { patchCount: number | undefined; partCount: number }) {
  const { tool, setTool, creaseDeg, setCrease } = useBench();
  const [angle, setAngle] = useState<number | null>(null);
  return (
    <div className="absolute bottom-3.5 left-1/2 flex -translate-x-1/2 rounded-[5px] border border-line bg-sheet shadow-[0_2px_10px_rgb(0_0_0/0.12)]" role="toolbar" aria-label="Tools">
      <div className="flex gap-1 p-1.5">
        {tools.map((t) => (
          <TrayButton key={t.tool} name={t.name} title={`${t.name} (${t.key})`} isPressed={tool === t.tool} onPress={() => setTool(t.tool)} className="h-14 w-[78px]">
            <svg width="20" height="20" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="1.5" strokeLinejoin="round" aria-hidden>{t.icon}</svg>
          </TrayButton>
        ))}
      </div>
      <div className="flex w-60 flex-col justify-center gap-1.5 border-l border-line px-4">
        {tool === "patch" ? (
          <>
            <div className="flex justify-between">
              <span id="crease-label">Crease angle</span>
              <span className="figure text-soft">{angle ?? creaseDeg}°</span>
            </div>
            <Slider.Root
              min={1}
              max={90}
              value={[angle ?? creaseDeg]}
              onValueChange={([v]) => setAngle(v ?? null)}
              onValueCommit={([v]) => {
                setAngle(null);
                if (v !== undefined) setCrease(v);
              }}
              className="relative flex h-4 items-center"
            >
              <Slider.Track className="relative h-[3px] w-full bg-line"><Slider.Range className="absolute h-full bg-plum" /></Slider.Track>
              <Slider.Thumb aria-labelledby="crease-label" className="block size-3.5 rounded-full border-2 border-plum bg-sheet" />
            </Slider.Root>
            <span className="text-[12px] text-soft">
              {patchCount === undefined ? "Finding patches" : patchCount === 1 ? "One patch: nothing turns that sharply" : `${patchCount} patches in the model`}
            </span>
          </>
        ) : (
          <span className="text-soft">
            {partCount === 1 ? "One fused body: a click takes all of it." : `${partCount} parts: a click takes one whole, and drops its patches.`}
          </span>
        )}
      </div>
    </div>
  );
}
