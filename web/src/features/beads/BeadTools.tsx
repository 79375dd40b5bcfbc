import { ToggleGroup } from "radix-ui";
import type { MoveData } from "../../api/moveData";
import { kindNames } from "../../api/moveData";
import { kindColours, onRamp, speedsOf, type BeadsBy } from "../../scene/beads/colours";
import { useBeadView } from "../../state/beadView";
import { useOf } from "../../state/useOf";

const ways: [BeadsBy, string, string][] = [
  ["spool", "spool", "In the colours of the spools"],
  ["kind", "kind", "By what each bead is for"],
  ["speed", "speed", "From slow to fast"],
  ["age", "age", "From first to last of the layer"],
];

const hex = (share: number) => `rgb(${onRamp(share).map(Math.round).join(" ")})`;

/** By what beads are coloured, and what is shown beside them. */
export function BeadTools({ hasKinds = true }: { hasKinds?: boolean }) {
  const view = useOf(useBeadView, "by", "hasSeams", "hasTower", "hasTravel", "isStacked", "set");
  const flip = (what: "hasSeams" | "hasTower" | "hasTravel" | "isStacked", name: string, why: string) => (
    <button
      type="button"
      aria-pressed={view[what]}
      title={why}
      disabled={view.isStacked && what !== "isStacked"}
      className={`disabled:opacity-40 ${view[what] ? "font-semibold text-plum" : "text-soft hover:text-ink"}`}
      onClick={() => view.set({ [what]: !view[what] })}
    >
      {name}
    </button>
  );
  return (
    <div className="flex items-baseline gap-x-2.5 whitespace-nowrap text-[12.5px]">
      <ToggleGroup.Root
        type="single"
        value={view.by}
        onValueChange={(by) => by && view.set({ by: by as BeadsBy })}
        className="flex items-baseline gap-1.5"
        aria-label="Beads by"
      >
        <span className="text-soft">by</span>
        {ways
          .filter(([value]) => hasKinds || value !== "kind")
          .map(([value, name, why], i) => (
            <span key={value} className="flex items-baseline gap-1.5">
              {i > 0 && (
                <span className="text-faint" aria-hidden>
                  ·
                </span>
              )}
              <ToggleGroup.Item
                value={value}
                title={why}
                className="text-soft hover:text-ink data-[state=on]:font-semibold data-[state=on]:text-ink"
              >
                {name}
              </ToggleGroup.Item>
            </span>
          ))}
      </ToggleGroup.Root>
      {flip("hasTravel", "travel", "Ways of the nozzle on which nothing is laid")}
      {flip("hasTower", "tower", "Have the purge tower in view as well")}
      {flip("hasSeams", "seams", "Where walls begin, and where filament is pulled back")}
      {flip("isStacked", "stacked", "All layers up to this one, on the bench")}
    </div>
  );
}

/** What the colours say, where they are not the spools'. */
export function BeadLegend({ data, by }: { data: MoveData; by: BeadsBy }) {
  if (by === "spool") return null;
  if (by === "kind") {
    const used = new Set(data.kinds);
    return (
      <ul className="flex flex-wrap gap-x-3 gap-y-0.5 text-[11.5px] text-soft" aria-label="Kinds of beads">
        {kindNames.map((name, kind) =>
          used.has(kind) ? (
            <li key={name} className="flex items-center gap-1">
              <span className="size-2.5 rounded-[2px]" style={{ background: kindColours[kind] }} aria-hidden />
              {name}
            </li>
          ) : null,
        )}
      </ul>
    );
  }
  const [low, high] = by === "speed" ? speedsOf(data).map((v) => `${Math.round(v)} mm/s`) : ["first", "last"];
  return (
    <p className="figure flex items-center gap-2 text-[11.5px] text-soft">
      {low}
      <span
        className="h-2.5 w-28 rounded-[2px]"
        style={{ background: `linear-gradient(90deg, ${[0, 1 / 3, 2 / 3, 1].map(hex).join(", ")})` }}
        aria-hidden
      />
      {high}
    </p>
  );
}
