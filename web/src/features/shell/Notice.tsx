import { X } from "lucide-react";
import { useNotice } from "../../state/notice";
import { Button } from "../../ui/Button";
import { placeInWords } from "../../ui/format";
import { pageOfCode } from "../guide/pageOf";

/** What was refused, why, where and what to do; or, with a code that begins with `done-`, what was done. Stays until closed or the next thing goes well. */
export function Notice() {
  const { problem, action, close } = useNotice();
  if (!problem) return null;
  const where = placeInWords(problem.where);
  const isDone = problem.code.startsWith("done-");
  return (
    <div
      role="alert"
      className={`screen-only fixed left-1/2 top-14 z-50 flex max-w-xl -translate-x-1/2 items-start gap-3 border border-line border-l-4 ${isDone ? "border-l-fine" : "border-l-wrong"} bg-sheet px-4 py-3 shadow-lg`}
    >
      <div>
        <p className="font-semibold">{problem.message}</p>
        {where && <p className="figure text-soft">{where}</p>}
        <p className="text-soft">{problem.mend}</p>
        {!isDone && (
          <a href={pageOfCode(problem.code)} target="_blank" rel="noreferrer" className="text-plum hover:underline">
            In the guide
          </a>
        )}
      </div>
      {action && (
        <Button
          onClick={() => {
            close();
            action.run();
          }}
        >
          {action.name}
        </Button>
      )}
      <button type="button" onClick={close} aria-label="Close" className="text-soft hover:text-ink">
        <X size={16} />
      </button>
    </div>
  );
}
