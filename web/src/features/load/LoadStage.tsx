import { Tabs } from "radix-ui";
import { useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Spool } from "../../api/generated/Spool";
import { useLoad } from "../../api/loading";
import { usePlan, useRack } from "../../api/queries";
import { Trouble, Waiting } from "../../ui/states";
import { Cautions } from "../plan/Cautions";
import { useLatestPlan } from "../score/useLatestPlan";
import { Bay } from "./bay/Bay";
import { bayWidth, columns, shapeOf } from "./bay/layout";
import { isMixing } from "./bay/ends";
import { BayHeads } from "./BayHeads";
import { CheckList } from "./CheckList";
import { Greys } from "./Greys";
import { Jetting } from "./Jetting";
import { Ledger } from "./Ledger";
import { Mixtures } from "./Mixtures";
import { PrinterForm } from "./PrinterForm";
import { SpoolEditor } from "./SpoolEditor";
import { WalkAlong } from "./WalkAlong";

/** Regions to slots to spools, checked against the rack and the printer. */
export function LoadStage({ job }: { job: JobView }) {
  const rack = useRack();
  const plan = usePlan(job.id).data;
  const latest = useLatestPlan(plan);
  const load = useLoad(job.id, job.revision, plan?.state === "ready" ? plan.revision : undefined).data;
  const [spool, setSpool] = useState<Spool | "new" | null>(null);
  if (job.machine.jets) return <Jetting job={job} load={load} />;
  if (rack.isPending) return <Waiting what="Looking at the rack" />;
  if (rack.error) return <Trouble error={rack.error} retry={() => void rack.refetch()} />;
  const { upper } = shapeOf(job, rack.data);
  const wrong = load?.checks.filter((c) => c.level !== "fine").length ?? 0;
  const tabs = [
    ["checks", wrong > 0 ? `Before you load \u00b7 ${wrong}` : "Before you load"],
    ["walk", "Walk along the machine"],
    ["printer", "Printer"],
    ...(isMixing(job) ? [["mixtures", "Mixtures"]] : []),
    ["greys", "As greys"],
    ["ledger", "Ledger"],
  ] as [string, string][];
  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto py-6" style={{ width: bayWidth }}>
        <BayHeads job={job} rack={rack.data} load={load} onNew={() => setSpool("new")} />
        <div className="grid">
          <div className="[grid-area:1/1]">
            <Bay job={job} rack={rack.data} load={load} plan={latest?.plan} onSpool={setSpool} />
          </div>
          <Tabs.Root
            defaultValue="checks"
            className="z-10 self-start [grid-area:1/1]"
            style={{ marginTop: upper + 14, width: columns.slots.left + columns.slots.width }}
          >
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
              <Cautions job={job} cautions={(latest?.plan.cautions ?? []).filter((c) => c.is_wrong)} isFree />
              <CheckList job={job} load={load} />
            </Tabs.Content>
            <Tabs.Content value="walk">
              <WalkAlong job={job} load={load} />
            </Tabs.Content>
            <Tabs.Content value="printer">
              <PrinterForm job={job} load={load} />
            </Tabs.Content>
            <Tabs.Content value="mixtures">
              <Mixtures job={job} />
            </Tabs.Content>
            <Tabs.Content value="greys">
              <Greys job={job} load={load} />
            </Tabs.Content>
            <Tabs.Content value="ledger">
              <Ledger job={job} rack={rack.data} load={load} />
            </Tabs.Content>
          </Tabs.Root>
        </div>
      </div>
      {spool && <SpoolEditor job={job} rack={rack.data} spool={spool === "new" ? null : spool} onClose={() => setSpool(null)} />}
    </div>
  );
}
