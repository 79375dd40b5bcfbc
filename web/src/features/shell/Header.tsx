import { BookOpen } from "lucide-react";
import { useChanges } from "../../api/queries";
import type { JobView } from "../../api/generated/JobView";
import { Link } from "../../state/Link";
import { stageNames, stages, type Stage } from "../../state/route";
import { Button } from "../../ui/Button";
import { NameField } from "../../ui/NameField";
import { pageOfStage } from "../guide/pageOf";
import { Brand } from "./Brand";
import { NextStep } from "./NextStep";

export function Header({ job, stage }: { job: JobView; stage: Stage }) {
  const { edit, undo, redo } = useChanges(job.id);
  return (
    <header className="grid h-11 shrink-0 grid-cols-[1fr_auto_1fr] items-center gap-4 border-b border-line px-3.5">
      <div className="flex min-w-0 items-center gap-3">
        <Brand />
        <span className="h-5 w-px shrink-0 bg-line" />
        <NameField
          label="Name of the job"
          value={job.name}
          onCommit={(name) => edit({ edit: "rename-job", name })}
          className="max-w-64 text-soft"
        />
      </div>
      <nav aria-label="Stages" className="flex h-full">
        {stages.map((s, i) => (
          <Link
            key={s}
            to={`/jobs/${job.id}/${s}`}
            aria-current={s === stage ? "page" : undefined}
            className={`flex h-full items-center gap-2 border-b-2 px-3.5 ${s === stage ? "border-plum font-bold" : "border-transparent text-soft hover:text-ink"}`}
          >
            <span className="figure text-[11px] text-faint">{i + 1}</span>
            {stageNames[s]}
          </Link>
        ))}
      </nav>
      <div className="flex min-w-0 items-center justify-end gap-2">
        <NextStep job={job} stage={stage} />
        <Button disabled={!job.can_undo} onClick={() => undo()} title="Ctrl Z">
          Undo
        </Button>
        <Button disabled={!job.can_redo} onClick={() => redo()} title="Ctrl Shift Z">
          Redo
        </Button>
        <a
          href={pageOfStage(stage)}
          target="_blank"
          rel="noreferrer"
          title={`The guide: ${stageNames[stage]}`}
          aria-label={`The guide: ${stageNames[stage]}`}
          className="flex size-7 items-center justify-center text-soft hover:text-ink"
        >
          <BookOpen size={16} />
        </a>
      </div>
    </header>
  );
}
