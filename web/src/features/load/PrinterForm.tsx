import type { ReactNode } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { LoadView } from "../../api/generated/LoadView";
import type { Printer } from "../../api/generated/Printer";
import { useLoading, usePrinters } from "../../api/loading";
import { useChanges } from "../../api/queries";
import { useBeadView } from "../../state/beadView";
import { usePlanPanes } from "../../state/planPanes";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { BaseMaterials } from "./BaseMaterials";
import { freshId } from "../../ui/freshId";
import { NameField } from "../../ui/NameField";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { HeadSketch } from "./HeadSketch";
import { PrinterKey } from "./PrinterKey";
import { Explained } from "../words/Explained";
import type { WordKey } from "../words/words";

interface Setting {
  name: string;
  /** What explains it. */
  word?: WordKey;
  unit: string;
  digits: number;
  factor?: number;
  read: (p: Printer) => number;
  write: (p: Printer, v: number) => Printer;
  /** Not for machines with a nozzle for each filament. */
  isRinse?: boolean;
  /** For every machine, a jetting one too. */
  isBed?: boolean;
}

const bed = (axis: 0 | 1 | 2, name: string): Setting => ({
  name,
  unit: "mm",
  digits: 0,
  isBed: true,
  read: (p) => p.bed_mm[axis],
  write: (p, v) => ({ ...p, bed_mm: p.bed_mm.map((b, i) => (i === axis ? v : b)) as [number, number, number] }),
});

const machine: Setting[] = [
  { name: "Nozzle", unit: "mm", digits: 2, read: (p) => p.nozzle_mm, write: (p, v) => ({ ...p, nozzle_mm: v }) },
  bed(0, "Bed, across"),
  bed(1, "Bed, deep"),
  bed(2, "Bed, high"),
  { name: "Swap time", unit: "s", digits: 0, read: (p) => p.swap_s, write: (p, v) => ({ ...p, swap_s: v }) },
  { name: "Before a start", unit: "s", digits: 0, read: (p) => p.start_s, write: (p, v) => ({ ...p, start_s: v }) },
  { name: "Lost on each layer", unit: "s", digits: 1, read: (p) => p.layer_change_s, write: (p, v) => ({ ...p, layer_change_s: v }) },
  {
    name: "Flow when purging",
    unit: "mm³/s",
    digits: 1,
    isRinse: true,
    read: (p) => p.purge_mm3_s,
    write: (p, v) => ({ ...p, purge_mm3_s: v }),
  },
  {
    name: "Melt zone",
    word: "melt",
    unit: "mm³",
    digits: 0,
    isRinse: true,
    read: (p) => p.melt.volume_mm3,
    write: (p, v) => ({ ...p, melt: { ...p.melt, volume_mm3: v } }),
  },
  {
    name: "Tanks in series",
    word: "tanks",
    unit: "",
    digits: 0,
    isRinse: true,
    read: (p) => p.melt.tanks,
    write: (p, v) => ({ ...p, melt: { ...p.melt, tanks: Math.round(v) } }),
  },
  {
    name: "Every swap purges at least",
    unit: "mm³",
    digits: 0,
    isRinse: true,
    read: (p) => p.least_flush_mm3 ?? p.melt.volume_mm3 / 2,
    write: (p, v) => ({ ...p, least_flush_mm3: v }),
  },
  { name: "Heats and cools", unit: "°C/s", digits: 1, isRinse: true, read: (p) => p.heat_c_s, write: (p, v) => ({ ...p, heat_c_s: v }) },
  {
    name: "Pace: takes longer by",
    word: "pace",
    unit: "×",
    digits: 2,
    read: (p) => p.time_factor,
    write: (p, v) => ({ ...p, time_factor: v }),
  },
  {
    name: "Clean at ΔE",
    word: "difference",
    unit: "",
    digits: 1,
    isRinse: true,
    read: (p) => p.tolerance,
    write: (p, v) => ({ ...p, tolerance: v }),
  },
];

