import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, importFile, Refused } from "../../api/client";
import { keys, useShelf } from "../../api/queries";
import { useNotice } from "../../state/notice";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { Bar, Trouble, Waiting } from "../../ui/states";
import { Brand } from "../shell/Brand";
import { ShelfRow } from "./ShelfRow";

interface Arriving {
  name: string;
  share: number;
  stop: () => void;
}

/** The list of jobs, and where new files come in. */
export function Shelf() {
  const shelf = useShelf();
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const close = useNotice((s) => s.close);
  const picker = useRef<HTMLInputElement>(null);
  const [arriving, setArriving] = useState<Arriving | null>(null);
  const [isOver, setOver] = useState(false);

  const take = async (files: FileList | null) => {
    close();
    const all = [...(files ?? [])];
    for (const file of all) {
      const sending = importFile(file, (share) => setArriving((a) => a && { ...a, share }));
      setArriving({ name: file.name, share: 0, stop: sending.stop });
      try {
        const job = await sending.done;
        if (all.length === 1) go(`/jobs/${job.id}/intake`);
      } catch (e) {
        if (e instanceof Refused) show({ ...e.problem, message: `${file.name}: ${e.problem.message}` });
      }
    }
    setArriving(null);
    void queries.invalidateQueries({ queryKey: keys.shelf });
  };
  const remove = useMutation({
    mutationFn: api.remove,
    onSettled: () => queries.invalidateQueries({ queryKey: keys.shelf }),
  });

  return (
    <div
      className="flex h-full flex-col"
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void take(e.dataTransfer.files);
      }}
    >
      <header className="flex h-11 shrink-0 items-center justify-between border-b border-line px-3.5">
        <Brand />
        <Button kind="main" onClick={() => picker.current?.click()}>Open a model</Button>
      </header>
      <input ref={picker} type="file" accept=".stl" multiple hidden aria-label="Model file" onChange={(e) => { void take(e.target.files); e.target.value = ""; }} />
      <main className="mx-auto w-full max-w-5xl flex-1 overflow-y-auto px-8 py-8">
        <div className="flex items-baseline justify-between">
          <h1 className="text-xl">Shelf</h1>
          <span className="text-soft">Drop STL files anywhere on this page</span>
        </div>
        {arriving && (
          <div className="mt-4 flex items-center gap-4 border-y border-line py-3" role="status">
            <span className="min-w-0 flex-1 truncate">{arriving.share < 1 ? "Reading" : "Looking over"} {arriving.name}</span>
            <Bar done={arriving.share < 1 ? arriving.share : null} />
            <Button onClick={arriving.stop}>Stop</Button>
          </div>
        )}
        <div className="mt-4 border-t border-line">
          {shelf.isPending && <div className="h-40"><Waiting what="Looking at the shelf" /></div>}
          {shelf.error && <Trouble error={shelf.error} retry={() => void shelf.refetch()} />}
          {shelf.data?.length === 0 && !arriving && (
            <div className="py-16 text-center text-soft">
              <p className="text-base text-ink">Nothing on the shelf yet.</p>
              <p className="mt-1">Open a model, or drop one here: any STL file, coloured or not, whole or with holes.</p>
            </div>
          )}
          {shelf.data?.map((job) => <ShelfRow key={job.id} job={job} onRemove={() => remove.mutate(job.id)} />)}
        </div>
      </main>
      {isOver && (
        <div className="pointer-events-none fixed inset-3 z-40 grid place-items-center border-2 border-dashed border-plum bg-plum-tint/85 text-lg font-semibold text-plum">
          Drop to put it on the shelf
        </div>
      )}
    </div>
  );
}
