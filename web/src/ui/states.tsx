import type { ReactNode } from "react";
import { Refused } from "../api/client";
import { Button } from "./Button";
import { placeInWords } from "./format";

export function Waiting({ what, done, children }: { what: string; done?: number; children?: ReactNode }) {
  return (
    <div className="flex h-full flex-col items-center justify-center gap-3 text-soft" role="status">
      <span>{what}</span>
      <Bar done={done ?? null} />
      {children}
    </div>
  );
}

/** Where the bench will be, while what draws it is brought. */
export function BenchWaiting() {
  return (
    <section className="min-h-0 min-w-0 bg-bench">
      <Waiting what="Bringing the bench" />
    </section>
  );
}

export function Bar({ done }: { done: number | null }) {
  return (
    <span
      className="block h-1 w-44 overflow-hidden bg-line"
      role="progressbar"
      aria-label="How far it is"
      aria-valuenow={done === null ? undefined : Math.round(done * 100)}
    >
      <span
        className={`block h-full bg-plum ${done === null ? "w-1/3 animate-pulse" : "transition-[width]"}`}
        style={done === null ? undefined : { width: `${100 * done}%` }}
      />
    </span>
  );
}

export function Trouble({ error, retry, children }: { error: Error; retry?: () => void; children?: ReactNode }) {
  const problem = error instanceof Refused ? error.problem : null;
  const where = placeInWords(problem?.where);
  return (
    <div className="flex h-full flex-col items-center justify-center gap-2 p-6 text-center" role="alert">
      <p className="font-semibold text-wrong">{problem?.message ?? error.message}</p>
      {where && <p className="figure text-soft">{where}</p>}
      <p>{problem?.mend}</p>
      <div className="mt-2 flex gap-2">
        {retry && <Button onClick={retry}>Try again</Button>}
        {children}
      </div>
    </div>
  );
}
