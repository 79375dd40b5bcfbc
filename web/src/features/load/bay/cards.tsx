import { ArrowDownUp, Pencil } from "lucide-react";
import type { JobView } from "../../../api/generated/JobView";
import type { LoadCheck } from "../../../api/generated/LoadCheck";
import type { PlaceView } from "../../../api/generated/PlaceView";
import type { RegionView } from "../../../api/generated/RegionView";
import type { SlotView } from "../../../api/generated/SlotView";
import type { Spool } from "../../../api/generated/Spool";
import type { SpoolNeed } from "../../../api/generated/SpoolNeed";
import { useChanges } from "../../../api/queries";
import { fixed, grams } from "../../../ui/format";
import { Swatch } from "../../../ui/Swatch";
import { Card } from "./Card";
import type { Joining } from "./useJoining";

interface Common {
  column: { left: number; width: number };
  top: number;
  height: number;
  joining: Joining;
  /** One line instead of two. */
  isLow: boolean;
}

const tones = { wrong: "text-wrong", look: "text-look", fine: "text-soft" } as const;

/** Two lines, or one when rows stand close. */
function Lines({
  isLow,
  name,
  below,
  tone = "text-soft",
  title,
}: {
  isLow: boolean;
  name: string;
  below: string;
  tone?: string;
  title?: string;
}) {
  return (
    <span className={`min-w-0 flex-1 ${isLow ? "flex items-baseline gap-2" : ""}`}>
      <span className={`block truncate font-medium ${isLow ? "min-w-0 flex-1" : ""}`} title={name}>
        {name}
      </span>
      <span className={`figure block truncate text-[12px] ${isLow ? "max-w-[60%] shrink-0" : "min-w-0"} ${tone}`} title={title ?? below}>
        {below}
      </span>
    </span>
  );
}

export function RegionCard({ job, region: r, grams: g, ...at }: Common & { job: JobView; region: RegionView; grams: number | undefined }) {
  const { edit } = useChanges(job.id);
  const below = r.slot === null ? "no slot" : `needs ${g === undefined ? "\u2026" : grams(g)}`;
  const onKey = (key: string) => {
    const slot = Number(key);
    if (slot >= 1 && slot <= job.slots.length) edit({ edit: "assign-slot", region: r.key, slot });
    else if (key === "Delete" || key === "Backspace") edit({ edit: "assign-slot", region: r.key, slot: null });
    else return false;
    return true;
  };
  return (
    <Card
      end={{ is: "region", key: r.key }}
      name={`Region ${r.name}, ${r.slot === null ? "no slot" : `slot ${r.slot}`}${r.is_proposed ? ", proposed" : ""}`}
      level={r.slot === null ? "look" : "fine"}
      onKey={onKey}
      {...at}
    >
      <Swatch colour={r.colour} size={at.isLow ? 18 : 26} />
      <Lines isLow={at.isLow} name={r.name} below={below} tone={r.slot === null ? "text-look" : "text-soft"} />
      {r.is_proposed && (
        <button
          type="button"
          className="shrink-0 text-[12px] font-semibold text-plum hover:underline"
          title="Varichrom proposed this slot"
          aria-label={`Confirm the slot of ${r.name}`}
          onClick={() => edit({ edit: "load", do: "confirm", region: r.key })}
        >
          Confirm
        </button>
      )}
    </Card>
  );
}

/** What is to be said below a place: the worst that was found, else grams. */
function status(check: LoadCheck | undefined, need: SpoolNeed | undefined, spool: Spool | null) {
  if (check) return { words: check.brief || check.message, tone: tones[check.level], title: check.message };
  const needed = need ? need.model_g + need.purge_g + need.tower_g : 0;
  if (!spool) return { words: "empty", tone: "text-soft", title: undefined };
  return { words: need ? `takes ${grams(needed)} of ${fixed(spool.left_g, 0)} g` : spool.name, tone: "text-soft", title: undefined };
}

