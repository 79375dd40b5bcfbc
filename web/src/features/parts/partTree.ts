import type { GroupView } from "../../api/generated/GroupView";
import type { JobView } from "../../api/generated/JobView";
import type { PartView } from "../../api/generated/PartView";
import type { Place } from "../../api/generated/Place";

/** A part with where it is. */
export interface Listed {
  part: PartView;
  model: number;
  number: number;
  at: Place;
}

/** A line of the list: a group's heading or a part, and how deep it stands. */
export type Row = { kind: "group"; group: GroupView; depth: number; parts: Listed[] } | { kind: "part"; listed: Listed; depth: number };

/** All parts by their keys. */
export function partsByKey(job: JobView): Map<number, Listed> {
  const all = job.models.flatMap((m, model) =>
    m.parts.map((part, number): [number, Listed] => [
      part.key,
      { part, model, number, at: { model: m.name, point: part.point, normal: part.normal } },
    ]),
  );
  return new Map(all);
}

/** The list as it is shown: parts in their order, each group's parts together under its heading where its first stands. */
export function partRows(job: JobView, closed: ReadonlySet<string>): Row[] {
  const byKey = partsByKey(job);
  const listed = job.part_order.flatMap((key) => byKey.get(key) ?? []);
  const groups = new Map(job.groups.map((g) => [g.key, g]));
  /** Groups a part lies in, the outermost first. */
  const path = (part: PartView) => {
    const keys: string[] = [];
    for (let key = part.group; key !== null && keys.length < 50; key = groups.get(key)?.inside ?? null) keys.unshift(key);
    return keys;
  };
  const rows: Row[] = [];
  const add = (parts: Listed[], depth: number) => {
    const done = new Set<string>();
    for (const one of parts) {
      const key = path(one.part)[depth];
      const group = key === undefined ? undefined : groups.get(key);
      if (!group) {
        rows.push({ kind: "part", listed: one, depth });
        continue;
      }
      if (done.has(group.key)) continue;
      done.add(group.key);
      const members = parts.filter((p) => path(p.part)[depth] === group.key);
      rows.push({ kind: "group", group, depth, parts: members });
      if (!closed.has(group.key)) add(members, depth + 1);
    }
  };
  add(listed, 0);
  return rows;
}
