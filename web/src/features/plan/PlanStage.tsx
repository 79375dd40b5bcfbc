import { Tabs } from "radix-ui";
import { useSnags } from "../../api/planning";
import { usePlan } from "../../api/queries";
import type { JobView } from "../../api/generated/JobView";
import { useBeadView } from "../../state/beadView";
import { useBench } from "../../state/bench";
import { usePlanPanes } from "../../state/planPanes";
import { go } from "../../state/route";
import { SettingsDrawer } from "../settings/SettingsDrawer";
import { SwapScore } from "../score/SwapScore";
import { useLatestPlan } from "../score/useLatestPlan";
import { BillHead } from "./BillHead";
import { BillSheet } from "./BillSheet";
import { Cautions } from "./Cautions";
import { JettingPlan } from "./JettingPlan";
import { LayerPane } from "./LayerPane";
import { OrderPane } from "./OrderPane";
import { PurgePane } from "./PurgePane";
import { RinseStrips } from "./RinseStrips";
import { SnagList } from "./SnagList";
import { TooThin } from "./TooThin";
import { WaysTable } from "./WaysTable";
import { useOf } from "../../state/useOf";

const tabs = [
  ["rinse", "Rinse", "How each pair washes out, and where it counts as clean"],
  ["order", "Order", "What the order makes least, and what is asked of it"],
  ["purge", "Purge", "Where purged plastic goes"],
  ["ways", "Ways", "Ways to run this job, side by side"],
  ["snags", "Snags", "Places where a small change saves something"],
  ["bill", "Bill", "Every figure, down to single swaps"],
] as const;

/** The score large, the layer under its cursor in true colours, and beside it what it costs, why, and what would be cheaper. */
export function PlanStage({ job }: { job: JobView }) {
  return job.machine.jets ? <JettingPlan job={job} /> : <SwapPlan job={job} />;
}

function SwapPlan({ job }: { job: JobView }) {
  const plan = usePlan(job.id).data;
  const latest = useLatestPlan(plan);
  const layer = useBench((s) => s.layer);
  const isDrawerOpen = useBeadView((s) => s.isDrawerOpen);
  const { planTab, setPlanTab } = useOf(usePlanPanes, "planTab", "setPlanTab");
  const snags = useSnags(job.id, job.revision).data;
  const found = (snags?.snags ?? []).filter((s) => s.accepted === null);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_452px] grid-rows-[232px_minmax(0,1fr)]">
      <section className="col-span-2 border-b border-line bg-sheet" aria-label="Swap score">
        <SwapScore job={job} plan={plan} height={231} snags={found} />
      </section>
      <LayerPane job={job} plan={latest} layer={Math.min(layer, Math.max(0, (latest?.plan.layers.length ?? 1) - 1))} />
      {isDrawerOpen && <SettingsDrawer job={job} className="min-h-0 border-l" />}
      <aside className={`min-h-0 flex-col border-l border-line ${isDrawerOpen ? "hidden" : "flex"}`} aria-label="Plan">
        <BillHead job={job} plan={plan} latest={latest} />
        {latest && <Cautions job={job} cautions={latest.plan.cautions} />}
        <Tabs.Root value={planTab} onValueChange={setPlanTab} className="flex min-h-0 flex-1 flex-col">
          <Tabs.List className="flex shrink-0 gap-5 border-b border-line px-4">
            {tabs.map(([value, name, why]) => (
              <Tabs.Trigger
                key={value}
                value={value}
                title={why}
                className="-mb-px border-b-2 border-transparent py-1.5 text-[12.5px] font-semibold text-soft hover:text-ink data-[state=active]:border-plum data-[state=active]:text-ink"
              >
                {name}
                {value === "snags" && found.length > 0 && <span className="figure ml-1 text-[11px] text-wrong">{found.length}</span>}
              </Tabs.Trigger>
            ))}
          </Tabs.List>
          <div className="min-h-0 flex-1 overflow-y-auto px-4 py-2.5">
            <Tabs.Content value="rinse">{latest && <RinseStrips job={job} pairs={latest.plan.pairs} />}</Tabs.Content>
            <Tabs.Content value="order">{latest && <OrderPane job={job} plan={latest.plan} />}</Tabs.Content>
            <Tabs.Content value="purge">{latest && <PurgePane job={job} plan={latest.plan} />}</Tabs.Content>
            <Tabs.Content value="ways">
              <WaysTable job={job} />
            </Tabs.Content>
            <Tabs.Content value="snags">
              <SnagList job={job} view={snags} toBench={() => go(`/jobs/${job.id}/colour`)} />
            </Tabs.Content>
            <Tabs.Content value="bill">{latest && <BillSheet job={job} latest={latest} />}</Tabs.Content>
          </div>
        </Tabs.Root>
        {latest && <TooThin job={job} plan={latest.plan} />}
      </aside>
    </div>
  );
}