/** What hangs over the bed beside the nozzle. */
const overTheBed: Setting[] = [
  { name: "Duct reaches out", unit: "mm", digits: 0, read: (p) => p.duct_radius_mm, write: (p, v) => ({ ...p, duct_radius_mm: v }) },
  { name: "Duct above the tip", unit: "mm", digits: 1, read: (p) => p.duct_above_mm, write: (p, v) => ({ ...p, duct_above_mm: v }) },
  { name: "Head reaches out", unit: "mm", digits: 0, read: (p) => p.head_radius_mm, write: (p, v) => ({ ...p, head_radius_mm: v }) },
  { name: "Head above the tip", unit: "mm", digits: 1, read: (p) => p.head_above_mm, write: (p, v) => ({ ...p, head_above_mm: v }) },
  { name: "Rails above the tip", unit: "mm", digits: 0, read: (p) => p.rails_above_mm, write: (p, v) => ({ ...p, rails_above_mm: v }) },
];

const bin: Setting = {
  name: "The bin holds",
  unit: "cm³",
  digits: 0,
  isRinse: true,
  read: (p) => p.bin_cm3,
  write: (p, v) => ({ ...p, bin_cm3: v }),
};

const held: Setting[] = [
  {
    name: "Held at a time",
    unit: "",
    digits: 0,
    isRinse: true,
    read: (p) => p.holds || p.slots,
    write: (p, v) => ({ ...p, holds: Math.round(v) >= p.slots ? 0 : Math.round(v) }),
  },
  {
    name: "To put another spool in",
    unit: "s",
    digits: 0,
    isRinse: true,
    read: (p) => p.reload_s,
    write: (p, v) => ({ ...p, reload_s: v }),
  },
];

const ooze: Setting = {
  name: "Oozes while it stands",
  unit: "mm³/min",
  digits: 1,
  read: (p) => p.ooze_mm3_min,
  write: (p, v) => ({ ...p, ooze_mm3_min: v }),
};

const prime: Setting = {
  name: "Pressed out after a change",
  unit: "mm³",
  digits: 0,
  read: (p) => p.prime_mm3,
  write: (p, v) => ({ ...p, prime_mm3: v }),
};

