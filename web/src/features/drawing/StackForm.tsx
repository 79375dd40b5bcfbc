import { useRack } from "../../api/queries";
import type { Spool } from "../../api/generated/Spool";
import type { Stacking } from "../../api/generated/Stacking";
import { limits } from "../../api/generated/limits";
import { NumberField } from "../../ui/NumberField";
import { Swatch } from "../../ui/Swatch";
import { Tick } from "../../ui/Tick";
import type { OnTable } from "./useDrawing";

const spoolOf = ({ name, colour, opacity }: Spool) => ({ name, colour, opacity });

/** The stack that is proposed first: the darkest and the lightest spool that hide, in thin layers. */
export function firstStack(rack: Spool[]): Stacking {
  const light = (s: Spool) =>
    parseInt(s.colour.slice(1, 3), 16) + 2 * parseInt(s.colour.slice(3, 5), 16) + parseInt(s.colour.slice(5, 7), 16);
  const sorted = rack.filter((s) => !s.is_archived).sort((a, b) => light(a) - light(b));
  const ends = [sorted[0], sorted[sorted.length - 1]].filter((s) => s !== undefined);
  return { spools: ends.map(spoolOf), in_order: false, first_layer_mm: 0.2, layer_mm: 0.08, base_layers: 4, most_layers: 12 };
}

/** Which spools a picture is stacked of, and how its layers are. */
export function StackForm({ table, stacking }: { table: OnTable; stacking: Stacking }) {
  const rack = useRack();
  const say = (change: Partial<Stacking>) => table.stack({ ...stacking, ...change });
  const isOn = (s: Spool) => stacking.spools.some((o) => o.name === s.name && o.colour === s.colour);
  const turn = (s: Spool, on: boolean) =>
    say({
      spools: on ? [...stacking.spools, spoolOf(s)] : stacking.spools.filter((o) => o.name !== s.name || o.colour !== s.colour),
    });
  const up = (at: number) => {
    const spools = [...stacking.spools];
    const [own] = spools.splice(at, 1);
    if (own) spools.splice(at + 1, 0, own);
    say({ spools, in_order: true });
  };
  const number = (
    label: string,
    value: number,
    digits: number,
    unit: string,
    limit: { low: number; high: number },
    put: (n: number) => void,
  ) => (
    <div className="flex items-center justify-between border-b border-line py-1">
      <span className="text-soft">{label}</span>
      <NumberField
        label={label}
        value={value}
        unit={unit}
        digits={digits}
        width={84}
        isLow
        range={limit}
        onCommit={(n) => put(digits ? n : Math.round(n))}
      />
    </div>
  );
  const spools = (rack.data?.spools ?? []).filter((s) => !s.is_archived || isOn(s));
  return (
    <>
      <section className="mt-4" aria-label="Spools it is stacked of">
        <h2 className="heading border-b border-line pb-1.5">Spools it is stacked of</h2>
        <ul>
          {spools.map((s) => (
            <li key={s.id} className="flex items-center gap-2.5 border-b border-line py-1">
              <Tick isOn={isOn(s)} onChange={(on) => turn(s, on)}>
                <Swatch colour={s.colour} size={16} />
                {s.name}
              </Tick>
              <span
                className="figure ml-auto text-[11.5px] text-soft"
                title="Opacity: how light 1 mm is on black, as a share of how light it is on white"
              >
                hides {Math.round(100 * s.opacity)} %
              </span>
            </li>
          ))}
        </ul>
        {spools.length === 0 && <p className="text-soft">The rack has no spools. Put some on it in Load.</p>}
      </section>
      <section className="mt-4" aria-label="Order of the spools">
        <div className="flex items-center justify-between border-b border-line pb-1.5">
          <h2 className="heading">From the bed up</h2>
          <Tick
            isOn={!stacking.in_order}
            onChange={(on) => {
              const found = table.stacked?.spools.map((s) => s.name) ?? [];
              const by = (name: string) => (found.includes(name) ? found.indexOf(name) : 99);
              say({ in_order: !on, spools: [...stacking.spools].sort((a, b) => by(a.name) - by(b.name)) });
            }}
          >
            the best order
          </Tick>
        </div>
        {stacking.in_order && (
          <ol>
            {stacking.spools.map((s, at) => (
              <li key={s.name} className="flex items-center gap-2 border-b border-line py-1">
                <Swatch colour={s.colour} size={16} />
                <span className="min-w-0 flex-1 truncate">{s.name}</span>
                {at + 1 < stacking.spools.length && (
                  <button type="button" className="text-plum hover:underline" onClick={() => up(at)} aria-label={`${s.name} one up`}>
                    one up
                  </button>
                )}
              </li>
            ))}
          </ol>
        )}
      </section>
      <section className="mt-4" aria-label="Layers">
        <h2 className="heading border-b border-line pb-1.5">Layers</h2>
        {number("First layer", stacking.first_layer_mm, 2, "mm", limits.stackMm, (n) => say({ first_layer_mm: n }))}
        {number("Every other layer", stacking.layer_mm, 2, "mm", limits.stackMm, (n) => say({ layer_mm: n }))}
        {number("Layers everywhere", stacking.base_layers, 0, "", limits.stackBase, (n) => say({ base_layers: n }))}
        {number("Layers on those, at most", stacking.most_layers, 0, "", limits.stackLayers, (n) => say({ most_layers: n }))}
      </section>
    </>
  );
}
