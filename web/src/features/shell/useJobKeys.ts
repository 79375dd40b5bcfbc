import { useHotkeys } from "react-hotkeys-hook";
import type { JobView } from "../../api/generated/JobView";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { partToolList } from "../parts/partTools";
import { toolList } from "../colour/toolList";
import { go, stages } from "../../state/route";

/** Whether a key pressed there is text, and not a command. */
const isTyping = (e: KeyboardEvent) => {
  const at = e.target as HTMLElement | null;
  const isText = at instanceof HTMLInputElement && !["checkbox", "color", "radio"].includes(at.type);
  return isText || at instanceof HTMLTextAreaElement || (at?.isContentEditable ?? false);
};
/** Ticked boxes and the like keep the focus; keys go on meaning what they mean. */
const options = { enableOnFormTags: true, ignoreEventWhen: isTyping } as const;

/** The keys of a job; the palette of commands lists them. Typing in a field never triggers one. */
export function useJobKeys(id: number, job: JobView | undefined) {
  const { undo, redo } = useChanges(id);
  useHotkeys(
    "ctrl+z, meta+z",
    (e) => {
      e.preventDefault();
      if (job?.can_undo) undo();
    },
    options,
    [job, undo],
  );
  useHotkeys(
    "ctrl+shift+z, meta+shift+z, ctrl+y",
    (e) => {
      e.preventDefault();
      if (job?.can_redo) redo();
    },
    options,
    [job, redo],
  );
  useHotkeys("bracketleft", () => step(job, -1), options, [job]);
  useHotkeys("bracketright", () => step(job, 1), options, [job]);
  useHotkeys("comma", () => useBench.setState((s) => ({ layer: Math.max(0, s.layer - 1) })), options);
  useHotkeys("period", () => useBench.setState((s) => ({ layer: s.layer + 1 })), options);
  useHotkeys(
    toolList.map((t) => t.key.toLowerCase()).join(),
    (e) => {
      const tool = toolList.find((t) => t.key.toLowerCase() === e.key.toLowerCase());
      if (tool) useBench.getState().setTool(tool.tool);
    },
    options,
  );
  useHotkeys(
    partToolList.map((t) => t.key).join(),
    (e) => {
      const tool = partToolList.find((t) => t.key === e.key);
      if (tool) useBench.getState().setPartTool(tool.tool);
    },
    options,
  );
  useHotkeys(
    "x",
    () => {
      const { hand, setHand } = useBench.getState();
      setHand(hand === "parts" ? "surface" : "parts");
    },
    options,
  );
  useHotkeys("e", () => useBench.getState().setErasing(!useBench.getState().isErasing), options);
  useHotkeys("f", () => useBench.getState().fit(), options);
  useHotkeys(
    "alt+1, alt+2, alt+3, alt+4, alt+5",
    (e) => {
      const stage = stages[Number(e.code.slice(-1)) - 1];
      e.preventDefault();
      if (stage) go(`/jobs/${id}/${stage}`);
    },
    options,
    [id],
  );
}

/** Chooses the region before or after the present one. */
export function step(job: JobView | undefined, by: number) {
  const regions = job?.regions ?? [];
  const at = regions.findIndex((r) => r.key === useBench.getState().region);
  const next = regions[(at + by + regions.length) % regions.length];
  if (next) useBench.getState().setRegion(next.key);
}