export function SlotCard({
  job,
  slot: s,
  next,
  need,
  check,
  ...at
}: Common & { job: JobView; slot: SlotView; next: SlotView | undefined; need: SpoolNeed | undefined; check: LoadCheck | undefined }) {
  const { edit } = useChanges(job.id);
  const word = job.machine.slot_word;
  const is = s.shares
    ? { words: s.shares.map((x) => `${fixed(100 * x, 1)} %`).join(" : "), tone: "text-soft", title: undefined }
    : status(check, need, s.spool);
  const onKey = (key: string) => {
    if (key !== "Delete" && key !== "Backspace") return false;
    if (s.spool) edit({ edit: "load-slot", slot: s.slot, spool: null });
    return true;
  };
  return (
    <Card
      end={{ is: "slot", slot: s.slot }}
      name={`${word} ${s.slot}, ${s.spool?.name ?? (s.shares ? is.words : "empty")}`}
      level={check?.level ?? "fine"}
      onKey={onKey}
      {...at}
    >
      {s.shares && <Swatch colour={s.colour} size={at.isLow ? 18 : 26} />}
      <Lines isLow={at.isLow} name={`${word} ${s.slot}`} below={is.words} tone={is.tone} {...(is.title ? { title: is.title } : {})} />
      {next && (
        <button
          type="button"
          aria-label={`${word} ${s.slot} and ${next.slot} change places`}
          title={`Change places with ${word.toLowerCase()} ${next.slot}: spools and regions go along`}
          className="absolute -bottom-[17px] right-2 z-10 grid size-5 place-items-center rounded-full border border-line bg-paper text-soft hover:border-plum hover:text-plum"
          onClick={() => edit({ edit: "load", do: "exchange", a: s.slot, b: next.slot })}
        >
          <ArrowDownUp size={11} aria-hidden />
        </button>
      )}
    </Card>
  );
}

export function FeedCard({
  job,
  feed: f,
  need,
  check,
  ...at
}: Common & { job: JobView; feed: PlaceView; need: SpoolNeed | undefined; check: LoadCheck | undefined }) {
  const { edit } = useChanges(job.id);
  const is = status(check, need, f.spool);
  const onKey = (key: string) => {
    if (key !== "Delete" && key !== "Backspace") return false;
    if (f.spool) edit({ edit: "load-slot", slot: f.place, spool: null });
    return true;
  };
  return (
    <Card
      end={{ is: "feed", place: f.place }}
      name={`Feed ${f.place}, ${f.spool?.name ?? "empty"}`}
      level={check?.level ?? "fine"}
      onKey={onKey}
      {...at}
    >
      <Lines isLow={at.isLow} name={`Feed ${f.place}`} below={is.words} tone={is.tone} {...(is.title ? { title: is.title } : {})} />
    </Card>
  );
}

/** A spool seen from its side: a ring of its colour. */
export function Ring({ colour, size }: { colour: string; size: number }) {
  return (
    <span
      className="grid shrink-0 place-items-center rounded-full border border-black/25"
      style={{ background: colour, width: size, height: size }}
      aria-hidden
    >
      <span className="rounded-full border border-black/20 bg-sheet" style={{ width: size * 0.34, height: size * 0.34 }} />
    </span>
  );
}

export function SpoolCard({ spool: s, isShort, onOpen, ...at }: Common & { spool: Spool; isShort: boolean; onOpen: () => void }) {
  const left = `${fixed(s.left_g, 0)} g left`;
  const onKey = (key: string) => {
    if (key === "F2") onOpen();
    return key === "F2";
  };
  return (
    <Card end={{ is: "spool", id: s.id }} name={`Spool ${s.name}, ${left}`} level={isShort ? "wrong" : "fine"} onKey={onKey} {...at}>
      <Ring colour={s.colour} size={at.isLow ? 22 : at.height - 16} />
      <Lines
        isLow={at.isLow}
        name={s.name}
        below={s.is_archived ? `archived, ${left}` : left}
        tone={isShort ? "text-wrong" : "text-soft"}
        title={`${s.material}, ${left}`}
      />
      <button
        type="button"
        aria-label={`Change ${s.name}`}
        title="Change this spool (F2)"
        className="shrink-0 text-faint hover:text-ink"
        onClick={onOpen}
      >
        <Pencil size={13} aria-hidden />
      </button>
    </Card>
  );
}
