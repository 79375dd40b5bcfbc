import { useRef } from "react";
import type { JobView } from "../../../api/generated/JobView";
import type { LoadView } from "../../../api/generated/LoadView";
import type { Plan } from "../../../api/generated/Plan";
import type { RackView } from "../../../api/generated/RackView";
import type { Spool } from "../../../api/generated/Spool";
import { bayWidth, columns, shapeOf } from "./layout";
import { endName, isMixing, type End } from "./ends";
import { FeedCard, RegionCard, SlotCard, SpoolCard } from "./cards";
import { Ribbons, type Joined } from "./Ribbons";
import { useJoining } from "./useJoining";

/** Regions, slots and spools, joined by ribbons in the colours that will be printed. */
export function Bay({
  job,
  rack,
  load,
  plan,
  onSpool,
}: {
  job: JobView;
  rack: RackView;
  load: LoadView | undefined;
  plan: Plan | undefined;
  onSpool: (spool: Spool) => void;
}) {
  const bay = useRef<HTMLDivElement>(null);
  const joining = useJoining(job, bay);
  const mixes = isMixing(job);
  const { slots, feeds, spools, size, height } = shapeOf(job, rack);
  const worst = (place: number) => load?.checks.find((c) => c.place === place && c.level !== "fine");
  const rows = new Map<string, number>();
  job.regions.forEach((r, i) => rows.set(keyOf({ is: "region", key: r.key }), i));
  slots.forEach((s, i) => rows.set(keyOf({ is: "slot", slot: s.slot }), i));
  feeds.forEach((f, i) => rows.set(keyOf({ is: "feed", place: f.place }), slots.length + i));
  spools.forEach((s, i) => rows.set(keyOf({ is: "spool", id: s.id }), i));
  const y = (end: End) => (rows.get(keyOf(end)) ?? 0) * size.pitch;

  const joined: Joined[] = [];
  for (const r of job.regions) {
    const slot = job.slots.find((s) => s.slot === r.slot);
    if (slot)
      joined.push({
        from: { is: "region", key: r.key },
        to: { is: "slot", slot: slot.slot },
        colour: slot.colour,
        look: r.is_proposed ? "dashed" : "plain",
      });
  }
  for (const p of job.places) {
    if (!p.spool) continue;
    const differs = load?.checks.some((c) => c.place === p.place && c.code === "printer-slot-differs");
    joined.push({
      from: mixes ? { is: "feed", place: p.place } : { is: "slot", slot: p.place },
      to: { is: "spool", id: p.spool.id },
      colour: p.spool.colour,
      look: differs ? "dotted" : "plain",
    });
  }
  const common = { joining, height: size.height };
  const isLow = size.height < 40;
  const spoolName = (id: string) => rack.spools.find((s) => s.id === id)?.name ?? id;
  return (
    <div className="relative" ref={bay} style={{ width: bayWidth, height }} role="group" aria-label="Patch bay">
      <Ribbons joined={joined} y={y} half={size.height / 2} width={bayWidth} height={height} held={joining.held} loose={joining.loose} />
      {job.regions.map((r) => (
        <RegionCard
          key={r.key}
          {...common}
          job={job}
          region={r}
          isLow={isLow}
          grams={plan?.regions.find((t) => t.region === r.key)?.grams}
          column={columns.regions}
          top={y({ is: "region", key: r.key })}
        />
      ))}
      {slots.map((s, i) => (
        <SlotCard
          key={s.slot}
          {...common}
          job={job}
          slot={s}
          next={slots[i + 1]}
          need={mixes ? undefined : load?.needs.find((n) => n.place === s.slot)}
          check={mixes ? undefined : worst(s.slot)}
          isLow={isLow}
          column={columns.slots}
          top={y({ is: "slot", slot: s.slot })}
        />
      ))}
      {feeds.map((f) => (
        <FeedCard
          key={f.place}
          {...common}
          job={job}
          feed={f}
          check={worst(f.place)}
          need={load?.needs.find((n) => n.place === f.place)}
          isLow={isLow}
          column={columns.slots}
          top={y({ is: "feed", place: f.place })}
        />
      ))}
      {spools.map((s) => (
        <SpoolCard
          key={s.id}
          {...common}
          spool={s}
          isShort={load?.checks.some((c) => c.code === "spool-short" && job.places[(c.place ?? 0) - 1]?.spool?.id === s.id) ?? false}
          isLow={isLow}
          column={columns.spools}
          top={y({ is: "spool", id: s.id })}
          onOpen={() => onSpool(s)}
        />
      ))}
      {spools.length === 0 && (
        <p className="absolute text-soft" style={{ left: columns.spools.left }}>
          The rack is empty. Add a spool to begin with.
        </p>
      )}
      <p className="sr-only" role="status">
        {joining.held ? `${endName(job, joining.held, spoolName)} is in hand: choose what it is joined to, or press Escape` : ""}
      </p>
    </div>
  );
}

const keyOf = (end: End) => JSON.stringify(end);
