import { useRef, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import { useChanges, useDesk, useDeskChanges, usePalettes } from "../../api/queries";
import { useBench } from "../../state/bench";
import { useNotice } from "../../state/notice";
import { Select } from "../../ui/Select";
import { asPicture } from "./picture";

/** Colours from elsewhere: a pinned picture, and palettes kept from other jobs. */
export function Reference({ job }: { job: JobView }) {
  const desk = useDesk(job.id);
  const palettes = usePalettes();
  const { setDesk, setPalettes } = useDeskChanges(job.id);
  const { edit } = useChanges(job.id);
  const region = useBench((s) => s.region);
  const chosen = job.regions.find((r) => r.key === region);
  const show = useNotice((s) => s.show);
  const file = useRef<HTMLInputElement>(null);
  const [name, setName] = useState<string | null>(null);
  const all = palettes.data?.palettes ?? [];
  const palette = all.find((p) => p.name === name) ?? all[0];
  const pin = async (picked: File | undefined) => {
    if (!picked) return;
    const picture = await asPicture(picked);
    if (picture) setDesk({ ticked: [], view: null, ...desk.data, picture });
    else
      show({
        code: "picture",
        message: `${picked.name} is not a picture that can be shown`,
        where: null,
        mend: "Choose a PNG, JPEG, WebP or SVG file.",
      });
  };
  const keep = () => {
    const colours = job.regions.map((r) => ({ name: r.name, colour: r.colour }));
    const taken = new Set(all.map((p) => p.name));
    const free = [job.name, ...all.map((_, i) => `${job.name} ${i + 2}`)].find((n) => !taken.has(n)) ?? job.name;
    setPalettes({ palettes: [...all, { name: free, colours }] });
    setName(free);
  };
  return (
    <section aria-label="Reference" className="border-t border-line px-3.5 pb-4 pt-3">
      <h2 className="heading">Reference</h2>
      <div className="mt-1.5 flex gap-3 text-[12px] font-semibold text-plum">
        <button type="button" className="hover:underline" onClick={() => file.current?.click()}>
          {desk.data?.picture ? "Pin another picture" : "Pin a picture"}
        </button>
        <button type="button" className="hover:underline" title="Keep the colours of all regions for other jobs" onClick={keep}>
          Keep as palette
        </button>
        <input
          ref={file}
          type="file"
          accept="image/*"
          hidden
          aria-label="Picture file"
          onChange={(e) => {
            void pin(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
      </div>
      {palette && (
        <div className="mt-2">
          <div className="flex items-center gap-2">
            <Select
              label="Palette"
              value={palette.name}
              className="h-6 min-w-0 flex-1 py-0! text-[12px]"
              options={all.map((p) => ({ value: p.name, label: p.name }))}
              onChange={setName}
            />
            <button
              type="button"
              className="text-[12px] text-soft hover:text-wrong"
              title="Throw this palette away"
              onClick={() => setPalettes({ palettes: all.filter((p) => p !== palette) })}
            >
              Drop
            </button>
          </div>
          <div className="mt-1.5 flex flex-wrap gap-1">
            {palette.colours.map((c, i) => (
              <button
                key={i}
                type="button"
                aria-label={`${c.name} ${c.colour}`}
                title={`${c.name}, ${c.colour}: give it to ${chosen?.name ?? "the region"}`}
                className="size-6 rounded-[4px] border border-black/25 hover:outline-2 hover:outline-plum"
                style={{ background: c.colour }}
                onClick={() => edit({ edit: "recolour-region", region, colour: c.colour })}
              />
            ))}
          </div>
        </div>
      )}
    </section>
  );
}
