import type { DrawingView } from "../../api/generated/DrawingView";
import type { Fate } from "../../api/generated/Fate";
import type { Flatwork } from "../../api/generated/Flatwork";
import type { InkChoice } from "../../api/generated/InkChoice";
import { LengthField } from "../../ui/LengthField";
import { NameField } from "../../ui/NameField";
import { Select } from "../../ui/Select";
import { Swatch } from "../../ui/Swatch";

type Say = (change: Partial<Flatwork>) => void;

const fates: Record<string, Fate> = { body: { is: "body" }, "left-out": { is: "left-out" }, hole: { is: "hole" } };

/** The colours, each with what becomes of it and how thick it is. */
export function Inks({ view, work, say }: { view: DrawingView; work: Flatwork; say: Say }) {
  const put = (at: number, change: Partial<InkChoice>) =>
    say({ inks: work.inks.map((choice, i) => (i === at ? { ...choice, ...change } : choice)) });
  const thick = work.inks[0]?.thickness_mm ?? 0.4;
  const isOne = work.inks.every((i) => i.thickness_mm === thick);
  const name = (at: number) => work.inks[at]?.name ?? view.inks[at]?.name ?? "";
  return (
    <section className="mt-4" aria-label="Colours">
      <div className="flex items-center justify-between border-b border-line pb-1.5">
        <h2 className="heading">Colours become bodies</h2>
        {isOne ? (
          <span className="flex items-center gap-1.5 text-soft">
            all
            <LengthField
              label="Thickness of all colours"
              value={thick}
              digits={2}
              width={76}
              isLow
              onCommit={(mm) => say({ inks: work.inks.map((i) => ({ ...i, thickness_mm: mm })) })}
            />
          </span>
        ) : (
          <button
            type="button"
            className="font-semibold text-plum hover:underline"
            onClick={() => say({ inks: work.inks.map((i) => ({ ...i, thickness_mm: thick })) })}
          >
            all as thick
          </button>
        )}
      </div>
      <ul>
        {view.inks.map((ink, at) => {
          const choice = work.inks[at];
          if (!choice) return null;
          const fate = choice.fate ?? { is: "body" };
          const options = [
            { value: "body", label: "a body" },
            ...view.inks.flatMap((_, i) =>
              i !== at && (work.inks[i]?.fate?.is ?? "body") === "body" ? [{ value: `with ${i}`, label: `joins ${name(i)}` }] : [],
            ),
            { value: "left-out", label: "left out" },
            { value: "hole", label: "a hole" },
          ];
          const value = fate.is === "joins" ? `with ${fate.with}` : fate.is;
          return (
            <li key={at} className="flex items-center gap-2.5 border-b border-line py-1.5" aria-label={name(at)}>
              <Swatch colour={choice.colour ?? ink.colour} size={22} />
              <span className="min-w-0 flex-1">
                <NameField
                  label={`Name of ${ink.name}`}
                  value={name(at)}
                  onCommit={(typed) => put(at, { name: typed })}
                  className="block w-full font-semibold"
                />
                <span className="figure block truncate text-[11.5px] text-soft">
                  {ink.area_mm2.toFixed(ink.area_mm2 < 100 ? 1 : 0)} mm² · {ink.pieces === 1 ? "1 piece" : `${ink.pieces} pieces`}
                </span>
              </span>
              <Select
                label={`What becomes of ${ink.name}`}
                value={value}
                options={options}
                className="h-6 w-[94px] py-0!"
                onChange={(to) =>
                  put(at, { fate: to.startsWith("with ") ? { is: "joins", with: Number(to.slice(5)) } : (fates[to] ?? { is: "body" }) })
                }
              />
              {fate.is === "body" ? (
                <LengthField
                  label={`Thickness of ${ink.name}`}
                  value={choice.thickness_mm}
                  digits={2}
                  width={78}
                  isLow
                  onCommit={(mm) => put(at, { thickness_mm: mm })}
                />
              ) : (
                <span className="w-[78px] shrink-0" />
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
