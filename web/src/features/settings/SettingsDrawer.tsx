import { RotateCcw, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PrintSettingView } from "../../api/generated/PrintSettingView";
import { usePrinting, usePrintSettings } from "../../api/moves";
import { useBeadView } from "../../state/beadView";
import { fixed } from "../../ui/format";
import { ReadySets } from "./ReadySets";
import { SettingField } from "./SettingField";

const isSame = (a: unknown, b: unknown) =>
  typeof a === "number" && typeof b === "number" ? Math.abs(a - b) < 1e-9 : JSON.stringify(a) === JSON.stringify(b);

/** Whether a value differs from that of its ready set; one that is left to the plastic does not. */
const differs = (s: PrintSettingView) => s.value !== null && !isSame(s.value, s.usual);

function usualWords({ setting, usual }: PrintSettingView): string {
  const { kind } = setting;
  if (kind.is === "number") return `${fixed(Number(usual) * kind.factor, kind.digits)} ${kind.unit}`.trim();
  if (kind.is === "switch") return usual === true ? "on" : "off";
  if (kind.is === "choice") {
    const key = typeof usual === "string" ? usual : (usual as { is: string }).is;
    return kind.options.find(([k]) => k === key)?.[1] ?? key;
  }
  return String(usual) || "nothing";
}

/** How the job is printed, beside the beads: ready sets, and every setting by group, searched by typing. */
export function SettingsDrawer({ job, className }: { job: JobView; className: string }) {
  const setView = useBeadView((s) => s.set);
  const view = usePrintSettings(job.id, job.revision, true).data;
  const { set } = usePrinting(job.id);
  const [sought, setSought] = useState("");
  const [pointed, setPointed] = useState<PrintSettingView | null>(null);
  const search = useRef<HTMLInputElement>(null);
  useEffect(() => {
    search.current?.focus();
    // Another stage is not to open behind it.
    return () => setView({ isDrawerOpen: false });
  }, [setView]);
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const found = (view?.settings ?? []).filter(({ setting }) => {
    const text = `${setting.name} ${setting.group} ${setting.does}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
  const groups = [...new Set(found.map((s) => s.setting.group))];
  const changed = (view?.settings ?? []).filter(differs).length;
  const close = () => setView({ isDrawerOpen: false });
  const put = (s: PrintSettingView, value: unknown) => set.mutate({ set: "value", field: s.setting.field, value });
  return (
    <aside
      className={`flex flex-col border-line bg-sheet ${className}`}
      aria-label="How it prints"
      aria-busy={set.isPending}
      onKeyDown={(e) => {
        if (e.key === "Escape" && !e.defaultPrevented && e.target === search.current) close();
      }}
    >
      <div className="flex items-center gap-3 border-b border-line px-4 py-2">
        <h2 className="shrink-0 font-semibold">How it prints</h2>
        <input
          ref={search}
          type="search"
          aria-label="Search settings"
          placeholder="Search"
          className="min-w-0 flex-1 rounded-[4px] border border-line bg-paper px-2 py-0.5 outline-none focus:border-plum"
          value={sought}
          onChange={(e) => setSought(e.target.value)}
        />
        <button type="button" aria-label="Close" className="text-soft hover:text-ink" onClick={close}>
          <X size={16} aria-hidden />
        </button>
      </div>
      {view && <ReadySets sets={view.sets} onTake={(s) => set.mutate({ set: "all", printer: s.printer })} />}
      <div className="min-h-0 flex-1 overflow-y-auto px-4 pb-3">
        {groups.map((group) => (
          <section key={group} aria-label={group} className="pt-3">
            <h3 className="heading">{group}</h3>
            {found
              .filter((s) => s.setting.group === group)
              .map((s) => {
                const isText = s.setting.kind.is === "text";
                return (
                  <div
                    key={s.setting.field}
                    className={`flex min-h-[30px] justify-between gap-x-3 border-b border-line py-[3px] ${isText ? "flex-col" : "items-center"}`}
                    onPointerEnter={() => setPointed(s)}
                    onFocus={() => setPointed(s)}
                  >
                    <span className="flex min-w-0 items-baseline gap-2">
                      <span className={differs(s) ? "font-semibold" : ""}>{s.setting.name}</span>
                      {differs(s) && (
                        <button
                          type="button"
                          title="As in the ready set"
                          aria-label={`${s.setting.name}: back to ${usualWords(s)}`}
                          className="flex min-w-0 items-center gap-1 truncate text-[11.5px] text-look hover:underline"
                          onClick={() => put(s, s.setting.field === "printing.bed_c" ? null : s.usual)}
                        >
                          <RotateCcw size={10} className="shrink-0" aria-hidden />
                          {usualWords(s)}
                        </button>
                      )}
                      {s.value === null && <span className="text-[11.5px] text-soft">by the plastic</span>}
                    </span>
                    <SettingField view={s} onSet={(value) => put(s, value)} />
                  </div>
                );
              })}
          </section>
        ))}
        {view && found.length === 0 && <p className="pt-4 text-soft">No setting is called “{sought}”.</p>}
      </div>
      <div className="min-h-[74px] shrink-0 border-t border-line bg-paper px-4 py-2 text-[12px] leading-[17px]" aria-live="polite">
        {pointed ? (
          <>
            <p>
              <b>{pointed.setting.name}.</b> {pointed.setting.does}
            </p>
            <p className="text-soft">
              {pointed.setting.costs}
              {pointed.setting.kind.is === "number" && (
                <span className="figure">
                  {" "}
                  {fixed(pointed.setting.kind.least * pointed.setting.kind.factor, pointed.setting.kind.digits)} to{" "}
                  {fixed(pointed.setting.kind.most * pointed.setting.kind.factor, pointed.setting.kind.digits)} {pointed.setting.kind.unit}
                </span>
              )}
              {pointed.setting.kind.is === "text" &&
                " In braces: {layer}, {layers}, {z}, {slot}, {tool}, {spool}, {nozzle_c}, {bed_c}, {from_slot}."}
            </p>
          </>
        ) : (
          <p className="text-soft">
            {changed === 0
              ? "All as in the ready set."
              : `${changed} ${changed === 1 ? "value differs" : "values differ"} from the ready set. Each is marked, with the way back.`}
          </p>
        )}
      </div>
    </aside>
  );
}

/** Opens and closes the drawer. */
export function SettingsButton() {
  const isOpen = useBeadView((s) => s.isDrawerOpen);
  const set = useBeadView((s) => s.set);
  return (
    <button
      type="button"
      aria-pressed={isOpen}
      className={`rounded-[4px] border bg-sheet px-2 py-0.5 font-medium hover:border-faint ${isOpen ? "border-plum text-plum" : "border-line"}`}
      onClick={() => set({ isDrawerOpen: !isOpen })}
    >
      How it prints
    </button>
  );
}
