import type { Tool } from "../../state/bench";
import { alike } from "./tools/alike";
import { band } from "./tools/band";
import type { ToolCard } from "./tools/card";
import { facet } from "./tools/facet";
import { lasso } from "./tools/lasso";
import { lay } from "./tools/lay";
import { part } from "./tools/part";
import { patch } from "./tools/patch";
import { relief } from "./tools/relief";
import { dab, dip } from "./tools/strokes";
import { tone } from "./tools/tone";

/** The tools of Colour in the order of the tray. */
export const toolList: readonly ToolCard[] = [patch, relief, dab, dip, facet, band, lasso, part, alike, lay, tone];

/** The tool of that name. */
export const cardOf = (tool: Tool): ToolCard => toolList.find((t) => t.tool === tool) ?? patch;

export const toolName = (tool: Tool) => cardOf(tool).name;
