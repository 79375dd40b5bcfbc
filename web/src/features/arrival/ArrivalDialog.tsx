import { Dialog } from "radix-ui";
import type { Arrangement } from "../../api/generated/Arrangement";
import { Button } from "../../ui/Button";
import { count, fixed } from "../../ui/format";
import { Bar } from "../../ui/states";
import { Arrangements } from "./Arrangements";
import { isReady, type Arriving } from "./useArrival";

/** Files on their way in: how far each is, what was refused and why, and how several stand to each other. */
export function ArrivalDialog({
  files,
  isAdding,
  onChoose,
  onDraw,
  onStop,
}: {
  files: Arriving[];
  /** The files go into a job that is open. */
  isAdding?: boolean;
  onChoose: (how: Arrangement) => void;
  /** A drawing among them goes to its page. */
  onDraw: (staged: number) => void;
  onStop: () => void;
}) {
  const ready = files.filter(isReady);
  const refused = files.filter((f) => f.state.state === "refused");
  const isSettled = files.every((f) => f.state.state !== "sending" && f.state.state !== "opening");
  const title = !isSettled
    ? files.length === 1
      ? `Opening ${files[0]?.file}`
      : `Opening ${files.length} files`
    : ready.length === 0
      ? "Nothing could be opened"
      : ready.length > 1
        ? "How do these belong together?"
        : "One file could be opened";
  return (
    <Dialog.Root open={files.length > 0} onOpenChange={(open) => !open && onStop()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          className="fixed left-1/2 top-[12%] z-50 flex max-h-[76%] w-[620px] -translate-x-1/2 flex-col border border-line bg-paper p-5 shadow-xl"
          aria-describedby={undefined}
        >
          <Dialog.Title className="truncate text-base font-semibold">{title}</Dialog.Title>
          <ul className="mt-3 min-h-0 overflow-y-auto border-t border-line" aria-label="Files">
            {files.map((f, i) => (
              <Line key={i} file={f} onDraw={onDraw} />
            ))}
          </ul>
          {isSettled && ready.length > 1 && (
            <div className="mt-4">
              <Arrangements files={ready} onChoose={onChoose} />
            </div>
          )}
          <div className="mt-4 flex items-center justify-end gap-3">
            {isSettled && ready.length > 1 && !isAdding && (
              <Button kind="link" className="mr-auto" onClick={() => onChoose("each")}>
                A job for each
              </Button>
            )}
            {isSettled && ready.length === 1 && refused.length > 0 && (
              <Button kind="main" onClick={() => onChoose("together")}>
                Go on with it
              </Button>
            )}
            <Button onClick={onStop}>{isSettled ? (ready.length === 0 ? "Close" : "Leave it") : "Stop"}</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Line({ file, onDraw }: { file: Arriving; onDraw: (staged: number) => void }) {
  const s = file.state;
  return (
    <li className="flex items-baseline gap-4 border-b border-line py-2">
      <span className="min-w-0 flex-1">
        <span className="block truncate font-medium" title={file.file}>
          {file.file}
        </span>
        {s.state === "refused" && (
          <span className="block">
            <span className="text-wrong">✕ {s.problem.message}</span>
            <span className="block text-soft">
              {s.problem.where && <span className="figure">{s.problem.where} · </span>}
              {s.problem.mend}
            </span>
          </span>
        )}
        {s.state === "ready" && (
          <span className="block text-soft">
            {s.format} · {s.parts === 1 ? "1 part" : `${count(s.parts)} parts`}
            {s.has_colours && " · brings colours"}
          </span>
        )}
        {s.state === "drawing" && (
          <button type="button" className="font-semibold text-plum hover:underline" onClick={() => file.id !== null && onDraw(file.id)}>
            Make bodies of this drawing
          </button>
        )}
        {s.state === "beside" && <span className="block text-soft">Materials for the OBJ files</span>}
      </span>
      <span className="figure shrink-0 text-right text-soft">
        {s.state === "ready" && (
          <>
            <span className="block text-ink">{s.size_mm.map((c) => fixed(c, 1)).join(" × ")} mm</span>
            <span className="block">{count(s.facets)} facets</span>
          </>
        )}
        {s.state === "sending" && <Bar done={s.done} />}
        {s.state === "opening" && <Bar done={s.done} />}
      </span>
    </li>
  );
}
