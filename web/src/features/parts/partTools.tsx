import type { ReactNode } from "react";
import type { PartTool } from "../../state/bench";

/** What can be done to parts, in the order of the tray, each with its key. */
export const partToolList: { tool: PartTool; name: string; key: string; icon: ReactNode }[] = [
  { tool: "to-part", name: "Region to part", key: "1", icon: <path d="M3 8v8h14V8 M3 8l3-4h8l3 4z" /> },
  { tool: "cut", name: "Cut in two", key: "2", icon: <path d="M5 3h10v5H5z M5 12h10v5H5z M1.5 10h17" /> },
  { tool: "inlay", name: "Inlay", key: "3", icon: <path d="M2 6h4v6h8V6h4 M7.5 6h5v4h-5z" /> },
  { tool: "sink", name: "Sink", key: "4", icon: <path d="M2 12h4v5h8v-5h4 M10 2v8 M7 7l3 3 3-3" /> },
  { tool: "split", name: "Split", key: "5", icon: <path d="M3 5h5v10H3z M12 5h5v10h-5z" /> },
];

/** Heading of the tray's two hands. */
export const hands = [
  ["surface", "Colour", "Give surface to regions"],
  ["parts", "Parts", "Divide, cut and fill parts"],
] as const;
