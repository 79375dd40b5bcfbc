import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refused } from "../../api/client";
import type { AskMixture } from "../../api/generated/AskMixture";
import type { JobView } from "../../api/generated/JobView";
import type { MixtureView } from "../../api/generated/MixtureView";
import type { NamedColour } from "../../api/generated/NamedColour";
import type { SlotView } from "../../api/generated/SlotView";
import { useChanges, useDeskChanges, usePalettes } from "../../api/queries";
import { useNotice } from "../../state/notice";
import { fixed } from "../../ui/format";
import { Menu, MenuItem } from "../../ui/Menu";
import { NumberField } from "../../ui/NumberField";
import { Swatch } from "../../ui/Swatch";

/** What each mixture is made of: by hand, or looked for from the colour of its regions. */
export function Mixtures({ job }: { job: JobView }) {
  const used = job.slots.filter((s) => job.regions.some((r) => r.slot === s.slot));
  const least = job.machine.mixes?.least_share ?? 0;
  const palettes = usePalettes().data?.palettes ?? [];
  const { setPalettes } = useDeskChanges(job.id);
  const kept = palettes.flatMap((p) => p.colours).filter((c) => c.shares?.length === job.places.length);
  const keep = () => {
    const name = `${job.name}, mixtures`;
    const colours = used.map((s) => ({
      name: `${job.regions
        .filter((r) => r.slot === s.slot)
        .map((r) => r.name)
        .join(", ")}: ${inPercent(s.shares ?? [])}`,
      colour: s.colour,
      ...(s.shares ? { shares: s.shares } : {}),
    }));
    setPalettes({ palettes: [...palettes.filter((p) => p.name !== name), { name, colours }] });
  };
  return (
    <div className="py-2">
      <div className="flex items-baseline justify-between pb-2">
        <p className="text-soft">
          Shares sum to 100 %, each at least <span className="figure">{fixed(100 * least, 1)} %</span>: a feed that stands still clogs.
        </p>
        <button type="button" className="font-semibold text-plum hover:underline" title="Keep these mixtures for other jobs" onClick={keep}>
          Keep as palette
        </button>
      </div>
      <ul className="border-t border-line" aria-label="Mixtures">
        {used.map((s) => (
          <MixtureRow key={s.slot} job={job} slot={s} kept={kept} />
        ))}
      </ul>
    </div>
  );
}

const inPercent = (shares: number[]) => shares.map((x) => `${fixed(100 * x, 1)} %`).join(" : ");

function MixtureRow({ job, slot: s, kept }: { job: JobView; slot: SlotView; kept: NamedColour[] }) {
  const { edit } = useChanges(job.id);
  const show = useNotice((n) => n.show);
  const [found, setFound] = useState<MixtureView | null>(null);
  const ask = useMutation({
    mutationFn: (asked: AskMixture) => api.mixture(job.id, asked),
    onError: (e) => e instanceof Refused && show(e.problem),
    onSuccess: (m) => {
      setFound(m);
      edit({ edit: "load", do: "mixture", slot: s.slot, shares: m.shares });
    },
  });
  const regions = job.regions.filter((r) => r.slot === s.slot);
  const shares = s.shares ?? [];
  const wanted = regions[0]?.colour;
  return (
    <li className="flex items-center gap-3 border-b border-line py-2">
      <span className="flex" title={`Wanted ${wanted ?? ""}, comes out ${s.colour}`}>
        <Swatch colour={wanted ?? s.colour} />
        <Swatch colour={s.colour} />
      </span>
      <span className="min-w-0 flex-1">
        <span className="block truncate font-medium">
          Mixture {s.slot}: {regions.map((r) => r.name).join(", ")}
        </span>
        <span className="mt-1 flex h-2 w-56 overflow-hidden rounded-full border border-black/20" aria-hidden>
          {shares.map((x, i) => (
            <span key={i} style={{ width: `${100 * x}%`, background: job.places[i]?.spool?.colour ?? "#fff" }} />
          ))}
        </span>
      </span>
      {shares.map((x, i) => (
        <label key={i} className="flex flex-col items-end gap-0.5 text-[11px] text-soft" title={job.places[i]?.spool?.name ?? "empty"}>
          Feed {i + 1}
          <NumberField
            label={`Share of feed ${i + 1} in mixture ${s.slot}`}
            value={x}
            factor={100}
            digits={1}
            unit="%"
            width={72}
            onCommit={(share) => ask.mutate({ by: "share", shares, index: i, share })}
          />
        </label>
      ))}
      <span className="w-36 shrink-0 text-right">
        <button
          type="button"
          className="block w-full text-right font-semibold text-plum hover:underline"
          disabled={ask.isPending || !wanted}
          onClick={() => wanted && ask.mutate({ by: "colour", colour: wanted })}
        >
          {ask.isPending ? "Looking" : "Come nearest"}
        </button>
        {kept.length > 0 && (
          <Menu
            trigger={
              <button type="button" className="text-[12px] text-plum hover:underline">
                From a palette
              </button>
            }
          >
            {kept.map((c, i) => (
              <MenuItem key={i} onSelect={() => edit({ edit: "load", do: "mixture", slot: s.slot, shares: c.shares ?? [] })}>
                {c.name}
              </MenuItem>
            ))}
          </Menu>
        )}
        {found?.difference != null && (
          <span className="figure text-[12px] text-soft" role="status">
            differs by {fixed(found.difference, 1)}
          </span>
        )}
      </span>
    </li>
  );
}
