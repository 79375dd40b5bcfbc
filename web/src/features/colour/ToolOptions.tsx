import { useBench } from "../../state/bench";
import { cardOf } from "./toolList";
import type { OptionsProps } from "./tools/card";

/** The options of the tool in hand. */
export function ToolOptions(props: OptionsProps) {
  const tool = useBench((s) => s.tool);
  const { Options } = cardOf(tool);
  return <Options {...props} />;
}
