import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useRef, useState, type ReactNode } from "react";
import { api } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import type { RackChange } from "../../api/generated/RackChange";
import type { RackView } from "../../api/generated/RackView";
import type { Spool } from "../../api/generated/Spool";
import { useLoading } from "../../api/loading";
import { useDesk } from "../../api/queries";
import { Button } from "../../ui/Button";
import { ColourField } from "../../ui/ColourField";
import { freshId } from "../../ui/freshId";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { Tick } from "../../ui/Tick";
import { colourAt } from "../colour/picture";
import { Ring } from "./bay/cards";

const blank: Spool = {
  id: "",
  name: "",
  colour: "#8a8f96",
  material: "PLA",
  density_g_cm3: 1.24,
  price_per_kg: 0,
  left_g: 1000,
  tinting: 1,
  opacity: 0.92,
  nozzle_c: [190, 220],
  diameter_mm: 1.75,
  is_translucent: false,
  is_archived: false,
};

/** A spool's values. What is usual for its colour and plastic is filled in until the maker types something else. */
export function SpoolEditor({ job, rack, spool, onClose }: { job: JobView; rack: RackView; spool: Spool | null; onClose: () => void }) {
  const { changeRack } = useLoading(job.id);
  const [draft, setDraft] = useState<Spool>(spool ?? blank);
  const [own, setOwn] = useState<ReadonlySet<keyof Spool>>(new Set(spool ? (Object.keys(spool) as (keyof Spool)[]) : []));
  const usual = useQuery({
    queryKey: ["usual", draft.colour, draft.material, draft.is_translucent],
    queryFn: () => api.usualSpool({ colour: draft.colour, material: draft.material, is_translucent: draft.is_translucent }),
    staleTime: Infinity,
    enabled: draft.material.trim() !== "",
    placeholderData: (old) => old,
  }).data;
  const value = <K extends keyof Spool>(key: K): Spool[K] => (own.has(key) || !usual ? draft[key] : usual[key]);
  const set = (change: Partial<Spool>) => {
    setDraft({ ...draft, ...change });
    setOwn(new Set([...own, ...(Object.keys(change) as (keyof Spool)[])]));
  };
  /** Another plastic, or clearness, brings its usual values again. */
  const setKind = (change: Partial<Spool>) => {
    setDraft({ ...draft, ...change });
    setOwn(new Set([...own].filter((k) => !["density_g_cm3", "nozzle_c", "opacity", "tinting"].includes(k))));
  };
  const asSpool = (): Spool => ({
    ...draft,
    density_g_cm3: value("density_g_cm3"),
    nozzle_c: value("nozzle_c"),
    opacity: value("opacity"),
    tinting: value("tinting"),
    diameter_mm: value("diameter_mm"),
    id: spool?.id ?? spoolId(rack, draft.name),
  });
  const keep = (...changes: RackChange[]) => changeRack.mutate(changes, { onSuccess: onClose });
  /** Only what was changed here: grams that were taken off meanwhile stay off. */
  const changed = (now: Spool): Partial<Spool> =>
    Object.fromEntries(Object.entries(now).filter(([k, v]) => JSON.stringify(v) !== JSON.stringify(spool?.[k as keyof Spool])));
  const save = () => keep(spool ? { do: "change", id: spool.id, fields: changed(asSpool()) } : { do: "add", spool: asSpool() });
  const [low, high] = value("nozzle_c");
  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content
          className="fixed left-1/2 top-[8%] z-50 max-h-[84%] w-[520px] -translate-x-1/2 overflow-y-auto border border-line bg-sheet p-5 shadow-lg"
          aria-describedby={undefined}
          onKeyDown={(e) => e.stopPropagation()}
        >
          <Dialog.Title className="flex items-center gap-3 pb-3 text-[15px] font-semibold">
            <Ring colour={draft.colour} size={34} />
            {spool ? spool.name : "A new spool"}
          </Dialog.Title>
          <Row name="Name">
            <TextField label="Name of the spool" value={draft.name} onChange={(name) => set({ name })} />
          </Row>
          <Row name="Colour">
            <input
              type="color"
              aria-label="Colour of the spool"
              value={draft.colour}
              onChange={(e) => set({ colour: e.target.value })}
              className="h-6 w-9 cursor-pointer"
            />
            <ColourField label="Colour of the spool in figures" value={draft.colour} onCommit={(colour) => set({ colour })} />
          </Row>
          <FromPicture job={job} onPick={(colour) => set({ colour })} />
          <Row name="Material">
            <Select
              label="Material"
              value={rack.materials.some((m) => m.name === draft.material) ? draft.material : "other"}
              className="w-28"
              options={[...rack.materials.map((m) => ({ value: m.name, label: m.name })), { value: "other", label: "Other" }]}
              onChange={(material) => setKind({ material: material === "other" ? "" : material })}
            />
            {!rack.materials.some((m) => m.name === draft.material) && (
              <TextField label="Other material" value={draft.material} onChange={(material) => setKind({ material })} />
            )}
          </Row>
          <Row name="Light goes through it">
            <Tick isOn={draft.is_translucent} onChange={(is_translucent) => setKind({ is_translucent })}>
              Translucent
            </Tick>
          </Row>
          <Row name="Nozzle temperature, lowest">
            <NumberField
              label="Lowest nozzle temperature"
              value={low}
              unit="°C"
              digits={0}
              onCommit={(v) => set({ nozzle_c: [v, high] })}
            />
          </Row>
          <Row name="Nozzle temperature, highest">
            <NumberField
              label="Highest nozzle temperature"
              value={high}
              unit="°C"
              digits={0}
              onCommit={(v) => set({ nozzle_c: [low, v] })}
            />
          </Row>
          <Row name="Left on it">
            <NumberField label="Grams left" value={draft.left_g} unit="g" digits={0} onCommit={(left_g) => set({ left_g })} />
          </Row>
          <Row name="Price of a kilogram">
            <NumberField
              label="Price of a kilogram"
              value={draft.price_per_kg}
              unit=""
              digits={2}
              onCommit={(price_per_kg) => set({ price_per_kg })}
            />
          </Row>
          <details className="mt-2">
            <summary className="cursor-pointer font-semibold text-plum">Density, diameter, opacity, tinting</summary>
            <Row name="Density" hint={rack.materials.find((m) => m.name === draft.material)?.source}>
              <NumberField
                label="Density"
                value={value("density_g_cm3")}
                unit="g/cm³"
                digits={2}
                width={104}
                onCommit={(density_g_cm3) => set({ density_g_cm3 })}
              />
            </Row>
            <Row name="Diameter">
              <NumberField
                label="Diameter"
                value={value("diameter_mm")}
                unit="mm"
                digits={2}
                onCommit={(diameter_mm) => set({ diameter_mm })}
              />
            </Row>
            <Row name="Opacity" hint="How light 1 mm of it is on black, as a share of how light it is on white">
              <NumberField
                label="Opacity"
                value={value("opacity")}
                unit="%"
                factor={100}
                digits={1}
                onCommit={(opacity) => set({ opacity })}
              />
            </Row>
            <Row name="Tinting strength" hint="1 is ordinary; 2 colours a mixture as twice its share would">
              <NumberField label="Tinting strength" value={value("tinting")} unit="" digits={2} onCommit={(tinting) => set({ tinting })} />
            </Row>
          </details>
          <div className="mt-5 flex items-center gap-2">
            {spool && (
              <>
                <Button
                  onClick={() => keep({ do: "change", id: spool.id, fields: changed({ ...asSpool(), is_archived: !spool.is_archived }) })}
                >
                  {spool.is_archived ? "Put back on the rack" : "Archive"}
                </Button>
                <Button
                  onClick={() =>
                    keep({ do: "add", spool: { ...asSpool(), id: spoolId(rack, draft.name), name: `${draft.name}, another` } })
                  }
                >
                  Copy
                </Button>
                <Button kind="danger" onClick={() => keep({ do: "remove", id: spool.id })}>
                  Throw away
                </Button>
              </>
            )}
            <span className="flex-1" />
            <Dialog.Close asChild>
              <Button>Leave it</Button>
            </Dialog.Close>
            <Button kind="main" disabled={changeRack.isPending} onClick={save}>
              Keep
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Row({ name, hint, children }: { name: string; hint?: string | undefined; children: ReactNode }) {
  return (
    <div className="flex min-h-8 items-center justify-between gap-3 border-t border-line py-1" title={hint}>
      <span className="text-soft">{name}</span>
      <span className="flex items-center gap-2">{children}</span>
    </div>
  );
}

function TextField({ label, value, onChange }: { label: string; value: string; onChange: (text: string) => void }) {
  return (
    <input
      aria-label={label}
      className="w-64 rounded-[4px] border border-line bg-sheet px-1.5 py-0.5 outline-none focus:border-plum"
      value={value}
      onChange={(e) => onChange(e.target.value)}
    />
  );
}

/** The pinned picture of the job, or another: a click takes its colour. */
function FromPicture({ job, onPick }: { job: JobView; onPick: (colour: string) => void }) {
  const pinned = useDesk(job.id).data?.picture?.data;
  const [other, setOther] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const shown = other ?? pinned;
  return (
    <div className="pb-1 text-right">
      <button type="button" className="text-[12px] font-semibold text-plum hover:underline" onClick={() => file.current?.click()}>
        Take it from a picture
      </button>
      <input
        ref={file}
        type="file"
        accept="image/*"
        hidden
        aria-label="Picture of the spool"
        onChange={(e) => {
          const f = e.target.files?.[0];
          if (f) setOther(URL.createObjectURL(f));
          e.target.value = "";
        }}
      />
      {shown && (
        <img
          src={shown}
          alt="Click where the colour is"
          title="Click where the colour is"
          className="ml-auto mt-1 max-h-36 max-w-full cursor-crosshair border border-line"
          onClick={(e) => {
            const box = e.currentTarget.getBoundingClientRect();
            onPick(colourAt(e.currentTarget, (e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height));
          }}
        />
      )}
    </div>
  );
}

function spoolId(rack: RackView, name: string): string {
  const base =
    name
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, "-")
      .replace(/^-|-$/g, "") || "spool";
  return freshId(base, (id) => rack.spools.some((s) => s.id === id));
}