/** What the printer is. Each change is an edit like any other. */
export function PrinterForm({ job, load }: { job: JobView; load: LoadView | undefined }) {
  const { edit } = useChanges(job.id);
  const { changePrinters } = useLoading(job.id);
  const printers = usePrinters().data;
  const own = printers?.printers ?? [];
  const abilities = load?.abilities;
  const p = job.printer;
  const set = (printer: Printer) => edit({ edit: "set-printer", printer });
  const kept = own.find((o) => o.printer.name === p.name);
  const keep = () =>
    changePrinters.mutate([
      kept
        ? { do: "change", id: kept.id, printer: p }
        : { do: "add", id: freshId("printer", (id) => own.some((o) => o.id === id)), printer: p },
    ]);
  const isKept = kept !== undefined && JSON.stringify(kept.printer) === JSON.stringify(p);
  const field = (s: Setting) => (
    <Row key={s.name} name={s.name} word={s.word}>
      <NumberField
        label={s.name}
        value={s.read(p)}
        unit={s.unit}
        digits={s.digits}
        width={96}
        {...(s.factor ? { factor: s.factor } : {})}
        onCommit={(v) => set(s.write(p, v))}
      />
    </Row>
  );
  const kinds = load?.kinds ?? [];
  const { mixes, jets, is_grey } = job.machine;
  return (
    <div className="grid grid-cols-2 gap-x-10 py-3">
      <section aria-label="Printer">
        <Row name="Name">
          <NameField
            label="Name of the printer"
            value={p.name}
            className="mx-0! border-line! bg-sheet! text-right"
            onCommit={(name) => set({ ...p, name })}
          />
        </Row>
        <Row name="Kind">
          <Select
            label="Kind of machine"
            value={job.machine.kind}
            className="w-56"
            options={kinds.map((k) => ({ value: k.key, label: k.words }))}
            onChange={(v) => {
              const kind = kinds.find((k) => k.key === v)?.kind;
              // A jetting machine needs something to build of.
              const usual = printers?.examples.find((e) => e.kind.is === "jetting")?.materials ?? [];
              const materials = kind?.is === "jetting" && !p.materials?.length ? { materials: usual } : {};
              if (kind) set({ ...p, kind, ...materials });
            }}
          />
        </Row>
        {jets ? (
          <Row name="Colours">
            <Select
              label="Colours it prints"
              value={is_grey ? "grey" : "any"}
              className="w-56"
              options={[
                { value: "any", label: "any colour" },
                { value: "grey", label: "greys only" },
              ]}
              onChange={(v) => set({ ...p, kind: { is: "jetting", is_grey: v === "grey" } })}
            />
          </Row>
        ) : (
          <Row name={mixes ? "Mixtures at most" : "Filaments"}>
            <NumberField
              label="Filaments"
              value={p.slots}
              unit=""
              digits={0}
              width={96}
              onCommit={(v) => set({ ...p, slots: Math.round(v) })}
            />
          </Row>
        )}
        {mixes && (
          <Row name="Feeds">
            <NumberField
              label="Feeds"
              value={mixes.feeds}
              unit=""
              digits={0}
              width={96}
              onCommit={(v) => set({ ...p, kind: { ...p.kind, feeds: Math.round(v) } as Printer["kind"] })}
            />
          </Row>
        )}
        {mixes && (
          <Row name="Least share of a feed">
            <NumberField
              label="Least share of a feed"
              value={mixes.least_share}
              unit="%"
              factor={100}
              digits={1}
              width={96}
              onCommit={(least_share) => set({ ...p, kind: { ...p.kind, least_share } as Printer["kind"] })}
            />
          </Row>
        )}
        <Row name="Address">
          <NameField
            label="Address of the printer"
            canBeEmpty
            value={p.address}
            className="mx-0! border-line! bg-sheet! text-right"
            onCommit={(address) => set({ ...p, address })}
          />
        </Row>
        {p.address !== "" && (
          <Row name="Key">
            <PrinterKey job={job.id} hasKey={load?.has_key ?? false} />
          </Row>
        )}
        {job.machine.holds_fewer && held.map(field)}
        {machine.filter((s) => (jets ? s.isBed : !s.isRinse || !abilities?.no_rinse)).map(field)}
        {!jets && abilities?.no_rinse && field(prime)}
        {!jets && abilities?.no_rinse && field(ooze)}
        {jets && <BaseMaterials all={p.materials ?? []} onChange={(materials) => set({ ...p, materials })} />}
        {(jets ? [] : [abilities?.no_rinse, abilities?.no_mixtures, abilities?.no_other_plastic]).map(
          (why) =>
            why && (
              <p key={why} className="pt-2 text-[12px] text-soft">
                {why}
              </p>
            ),
        )}
        <div className="flex gap-2 pt-3">
          <Button disabled={isKept} onClick={keep}>
            {kept ? "Keep these settings with it" : "Keep among my printers"}
          </Button>
          {kept && <Button onClick={() => changePrinters.mutate([{ do: "remove", id: kept.id }])}>Take it off my printers</Button>}
        </div>
      </section>
      {!jets && (
        <section aria-label="How it prints">
          <p className="pt-1.5 text-soft">
            What the printer is stands here. How it prints, layer height, walls, speeds and the rest, has a drawer of its own beside the
            beads.
          </p>
          <Button
            className="mt-2.5"
            onClick={() => {
              useBeadView.getState().set({ isDrawerOpen: true });
              usePlanPanes.getState().setInBeads(true);
              go(`/jobs/${job.id}/plan`);
            }}
          >
            Open how it prints
          </Button>
          <h3 className="heading mt-6">Over the bed and on it</h3>
          <HeadSketch printer={p} />
          {overTheBed.map(field)}
          <Row name="Sheet on the bed">
            <NameField
              label="Sheet on the bed"
              canBeEmpty
              value={p.sheet ?? ""}
              className="mx-0! border-line! bg-sheet! text-right"
              onCommit={(sheet) => set({ ...p, sheet })}
            />
          </Row>
          {!abilities?.no_rinse && field(bin)}
        </section>
      )}
    </div>
  );
}

function Row({ name, word, children }: { name: string; word?: WordKey | undefined; children: ReactNode }) {
  const look = "flex min-h-8 items-center justify-between gap-3 border-b border-line py-1";
  // A label would press the explanation when its field is meant.
  return word ? (
    <div className={look}>
      <Explained word={word}>{name}</Explained>
      {children}
    </div>
  ) : (
    <label className={look}>
      {name}
      {children}
    </label>
  );
}
