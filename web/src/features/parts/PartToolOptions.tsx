import { limits } from "../../api/generated/limits";
import type { JobView } from "../../api/generated/JobView";
import { useBench, type Settings } from "../../state/bench";
import { LengthField } from "../../ui/LengthField";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { CreaseRow } from "../colour/tools/CreaseRow";
import { Tick } from "../../ui/Tick";
import { useOf } from "../../state/useOf";

const low = "flex items-center justify-between gap-2";

/** The options of the tool that works on parts. */
export function PartToolOptions({ job, onAll }: { job: JobView; onAll: () => void }) {
  const { partTool: tool, settings: s, set } = useOf(useBench, "partTool", "settings", "set");
  const alike = (
    <Tick isOn={s.onAlike} title="The same on every part of the same shape" onChange={(onAlike) => set({ onAlike })}>
      On all alike
    </Tick>
  );
  const gap = (around: string) => (
    <span className="flex items-center gap-1" title={`Left free around ${around} in its pocket`}>
      gap{" "}
      <LengthField
        label={`Gap around ${around}`}
        value={s.gapMm}
        digits={2}
        width={68}
        isLow
        range={limits.clearance}
        onCommit={(gapMm) => set({ gapMm })}
      />
    </span>
  );
  const layer = job.printer.layer_mm;
  switch (tool) {
    case "to-part":
      return (
        <>
          <Select
            label="How deep"
            value={s.depthKind}
            className="h-6 py-0!"
            options={[
              { value: "soak", label: "To its soak depth" },
              { value: "mm", label: "To a typed depth" },
              { value: "up-to", label: "As deep as it goes, up to" },
              { value: "through", label: "Straight through" },
            ]}
            onChange={(kind) => set({ depthKind: kind as Settings["depthKind"] })}
          />
          <div className={low}>
            {s.depthKind === "mm" || s.depthKind === "up-to" ? (
              <LengthField
                label="Depth of the part"
                value={s.depthMm}
                digits={2}
                width={82}
                isLow
                range={limits.bodyDepth}
                onCommit={(depthMm) => set({ depthMm })}
              />
            ) : (
              alike
            )}
            <button
              type="button"
              className="font-semibold text-plum hover:underline"
              title="Every part that shows the region gives one"
              onClick={onAll}
            >
              On every part
            </button>
          </div>
          {(s.depthKind === "mm" || s.depthKind === "up-to") && alike}
        </>
      );
    case "cut":
      return (
        <>
          <Select
            label="Where it is cut"
            value={s.cutBy}
            className="h-6 py-0!"
            options={[
              { value: "height", label: "Level, at a height" },
              { value: "face", label: "In the plane of a face" },
              { value: "points", label: "Through three points" },
            ]}
            onChange={(by) => {
              useBench.getState().setPoints([]);
              set({ cutBy: by as Settings["cutBy"] });
            }}
          />
          <div className={low}>
            {s.cutBy === "height" ? (
              <LengthField label="Height of the cut" value={s.cutMm} digits={2} width={86} isLow onCommit={(cutMm) => set({ cutMm })} />
            ) : (
              <span className="text-soft">{s.cutBy === "face" ? "Click the face." : "Click three points."}</span>
            )}
            {alike}
          </div>
        </>
      );
    case "inlay":
      return (
        <>
          <CreaseRow patchCount={null} />
          <div className={low}>
            <Tick isOn={s.allAtHeight} title="A whole word in one click" onChange={(allAtHeight) => set({ allAtHeight })}>
              All at this height
            </Tick>
            {alike}
          </div>
          <div className={low}>
            <span className="flex items-center gap-1" title={`Layers from the face down; 0 fills the whole depth. A layer is ${layer} mm`}>
              <NumberField
                label="Layers of the inlay"
                value={s.inlayLayers}
                unit=""
                digits={0}
                width={34}
                isLow
                onCommit={(n) => set({ inlayLayers: Math.max(0, Math.round(n)) })}
              />
              {s.inlayLayers === 0 ? "whole" : s.inlayLayers === 1 ? "layer" : "layers"}
            </span>
            {gap("the inlay")}
          </div>
        </>
      );
    case "sink":
      return (
        <>
          <div className={low}>
            <Tick
              isOn={s.isFlush}
              title="Until the face clicked is level with the surface below it"
              onChange={(isFlush) => set({ isFlush })}
            >
              Until flush
            </Tick>
            {alike}
          </div>
          <div className={low}>
            <LengthField
              label="Sink by"
              prefix="by"
              value={s.sinkMm}
              digits={2}
              width={88}
              isLow
              disabled={s.isFlush}
              range={limits.sink}
              onCommit={(sinkMm) => set({ sinkMm })}
            />
            {gap("the part")}
          </div>
        </>
      );
    case "split":
      return (
        <>
          <div className={low}>
            <Select
              label="What becomes of crumbs"
              value={s.fragments}
              className="h-6 flex-1 py-0!"
              options={[
                { value: "keep", label: "Keep crumbs" },
                { value: "join", label: "Join crumbs" },
                { value: "drop", label: "Drop crumbs" },
              ]}
              onChange={(fragments) => set({ fragments: fragments as Settings["fragments"] })}
            />
            <NumberField
              label="Largest crumb"
              value={s.fragmentMm3}
              unit="mm³"
              digits={1}
              width={86}
              isLow
              onCommit={(n) => set({ fragmentMm3: Math.max(0, n) })}
            />
          </div>
          {alike}
        </>
      );
  }
}
