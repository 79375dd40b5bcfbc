import type { DrawingOptions } from "../../../api/generated/DrawingOptions";
import type { FlatView } from "../../../api/generated/FlatView";
import type { JobView } from "../../../api/generated/JobView";
import { useLaying } from "../../../state/laying";
import { NumberField } from "../../../ui/NumberField";
import { Tick } from "../../../ui/Tick";
import type { Lay } from "./useLay";

const isPicture = (name: string) => !/\.svg$/i.test(name);

/** How the drawing is read: in how many colours or in those that are loaded, and how light a picture is taken. */
export function Reading({ job, flat, lay }: { job: JobView; flat: FlatView; lay: Lay }) {
  const { options, file } = useLaying();
  const read = (change: Partial<DrawingOptions>) => lay.change({ options: { ...options, ...change }, takers: [] });
  const loaded = [...new Set(job.slots.filter((s) => s.spool !== null).map((s) => s.colour))];
  const isLoaded = options.palette !== undefined;
  const all = (on: boolean) => {
    const rest = { ...options };
    delete rest.palette;
    lay.change({ options: on ? { ...rest, palette: loaded } : rest, takers: [] });
  };
  return (
    <>
      <div className="flex items-center justify-between text-soft">
        <label className={`flex items-center gap-2 ${isLoaded ? "opacity-40" : ""}`}>
          Colours
          <NumberField
            label="Colours of the drawing"
            value={options.colours ?? flat.inks.length}
            unit=""
            digits={0}
            width={46}
            range={{ low: 1, high: 32 }}
            onCommit={(n) => read({ colours: Math.round(n) })}
          />
        </label>
        {loaded.length > 1 && (
          <Tick isOn={isLoaded} title="Every place gets the nearest colour of the spools that are loaded" onChange={all}>
            Only loaded
          </Tick>
        )}
      </div>
      {file && isPicture(file.name) && (
        <div className="flex items-center justify-between text-soft">
          <label className="flex items-center gap-2">
            Lighter
            <NumberField
              label="Lighter"
              value={100 * (options.brightness ?? 0)}
              unit="%"
              digits={0}
              width={56}
              range={{ low: -100, high: 100 }}
              onCommit={(n) => read({ brightness: n / 100 })}
            />
          </label>
          <label className="flex items-center gap-2">
            Contrast
            <NumberField
              label="Contrast"
              value={100 * (options.contrast ?? 0)}
              unit="%"
              digits={0}
              width={56}
              range={{ low: -100, high: 100 }}
              onCommit={(n) => read({ contrast: n / 100 })}
            />
          </label>
        </div>
      )}
    </>
  );
}
