import { Tabs } from "radix-ui";
import { useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import { useBench } from "../../state/bench";
import { DepthTable } from "../parts/DepthTable";
import { OverlapList } from "../parts/OverlapList";
import { Cautions } from "../plan/Cautions";
import { useLatestPlan } from "../score/useLatestPlan";
import { BillPane } from "./BillPane";
import { StepList } from "./StepList";
import { StrayList } from "./StrayList";
import { SwapCauses } from "./SwapCauses";
import { useOf } from "../../state/useOf";

const tabs = [
  ["swaps", "Swaps", "Snags, and why it swaps"],
  ["depth", "Depth", "How deep the colour goes, and what that costs"],
  ["overlaps", "Overlaps", "Parts that share space"],
  ["strays", "Strays", "Surface that was probably missed"],
  ["steps", "Steps", "What was done"],
] as const;

/** The bill, and below it why there are swaps, what was missed, and what was done. */
export function SidePane({ job, plan }: { job: JobView; plan: PlanView | undefined }) {
  const [tab, setTab] = useState<string>("swaps");
  const { setStray, setSnag } = useOf(useBench, "setStray", "setSnag");
  const latest = useLatestPlan(plan);
  return (
    <aside className="flex min-h-0 flex-col border-l border-line" aria-label="Bill">
      <div className="shrink-0 pb-2">
        <BillPane job={job} plan={plan} />
      </div>
      {latest && <Cautions job={job} cautions={latest.plan.cautions.filter((c) => c.is_of_model)} />}
      <Tabs.Root
        value={tab}
        onValueChange={(to) => {
          setTab(to);
          setStray(null);
          setSnag(null);
        }}
        className="flex min-h-0 flex-1 flex-col"
      >
        <Tabs.List className="flex shrink-0 justify-between border-b border-line px-3">
          {tabs.map(([value, name, why]) => (
            <Tabs.Trigger
              key={value}
              value={value}
              title={why}
              className="-mb-px border-b-2 border-transparent py-1.5 text-[11.5px] font-semibold tracking-[-0.01em] text-soft hover:text-ink data-[state=active]:border-plum data-[state=active]:text-ink"
            >
              {name}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="swaps" className="min-h-0 flex-1 overflow-y-auto">
          <SwapCauses job={job} plan={plan} />
        </Tabs.Content>
        <Tabs.Content value="depth" className="min-h-0 flex-1 overflow-y-auto">
          <DepthTable job={job} />
        </Tabs.Content>
        <Tabs.Content value="overlaps" className="min-h-0 flex-1 overflow-y-auto">
          <OverlapList job={job} />
        </Tabs.Content>
        <Tabs.Content value="strays" className="min-h-0 flex-1 overflow-y-auto">
          <StrayList job={job} />
        </Tabs.Content>
        <Tabs.Content value="steps" className="min-h-0 flex-1 overflow-y-auto">
          <StepList job={job} />
        </Tabs.Content>
      </Tabs.Root>
    </aside>
  );
}
