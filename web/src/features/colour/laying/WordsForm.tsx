import { useEffect, useRef, useState } from "react";
import { stageFile } from "../../../api/client";
import type { Font } from "../../../api/generated/Font";
import { limits } from "../../../api/generated/limits";
import type { Words } from "../../../api/generated/Words";
import { useLaying } from "../../../state/laying";
import { NumberField } from "../../../ui/NumberField";
import { Select } from "../../../ui/Select";
import { Tick } from "../../../ui/Tick";
import type { Lay } from "./useLay";

const fonts: { value: Font; label: string }[] = [
  { value: "plain", label: "Plain" },
  { value: "round", label: "Round" },
  { value: "slab", label: "Slab" },
  { value: "sign", label: "Sign" },
  { value: "stencil", label: "Stencil" },
  { value: "script", label: "Script" },
];

function without(words: Words, key: "own_font" | "arc_mm" | "thicken_mm"): Words {
  const rest = { ...words };
  delete rest[key];
  return rest;
}

/** Typed words and how they are set. */
export function WordsForm({ lay }: { lay: Lay }) {
  const { words, font } = useLaying();
  // What is being typed; none once it is taken over.
  const [draft, setDraft] = useState<string | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const set = (change: Partial<Words>) => lay.change({ words: { ...useLaying.getState().words, ...change } });
  // What is typed shows a moment after the last key, or at once when a button of the pointer goes down: it may put the words somewhere.
  useEffect(() => {
    if (draft === null) return;
    const take = () => {
      setDraft(null);
      if (draft !== useLaying.getState().words.text) set({ text: draft });
    };
    const wait = window.setTimeout(take, 250);
    window.addEventListener("pointerdown", take, true);
    return () => {
      window.clearTimeout(wait);
      window.removeEventListener("pointerdown", take, true);
    };
  });
  const own = async (file: File | undefined) => {
    if (!file) return;
    const staged = await stageFile(file, [], () => {}).done;
    lay.change({ font: { name: file.name, staged: staged.id } });
  };
  return (
    <div className="flex flex-col gap-1.5">
      <textarea
        aria-label="Words"
        placeholder="Type words"
        rows={2}
        value={draft ?? words.text}
        className="w-full resize-none rounded-[4px] border border-line bg-sheet px-2 py-1 text-[13px] outline-none focus:border-plum"
        onChange={(e) => setDraft(e.target.value)}
      />
      <div className="flex items-center justify-between gap-2 text-soft">
        Font
        <Select
          label="Font"
          value={font || words.own_font ? "own" : (words.font ?? "plain")}
          options={[...fonts, { value: "own", label: font?.name ?? "a font file" }]}
          className="h-6 w-[148px] px-1.5! py-0!"
          onChange={(value) => {
            if (value === "own") return picker.current?.click();
            const rest = without(words, "own_font");
            lay.change({ font: null, words: { ...rest, font: fonts.find((f) => f.value === value)?.value ?? "plain" } });
          }}
        />
        <input
          ref={picker}
          type="file"
          hidden
          accept=".ttf,.otf"
          aria-label="Font file"
          onChange={(e) => {
            void own(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
      </div>
      <div className="flex items-center justify-between text-soft">
        <label className="flex items-center gap-2">
          Capitals
          <NumberField
            label="Height of capitals"
            value={words.height_mm}
            unit="mm"
            digits={1}
            width={68}
            range={limits.letters}
            onCommit={(height_mm) => set({ height_mm })}
          />
        </label>
        <label className="flex items-center gap-2">
          Gap
          <NumberField
            label="Gap between letters"
            value={words.spacing_mm ?? 0}
            unit="mm"
            digits={1}
            width={62}
            range={limits.letterSpacing}
            onCommit={(spacing_mm) => set({ spacing_mm })}
          />
        </label>
      </div>
      <div className="flex items-center justify-between text-soft">
        <label
          className="flex items-center gap-2"
          title="Radius of the arc the words stand on: arched up, or down if negative; 0 for a straight line"
        >
          Arc
          <NumberField
            label="Arc"
            value={words.arc_mm ?? 0}
            unit="mm"
            digits={0}
            width={68}
            onCommit={(mm) => {
              const rest = without(words, "arc_mm");
              lay.change({ words: mm === 0 ? rest : { ...rest, arc_mm: mm } });
            }}
          />
        </label>
        <Tick
          isOn={words.by_letter ?? false}
          title="Every letter a region of its own"
          onChange={(by_letter) => lay.change({ words: { ...words, by_letter }, takers: [] })}
        >
          By letter
        </Tick>
      </div>
      <Tick
        isOn={words.thicken_mm !== undefined}
        title="What is thinner than a line of plastic is made as wide"
        onChange={(on) => {
          const rest = without(words, "thicken_mm");
          lay.change({ words: on ? { ...rest, thicken_mm: 0.45 } : rest });
        }}
      >
        Thicken what is too thin
      </Tick>
    </div>
  );
}
