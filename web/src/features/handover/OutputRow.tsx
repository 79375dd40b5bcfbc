import type { ReactNode } from "react";

/** One thing to take away: its name, what it carries, what it loses, and how to get it. */
export function OutputRow({ name, carries, loses, children }: { name: string; carries: ReactNode; loses?: string; children: ReactNode }) {
  return (
    <li className="flex items-center justify-between gap-4 border-b border-line py-2.5">
      <div className="min-w-0">
        <p className="font-semibold">{name}</p>
        <div className="text-[12.5px] leading-[1.35] text-soft">{carries}</div>
        {loses && (
          <p className="text-[12.5px] leading-[1.35] text-soft">
            <span className="text-look">Loses:</span> {loses}
          </p>
        )}
      </div>
      <div className="shrink-0">{children}</div>
    </li>
  );
}
