import { useRef } from "react";
import { api, Refused } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import type { LengthUnit } from "../../api/generated/LengthUnit";
import type { ModelView } from "../../api/generated/ModelView";
import { useChanges } from "../../api/queries";
import { useNotice } from "../../state/notice";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { count, volume } from "../../ui/format";
import { NameField } from "../../ui/NameField";
import { Select } from "../../ui/Select";
import { endings } from "../arrival/DropZone";
import { ArrivalDialog } from "../arrival/ArrivalDialog";
import { drawingOf, isReady, useArrival } from "../arrival/useArrival";
import { Defects } from "./Defects";
import { Fact, SizeLine } from "./Facts";
import { SplitAnswer } from "./SplitAnswer";

export const unitNames: Record<LengthUnit, string> = {
  micron: "microns",
  millimetre: "millimetres",
  centimetre: "centimetres",
  inch: "inches",
  foot: "feet",
  metre: "metres",
};

/** Everything there is to know about one model, and what can be put right. */
export function ModelCard({ job, index, model }: { job: JobView; index: number; model: ModelView }) {
  const { edit, revise } = useChanges(job.id);
  const arrival = useArrival();
  const show = useNotice((s) => s.show);
  const picker = useRef<HTMLInputElement>(null);
  const draw = (staged: number) => {
    arrival.clear();
    go(`/jobs/${job.id}/models/${index}/drawings/${staged}`);
  };
  /** The drawing that it was made of, or another one in its place with all that was said of it. */
  const changeDrawing = async (instead?: number) => {
    try {
      draw(model.is_drawn ? (await api.drawingOfModel(job.id, index, instead)).id : (instead ?? 0));
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
    }
  };
  const replace = async (files: File[]) => {
    const settled = await arrival.take(files);
    const drawing = settled ? drawingOf(settled) : null;
    if (drawing !== null) return changeDrawing(drawing);
    const id = settled?.find(isReady)?.id;
    if (id !== undefined && id !== null && settled?.every((f) => f.state.state !== "refused")) {
      arrival.clear();
      revise({ model: index, staged: id });
    }
  };
  const doubt = model.doubt;
  const isScaled = model.file_size.some((c, i) => Math.abs(c - (model.size_mm[i] ?? 0)) > 0.005);
  return (
    <article className="px-5 pb-6 pt-3" aria-label={model.name}>
      <h2 className="text-[15px] font-semibold">
        <NameField
          label="Name of the model"
          value={model.name}
          onCommit={(name) => edit({ edit: "rename-model", model: model.name, name })}
        />
      </h2>
      <p className="figure mt-1 text-[19px] font-semibold" aria-label="Size">
        <SizeLine size={model.size_mm} /> mm
      </p>
      {doubt && (
        <div className="mt-2 border-l-[3px] border-look bg-sheet py-2 pl-3 pr-2" role="status">
          <p className="text-look">
            <span aria-hidden>! </span>
            {doubt.message}
          </p>
          {doubt.unit && doubt.size_mm && (
            <Button
              kind="main"
              className="mt-2"
              onClick={() => doubt.unit && edit({ edit: "set-units", model: model.name, unit: doubt.unit })}
            >
              Read it in {unitNames[doubt.unit]}:{" "}
              <span className="figure">
                <SizeLine size={doubt.size_mm} /> mm
              </span>
            </Button>
          )}
        </div>
      )}
      <dl className="mt-3 border-t border-line">
        <Fact name="Units of the file">
          <span className="inline-flex items-center gap-2">
            <span className="text-soft">
              {model.stated_unit === model.unit ? "stated" : model.stated_unit ? `file says ${unitNames[model.stated_unit]}` : "assumed"}
            </span>
            <Select
              label="Units of the file"
              value={model.unit}
              options={(Object.keys(unitNames) as LengthUnit[]).map((u) => ({ value: u, label: unitNames[u] }))}
              className="h-6 w-28 py-0!"
              onChange={(unit) => edit({ edit: "set-units", model: model.name, unit: unit as LengthUnit })}
            />
          </span>
        </Fact>
        <Fact name="Size in the file" isFigure>
          <span className={isScaled ? "" : "text-soft"}>
            <SizeLine size={model.file_size} digits={2} />
          </span>
        </Fact>
        <Fact name="Format">{model.format}</Fact>
        <Fact name="Facets" isFigure>
          {count(model.facets)}
        </Fact>
        <Fact name="Closed">{model.closed ? <span className="text-fine">✓ yes</span> : <span className="text-look">! no</span>}</Fact>
        <Fact name="Volume" isFigure>
          {model.closed ? volume(model.volume_mm3) : "–"}
        </Fact>
        {model.carried.length > 0 && <Fact name="Brought along">{model.carried.join(", ")}</Fact>}
        {model.cannot_say && <Fact name="The format cannot say">{model.cannot_say}</Fact>}
        {model.metadata.slice(0, 4).map(([name, value]) => (
          <Fact key={name} name={name}>
            <span className="block truncate" title={value}>
              {value}
            </span>
          </Fact>
        ))}
        {model.has_blends && (
          <Fact name="Blended colours become">
            <Select
              label="Number of colours"
              value={String(model.colours_kept ?? "")}
              options={["1", "2", "3", "4", "5", "6", "8", "12", "16"].map((n) => ({
                value: n,
                label: `${n} ${n === "1" ? "region" : "regions"}`,
              }))}
              placeholder="choose"
              className="h-6 w-28 py-0!"
              onChange={(most) => edit({ edit: "keep-colours", model: model.name, most: Number(most) })}
            />
          </Fact>
        )}
      </dl>
      {model.left_out.length > 0 && <p className="mt-2 text-look">! Left behind: {model.left_out.join("; ")}.</p>}
      {model.defects.length > 0 && <Defects job={job} index={index} model={model} />}
      <SplitAnswer job={job} index={index} model={model} />
      {model.defects.length === 0 && <Defects job={job} index={index} model={model} />}
      <div className="mt-6 flex flex-wrap gap-2">
        <Button kind="main" onClick={() => go(`/jobs/${job.id}/colour`)}>
          Colour it
        </Button>
        {model.is_drawn && <Button onClick={() => void changeDrawing()}>Change the drawing</Button>}
        <Button onClick={() => picker.current?.click()} title="Every edit is done again on the new version">
          Replace by a new version
        </Button>
        {job.models.length > 1 && <Button onClick={() => edit({ edit: "remove-model", model: model.name })}>Take out</Button>}
      </div>
      <input
        ref={picker}
        type="file"
        accept={endings}
        hidden
        aria-label="New version"
        onChange={(e) => {
          void replace([...(e.target.files ?? [])]);
          e.target.value = "";
        }}
      />
      <ArrivalDialog files={arrival.files} isAdding onDraw={draw} onStop={arrival.stop} onChoose={arrival.stop} />
    </article>
  );
}
