import { pages } from "virtual:guide";
import type { Stage } from "../../state/route";

const last = pages.length - 1;

/** The page of the guide that tells about a refusal: the one that knows the longest beginning of its code. */
export function pageOfCode(code: string): string {
  const length = (codes: string[]) => Math.max(0, ...codes.filter((c) => code === c || code.startsWith(`${c}-`)).map((c) => c.length));
  const longest = Math.max(...pages.map((p) => length(p.codes)));
  const page = longest === 0 ? undefined : pages.find((p) => length(p.codes) === longest);
  return `/guide/${(page ?? pages[last])?.slug}#${code}`;
}

/** The page of the guide for a room. */
export const pageOfStage = (stage: Stage) => `/guide/${stage}`;
