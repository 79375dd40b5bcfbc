import { pages } from "virtual:guide";
import { Command } from "cmdk";
import { useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { JobView } from "../../api/generated/JobView";
import type { Placing } from "../../api/generated/Placing";
import { useChanges } from "../../api/queries";
import { lookFrom } from "../../scene/stage";
import { useBeadView } from "../../state/beadView";
import { usePlanPanes } from "../../state/planPanes";
import { useBench, type Look } from "../../state/bench";
import { nameOf, targetOf, useIntake, within, type PlacingTool } from "../../state/intake";
import { useNextSteps } from "../../state/nextSteps";
import { go, stageNames, stages } from "../../state/route";
import { depthOf } from "../parts/partEdit";
import { partToolList } from "../parts/partTools";
import { toolList } from "../colour/toolList";
import { step } from "./useJobKeys";
import { useOf } from "../../state/useOf";

interface Entry {
  name: string;
  key?: string;
  run: () => void;
}

const looks: [Look, string][] = [
  ["grey", "Show greys"],
  ["apart", "Pull the parts apart"],
  ["spools", "Show spool colours"],
  ["patterns", "Show patterns on regions"],
  ["edges", "Show facet edges"],
  ["xray", "See through the model"],
  ["hangs", "Mark what hangs"],
  ["cut", "Cut at the layer of the score"],
];

const placingTools: [PlacingTool, string][] = [
  ["down", "Face down"],
  ["up", "Face up"],
  ["turn", "Turn"],
  ["size", "Size"],
  ["move", "Move"],
  ["mirror", "Mirror"],
  ["copies", "Pieces"],
];

/** Every action by typing its name. */
export function Palette({ job }: { job: JobView }) {
  const [isOpen, setOpen] = useState(false);
  const { undo, redo, edit } = useChanges(job.id);
  const bench = useOf(
    useBench,
    "fit",
    "isErasing",
    "layer",
    "region",
    "setAlone",
    "setErasing",
    "setHidden",
    "setLayer",
    "setPartTool",
    "setRegion",
    "setTool",
    "settings",
    "toggle",
  );
  const selection = within(
    useIntake((s) => s.selection),
    job,
  );
  const setTool = useIntake((s) => s.setTool);
  const intake = `/jobs/${job.id}/intake`;
  const colour = `/jobs/${job.id}/colour`;
  const by = bench.settings.stepMm;
  const place = (placing: Placing) => {
    go(intake);
    edit({ edit: "place", target: targetOf(selection, job), placing });
  };
  useHotkeys(
    "ctrl+k, meta+k",
    (e) => {
      e.preventDefault();
      setOpen(true);
    },
    { enableOnFormTags: true },
  );
  const entries: Entry[] = [
    ...stages.map((s, i) => ({ name: `Go to ${stageNames[s]}`, key: `Alt ${i + 1}`, run: () => go(`/jobs/${job.id}/${s}`) })),
    {
      name: "How it prints: settings",
      run: () => {
        useBeadView.getState().set({ isDrawerOpen: true });
        go(`/jobs/${job.id}/plan`);
      },
    },
    {
      name: "Show beads of the layer",
      run: () => {
        usePlanPanes.getState().setInBeads(true);
        go(`/jobs/${job.id}/plan`);
      },
    },
    { name: "Go to the shelf", run: () => go("/") },
    { name: "Show next steps again", run: () => useNextSteps.getState().putAway(false) },
    { name: "Words: what they mean", run: () => go("/words") },
    ...pages.map((p) => ({ name: `Guide: ${p.title}`, run: () => go(`/guide/${p.slug}`) })),
    { name: "How the server is", run: () => go("/status") },
    { name: "Undo", key: "Ctrl Z", run: () => job.can_undo && undo() },
    { name: "Redo", key: "Ctrl Shift Z", run: () => job.can_redo && redo() },
    ...toolList.map((t) => ({
      name: `Tool: ${t.name}`,
      key: t.key,
      run: () => {
        go(colour);
        bench.setTool(t.tool);
      },
    })),
    ...partToolList.map((t) => ({
      name: `Parts: ${t.name}`,
      key: t.key,
      run: () => {
        go(colour);
        bench.setPartTool(t.tool);
      },
    })),
    {
      name: "Make the chosen region a part",
      run: () => {
        go(colour);
        edit({ edit: "part", do: "from-region", region: bench.region, depth: depthOf(bench.settings) });
      },
    },
    { name: "Show hidden parts again", run: () => bench.setHidden([]) },
    { name: bench.isErasing ? "Stop erasing" : "Erase: take surface back", key: "E", run: () => bench.setErasing(!bench.isErasing) },
    ...job.regions.flatMap((r): Entry[] => [
      { name: `Grow ${r.name} by ${by} mm`, run: () => edit({ edit: "grow-region", region: r.key, by_mm: by }) },
      { name: `Shrink ${r.name} by ${by} mm`, run: () => edit({ edit: "grow-region", region: r.key, by_mm: -by }) },
      { name: `Smooth the edge of ${r.name} by ${by} mm`, run: () => edit({ edit: "smooth-region", region: r.key, by_mm: by }) },
      { name: `Invert ${r.name}`, run: () => edit({ edit: "invert-region", region: r.key }) },
      { name: `Give all the rest to ${r.name}`, run: () => edit({ edit: "give-rest", region: r.key }) },
      {
        name: r.is_protected ? `No longer protect ${r.name}` : `Protect ${r.name}`,
        run: () => edit({ edit: "protect-region", region: r.key, is_protected: !r.is_protected }),
      },
      { name: `Show ${r.name} alone`, run: () => bench.setAlone({ region: r.key }) },
    ]),
    { name: "Show everything again", run: () => bench.setAlone(null) },
    { name: "Clear all colours", run: () => edit({ edit: "clear-colours" }) },
    ...(["front", "back", "left", "right", "top", "bottom"] as const).map((side) => ({
      name: `Look from ${side === "top" ? "above" : side === "bottom" ? "below" : `the ${side}`}`,
      run: () => lookFrom(side),
    })),
    { name: "Next region", key: "]", run: () => step(job, 1) },
    { name: "Previous region", key: "[", run: () => step(job, -1) },
    ...job.regions.map((r) => ({ name: `Choose region ${r.name}`, run: () => bench.setRegion(r.key) })),
    { name: "One layer up", key: ".", run: () => bench.setLayer(bench.layer + 1) },
    { name: "One layer down", key: ",", run: () => bench.setLayer(bench.layer - 1) },
    { name: "See the whole model", key: "F", run: () => bench.fit() },
    ...placingTools.map(([tool, name]) => ({
      name: `Placing: ${name}`,
      run: () => {
        go(intake);
        if (useIntake.getState().tool !== tool) setTool(tool);
      },
    })),
    { name: `Drop ${nameOf(selection, job)} to the bed`, run: () => place({ how: "drop" }) },
    { name: `Centre ${nameOf(selection, job)}`, run: () => place({ how: "centre" }) },
    { name: `Put ${nameOf(selection, job)} back where the file has it`, run: () => place({ how: "home" }) },
    {
      name: "Stand the models side by side",
      run: () => {
        go(intake);
        edit({ edit: "set-apart", spacing_mm: 8 });
      },
    },
    ...job.models.map((m) => ({
      name: `One more of ${m.name} on the bed`,
      run: () => {
        go(intake);
        edit({ edit: "copy-model", model: m.name, count: 1, spacing_mm: job.copies.spacing_mm });
      },
    })),
    {
      name: "Fill the bed with pieces",
      run: () => {
        go(intake);
        edit({ edit: "fill-bed", spacing_mm: job.copies.spacing_mm });
      },
    },
    {
      name: "Print just one piece",
      run: () => {
        go(intake);
        edit({ edit: "set-copies", ...job.copies, across: 1, along: 1 });
      },
    },
    ...looks.map(([look, name]) => ({ name, run: () => bench.toggle(look) })),
    { name: "Open the run sheet", run: () => go(`/jobs/${job.id}/run-sheet`) },
  ];
  return (
    <Command.Dialog
      open={isOpen}
      onOpenChange={setOpen}
      label="Commands"
      overlayClassName="fixed inset-0 z-40 bg-ink/20"
      contentClassName="fixed left-1/2 top-[18%] z-50 w-[440px] -translate-x-1/2 border border-line bg-sheet shadow-xl"
    >
      <Command.Input placeholder="Type what you want to do" className="w-full border-b border-line px-4 py-3 text-[15px] outline-none" />
      <Command.List className="max-h-80 overflow-y-auto py-1">
        <Command.Empty className="px-4 py-6 text-center text-soft">Nothing by that name.</Command.Empty>
        {entries.map((entry) => (
          <Command.Item
            key={entry.name}
            value={entry.name}
            onSelect={() => {
              setOpen(false);
              entry.run();
            }}
            className="flex cursor-pointer justify-between px-4 py-1.5 data-[selected=true]:bg-plum-tint"
          >
            {entry.name}
            {entry.key && <span className="figure text-faint">{entry.key}</span>}
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
