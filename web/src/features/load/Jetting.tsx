import type { JobView } from "../../api/generated/JobView";
import type { LoadView } from "../../api/generated/LoadView";
import type { ModelView } from "../../api/generated/ModelView";
import type { PartView } from "../../api/generated/PartView";
import { useChanges } from "../../api/queries";
import { ColourField } from "../../ui/ColourField";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { Swatch } from "../../ui/Swatch";
import { Tabs } from "radix-ui";
import { CheckList } from "./CheckList";
import { Greys } from "./Greys";
import { PrinterForm } from "./PrinterForm";
import { PrinterSelect } from "./PrinterSelect";

/** What a jetting machine is told instead of slots: the colour of every region, and what every part is made of. */
export function Jetting({ job, load }: { job: JobView; load: LoadView | undefined }) {
  const wrong = load?.checks.filter((c) => c.level !== "fine").length ?? 0;
  const tabs: [string, string][] = [
    ["checks", wrong > 0 ? `Before it is printed \u00b7 ${wrong}` : "Before it is printed"],
    ["printer", "Printer"],
    ["greys", "As greys"],
  ];
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto grid max-w-[1080px] grid-cols-[minmax(0,5fr)_minmax(0,7fr)] gap-x-12 px-6 py-6">
        <section aria-label="Colours">
          <header className="flex h-8 items-center justify-between">
            <h2 className="heading">Colours, as they are printed</h2>
          </header>
          <Colours job={job} />
        </section>
        <section aria-label="Parts and what they are made of">
          <header className="flex h-8 items-center justify-between gap-4">
            <h2 className="heading">What each part is made of</h2>
            <PrinterSelect job={job} className="w-60" />
          </header>
          <Parts job={job} />
        </section>
        <Tabs.Root defaultValue="checks" className="col-span-2 mt-8">
          <Tabs.List className="flex gap-5 border-b border-line">
            {tabs.map(([value, name]) => (
              <Tabs.Trigger
                key={value}
                value={value}
                className="-mb-px whitespace-nowrap border-b-2 border-transparent py-1.5 font-semibold text-soft hover:text-ink data-[state=active]:border-plum data-[state=active]:text-ink"
              >
                {name}
              </Tabs.Trigger>
            ))}
          </Tabs.List>
          <Tabs.Content value="checks">
            <CheckList job={job} load={load} />
          </Tabs.Content>
          <Tabs.Content value="printer">
            <PrinterForm job={job} load={load} />
          </Tabs.Content>
          <Tabs.Content value="greys">
            <Greys job={job} load={load} />
          </Tabs.Content>
        </Tabs.Root>
      </div>
    </div>
  );
}

function Colours({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
  return (
    <ul>
      {job.regions.map((r) => {
        const rgb = [1, 3, 5].map((i) => parseInt(r.colour.slice(i, i + 2), 16));
        return (
          <li key={r.key} className="flex items-center gap-3 border-b border-line py-1.5">
            <Swatch colour={r.colour} size={22} />
            <span className="min-w-0 flex-1 truncate font-medium" title={r.name}>
              {r.name}
            </span>
            <span className="figure text-[11.5px] text-soft" title="Red, green and blue, 0 to 255">
              {rgb.join(" ")}
            </span>
            <ColourField
              label={`Colour of ${r.name}`}
              value={r.colour}
              onCommit={(colour) => edit({ edit: "recolour-region", region: r.key, colour })}
            />
          </li>
        );
      })}
    </ul>
  );
}

function Parts({ job }: { job: JobView }) {
  const parts = job.models.flatMap((model) => model.parts.map((part) => ({ model, part })));
  return (
    <ul>
      {parts.map(({ model, part }) => (
        <Part key={part.key} job={job} model={model} part={part} />
      ))}
    </ul>
  );
}

function Part({ job, model, part }: { job: JobView; model: ModelView; part: PartView }) {
  const { edit } = useChanges(job.id);
  const materials = job.printer.materials ?? [];
  const own = job.regions.find((r) => r.number === part.own);
  const say = (change: { material?: string | null; opacity?: number }) =>
    edit({
      edit: "part",
      do: "made-of",
      at: { model: model.name, point: part.point, normal: part.normal },
      material: change.material === undefined ? (part.made_of ?? null) : change.material,
      opacity: change.opacity ?? part.opacity,
    });
  const value = part.made_of ?? materials[0]?.name ?? "";
  const isThere = materials.some((m) => m.name === value);
  return (
    <li className="flex items-center gap-3 border-b border-line py-1.5">
      <Swatch colour={own?.colour ?? "#888888"} size={16} />
      <span className="min-w-0 flex-1 truncate font-medium" title={part.name}>
        {part.name}
      </span>
      <Select
        label={`What ${part.name} is made of`}
        value={value}
        className="w-36"
        options={[
          ...(isThere ? [] : [{ value, label: `${value}, not there` }]),
          ...materials.map((m) => ({
            value: m.name,
            label: m.nature.is === "rubber" ? `${m.name}, Shore A ${m.nature.shore_a}` : m.name,
          })),
        ]}
        onChange={(name) => say({ material: name === materials[0]?.name ? null : name })}
      />
      <span className="flex items-center gap-1.5 text-soft">
        hides
        <NumberField
          label={`How much ${part.name} hides`}
          value={part.opacity}
          unit="%"
          factor={100}
          digits={0}
          width={74}
          range={{ low: 0, high: 100 }}
          onCommit={(opacity) => say({ opacity })}
        />
      </span>
    </li>
  );
}
