import type { ReactNode } from "react";
import type { Tool } from "../../state/bench";

/** The tools of Colour in the order of the tray, each with its key. */
export const toolList: { tool: Tool; name: string; key: string; icon: ReactNode }[] = [
  { tool: "patch", name: "Patch", key: "P", icon: <path d="M4 14 7 3l9 3 1 7-7 4z" /> },
  { tool: "relief", name: "Relief", key: "R", icon: <path d="M2 15h4V6h8v9h4" /> },
  { tool: "dab", name: "Dab", key: "D", icon: <circle cx="10" cy="10" r="6.5" /> },
  { tool: "dip", name: "Dip", key: "I", icon: <path d="M3.5 10a6.5 6.5 0 1 0 13 0 6.5 6.5 0 1 0-13 0 M3.5 10c3 2.6 10 2.6 13 0" /> },
  { tool: "facet", name: "Facet", key: "T", icon: <path d="M10 3.5 17 16H3z" /> },
  { tool: "band", name: "Band", key: "B", icon: <path d="M2.5 7h15 M2.5 13h15" /> },
  { tool: "lasso", name: "Lasso", key: "L", icon: <path d="M5 6c3-4 11-3 12 1s-4 3-6 5-6 4-8 1 0-5 2-7z" /> },
  { tool: "part", name: "Whole part", key: "W", icon: <path d="m10 2 7 4v8l-7 4-7-4V6z" /> },
  { tool: "alike", name: "Alike", key: "A", icon: <path d="M3 3h6v6H3z M11 11h6v6h-6z" /> },
];

export const toolName = (tool: Tool) => toolList.find((t) => t.tool === tool)?.name ?? tool;
