import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refused } from "../../api/client";
import type { Problem } from "../../api/generated/Problem";
import type { Stacking } from "../../api/generated/Stacking";
import type { WedgeView } from "../../api/generated/WedgeView";
import { keys, useRack } from "../../api/queries";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { Select } from "../../ui/Select";

const steps = [0, 1, 2, 3, 4, 6, 8] as const;

/** A step wedge of two spools: printed once, its colours say how well the upper one hides. */
export function Wedge({ stacking }: { stacking: Stacking }) {
  const queries = useQueryClient();
  const rack = useRack();
  const [of, setOf] = useState(1);
  const [colours, setColours] = useState<Record<number, string>>({});
  const [read, setRead] = useState<WedgeView | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const spool = stacking.spools[of] ?? stacking.spools[0];
  const below = stacking.spools.find((s) => s !== spool);
  if (!spool || !below) return null;
  const run = async (work: () => Promise<void>) => {
    setProblem(null);
    try {
      await work();
    } catch (e) {
      if (e instanceof Refused) setProblem(e.problem);
    }
  };
  const make = () =>
    run(async () => {
      let made = await api.wedge({ ...stacking, spools: [below, spool], in_order: true });
      while (made.state.state === "opening") made = await api.staged(made.id);
      const [job] = await api.assemble({ staged: [made.id], arrangement: "together" });
      if (job) go(`/jobs/${job.id}/intake`);
    });
  const typed = steps.filter((n) => colours[n]);
  const work = () =>
    run(async () => {
      const seen = typed.map((layers) => ({ layers, colour: colours[layers] ?? "#000000" }));
      setRead(await api.readWedge({ colour: spool.colour, layer_mm: stacking.layer_mm, steps: seen }));
    });
  const keep = () =>
    run(async () => {
      const own = rack.data?.spools.find((s) => s.name === spool.name && s.colour === spool.colour);
      if (!own || !rack.data || !read) return;
      await api.changeRack(rack.data.revision, [{ do: "change", id: own.id, fields: { opacity: read.opacity } }]);
      await queries.invalidateQueries({ queryKey: keys.rack });
      setRead(null);
    });
  return (
    <details className="border-t border-line pt-3">
      <summary className="heading cursor-pointer">Step wedge: how well a spool hides</summary>
      <p className="mt-2 text-soft">
        Print it once: {below.name} below, {spool.name} one layer higher from step to step. Then pick each step's colour from a photo.
      </p>
      <div className="mt-2 flex items-center justify-between gap-2">
        <Select
          label="Spool of the wedge"
          value={String(of)}
          options={stacking.spools.map((s, i) => ({ value: String(i), label: s.name }))}
          className="h-6 min-w-0 flex-1 py-0!"
          onChange={(v) => {
            setOf(Number(v));
            setRead(null);
          }}
        />
        <Button onClick={() => void make()}>Make the wedge</Button>
      </div>
      <ul className="mt-2 grid grid-cols-2 gap-x-4">
        {steps.map((n) => (
          <li key={n} className="flex items-center justify-between border-b border-line py-1 text-soft">
            {n === 0 ? "bare base" : n === 1 ? "1 layer" : `${n} layers`}
            <input
              type="color"
              aria-label={`Colour of ${n === 0 ? "the bare base" : `${n} layers`}`}
              className={`h-5 w-8 cursor-pointer ${colours[n] ? "" : "opacity-40"}`}
              value={colours[n] ?? (n === 0 ? below.colour : spool.colour)}
              onChange={(e) => setColours({ ...colours, [n]: e.target.value })}
            />
          </li>
        ))}
      </ul>
      <div className="mt-2 flex items-center justify-between gap-2">
        <span className="figure text-soft" role="status">
          {read ? `hides ${(100 * read.opacity).toFixed(1)} %, off by ${read.mean_difference.toFixed(1)}` : `${typed.length} steps picked`}
        </span>
        {read ? (
          <Button onClick={() => void keep()}>Keep it with the spool</Button>
        ) : (
          <Button onClick={() => void work()}>Work it out</Button>
        )}
      </div>
      {problem && (
        <p role="alert" className="mt-1">
          <span className="text-wrong">✕ {problem.message}.</span> <span className="text-soft">{problem.mend}</span>
        </p>
      )}
    </details>
  );
}
