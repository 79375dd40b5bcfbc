import { useRef, useState } from "react";
import { stageFile } from "../../../api/client";
import type { JobView } from "../../../api/generated/JobView";
import { useChanges } from "../../../api/queries";
import { useLaying, usualOptions } from "../../../state/laying";
import { useBench } from "../../../state/bench";
import { useNotice } from "../../../state/notice";
import { Button } from "../../../ui/Button";
import { fixed } from "../../../ui/format";
import { Bearing } from "./Bearing";
import { EyeForm } from "./EyeForm";
import { FlatPicture } from "./FlatPicture";
import { InkTakers } from "./InkTakers";
import type { Lay, useFlat } from "./useLay";
import { WordsForm } from "./WordsForm";

const kinds = [
  ["file", "Drawing"],
  ["words", "Words"],
  ["eye", "Eye"],
] as const;

/** What is laid on the model: which drawing or words, in which colours, how it lies. */
export function LayPanel({ job, lay, flat: read }: { job: JobView; lay: Lay; flat: ReturnType<typeof useFlat> }) {
  const state = useLaying();
  const { edit } = useChanges(job.id);
  const show = useNotice((s) => s.show);
  const [share, setShare] = useState<number | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const bring = async (file: File | undefined) => {
    if (!file) return;
    setShare(0);
    try {
      const staged = await stageFile(file, [], setShare).done;
      lay.change({ what: "file", file: { name: file.name, staged: staged.id }, options: usualOptions, takers: [] });
    } catch {
      show({ code: "upload-broken", message: `${file.name} did not arrive`, where: null, mend: "Drop it once more." });
    }
    setShare(null);
  };
  const { flat } = read;
  const problem = lay.problem ?? read.problem;
  return (
    <section
      aria-label="What is laid"
      className="absolute left-3 top-9 flex max-h-[calc(100%-130px)] w-[248px] flex-col rounded-[5px] border border-line bg-sheet text-[12px] shadow-[0_2px_10px_rgb(0_0_0/0.12)]"
      onDragOver={(e) => {
        e.preventDefault();
        e.stopPropagation();
      }}
      onDrop={(e) => {
        e.preventDefault();
        e.stopPropagation();
        void bring(e.dataTransfer.files[0]);
      }}
    >
      <div className="flex border-b border-line" role="radiogroup" aria-label="Kind">
        {kinds.map(([what, name]) => (
          <button
            key={what}
            type="button"
            role="radio"
            aria-checked={state.what === what}
            className={`flex-1 border-b-2 py-1.5 font-semibold ${state.what === what ? "border-plum text-ink" : "border-transparent text-soft hover:text-ink"}`}
            onClick={() => lay.change({ what, takers: [] })}
          >
            {name}
          </button>
        ))}
      </div>
      <div className="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto p-3">
        {state.what === "file" ? (
          <div className="flex items-center justify-between gap-2">
            <span className="min-w-0 truncate text-soft" title={state.file?.name}>
              {share !== null ? `Bringing it, ${Math.round(100 * share)} %` : (state.file?.name ?? "SVG, PNG, JPEG or WebP")}
            </span>
            <Button onClick={() => picker.current?.click()}>{state.file ? "Another" : "Choose a file"}</Button>
            <input
              ref={picker}
              type="file"
              hidden
              aria-label="Drawing or picture file"
              accept=".svg,.png,.jpg,.jpeg,.webp"
              onChange={(e) => {
                void bring(e.target.files?.[0]);
                e.target.value = "";
              }}
            />
          </div>
        ) : state.what === "words" ? (
          <WordsForm lay={lay} />
        ) : (
          <EyeForm lay={lay} />
        )}
        {problem && (
          <p role="alert" className="text-[12px] text-wrong">
            {problem.message}. <span className="text-soft">{problem.mend}</span>
          </p>
        )}
        {flat && (
          <>
            <FlatPicture flat={flat} />
            {flat.thin > 0 && (
              <p className="text-soft">
                {flat.thin === 1 ? "One place is" : `${flat.thin} places are`} thinner than a line of {fixed(flat.line_mm, 2)} mm.
              </p>
            )}
            {flat.notes.map((note) => (
              <p key={note} className="text-soft">
                {note}.
              </p>
            ))}
            <InkTakers job={job} flat={flat} lay={lay} />
            <Bearing flat={flat} lay={lay} />
          </>
        )}
      </div>
      {state.put && (
        <div className="flex items-center justify-between border-t border-line px-3 py-2">
          <span className="text-soft" role="status">
            {lay.isBusy ? "Laying it" : state.step !== null && `Step ${state.step}`}
          </span>
          <span className="flex gap-3">
            {state.step !== null && state.what === "eye" && (
              <Button kind="link" title="The same on the other side of the part" onClick={() => lay.twin()}>
                Other side
              </Button>
            )}
            {state.step !== null && (
              <Button
                kind="link"
                onClick={() => {
                  edit({ edit: "leave-out", number: state.step ?? 0 });
                  state.letGo();
                }}
              >
                Take it off
              </Button>
            )}
            <Button
              onClick={() => {
                state.letGo();
                useBench.getState().setTool("patch");
              }}
            >
              Done
            </Button>
          </span>
        </div>
      )}
    </section>
  );
}
