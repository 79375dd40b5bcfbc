import { useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { api, Refused } from "../../api/client";
import type { Arrangement } from "../../api/generated/Arrangement";
import { keys, useBin, useShelf } from "../../api/queries";
import { Link } from "../../state/Link";
import { useNotice } from "../../state/notice";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { Trouble, Waiting } from "../../ui/states";
import { ArrivalDialog } from "../arrival/ArrivalDialog";
import { DropZone, endings } from "../arrival/DropZone";
import { drawingOf, isReady, useArrival, type Arriving } from "../arrival/useArrival";
import { Brand } from "../shell/Brand";
import { ShelfRow } from "./ShelfRow";
import { ShelfTools } from "./ShelfTools";
import { shown, useShelfView, type Place } from "./shelfView";
import { useShelfWork } from "./useShelfWork";
import { WaitingJobs } from "./WaitingJobs";

/** The list of jobs, and where new files come in. */
export function Shelf() {
  const shelf = useShelf();
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const close = useNotice((s) => s.close);
  const picker = useRef<HTMLInputElement>(null);
  const arrival = useArrival();

  const assemble = async (files: Arriving[], arrangement: Arrangement) => {
    try {
      const staged = files.filter(isReady).flatMap((f) => f.id ?? []);
      const jobs = await api.assemble({ staged, arrangement });
      arrival.clear();
      void queries.invalidateQueries({ queryKey: keys.shelf });
      const [first] = jobs;
      if (jobs.length === 1 && first) go(`/jobs/${first.id}/intake`);
    } catch (e) {
      arrival.clear();
      if (e instanceof Refused) show(e.problem);
    }
  };
  const openProjects = async (projects: File[], isShown: boolean) => {
    try {
      for (const file of projects) {
        const job = await api.openProject(file);
        void queries.invalidateQueries({ queryKey: keys.shelf });
        if (isShown) go(`/jobs/${job.id}/intake`);
      }
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
    }
  };
  const openPrints = async (prints: File[], isShown: boolean) => {
    try {
      for (const file of prints) {
        const made = await api.jobOfFile(file);
        void queries.invalidateQueries({ queryKey: keys.shelf });
        if (isShown) go(`/jobs/${made.job}/sliced/${made.file}`);
      }
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
    }
  };
  const draw = (staged: number) => {
    arrival.clear();
    go(`/drawings/${staged}`);
  };
  const take = async (chosen: File[]) => {
    if (chosen.length === 0) return;
    close();
    const files = await arrival.take(chosen);
    if (!files) return;
    // What a file is, the server tells by its content.
    const isProject = (f: Arriving) => f.state.state === "refused" && f.state.problem.code === "project-file";
    const projects = chosen.filter((c) => files.some((f) => f.file === c.name && isProject(f)));
    if (files.every(isProject)) arrival.clear();
    await openProjects(projects, chosen.length === 1);
    const isPrint = (f: Arriving) => f.state.state === "refused" && f.state.problem.code === "print-file";
    const prints = chosen.filter((c) => files.some((f) => f.file === c.name && isPrint(f)));
    if (files.every((f) => isPrint(f) || isProject(f))) arrival.clear();
    await openPrints(prints, chosen.length === 1);
    const drawing = drawingOf(files);
    if (drawing !== null && files.length === 1) return draw(drawing);
    const isPlain = files.every((f) => f.state.state !== "refused");
    if (drawing === null && isPlain && files.filter(isReady).length === 1) await assemble(files, "together");
  };
  const view = useShelfView();
  const work = useShelfWork();
  const bin = useBin(view.place === "bin");
  const source = view.place === "bin" ? bin : shelf;
  const here = (source.data ?? []).filter((j) => view.place === "bin" || j.is_archived === (view.place === "away"));
  const listed = shown(here, view);

  return (
    <DropZone what="Drop to put it on the shelf" onFiles={(files) => void take(files)}>
      <div className="flex h-full flex-col">
        <header className="flex h-11 shrink-0 items-center justify-between border-b border-line px-3.5">
          <Brand />
          <div className="flex items-center gap-4">
            <Link to="/guide" className="text-soft hover:text-ink">
              Guide
            </Link>
            <Link to="/words" className="text-soft hover:text-ink">
              Words
            </Link>
            <Button kind="main" onClick={() => picker.current?.click()}>
              Open a model
            </Button>
          </div>
        </header>
        <input
          ref={picker}
          type="file"
          accept={endings}
          multiple
          hidden
          aria-label="Model file"
          onChange={(e) => {
            void take([...(e.target.files ?? [])]);
            e.target.value = "";
          }}
        />
        <main className="mx-auto w-full max-w-5xl flex-1 overflow-y-auto px-8 py-8">
          <div className="flex items-baseline justify-between">
            <h1 className="text-xl">Shelf</h1>
            <span className="text-soft">Drop models, drawings and pictures, a whole job, or a print file, anywhere on this page</span>
          </div>
          <WaitingJobs />
          {(shelf.data?.length !== 0 || view.place !== "shelf") && <ShelfTools jobs={here} listed={listed} work={work} />}
          <div className="border-t border-line">
            {source.isPending && (
              <div className="h-40">
                <Waiting what="Looking at the shelf" />
              </div>
            )}
            {source.error && <Trouble error={source.error} retry={() => void source.refetch()} />}
            {source.data && listed.length === 0 && (
              <Nothing place={view.place} isEmpty={here.length === 0} onOpen={() => picker.current?.click()} />
            )}
            {listed.map((job) => (
              <ShelfRow key={job.id} job={job} work={work} />
            ))}
          </div>
        </main>
        <ArrivalDialog files={arrival.files} onDraw={draw} onStop={arrival.stop} onChoose={(how) => void assemble(arrival.files, how)} />
      </div>
    </DropZone>
  );
}

/** What stands where no job does. */
function Nothing({ place, isEmpty, onOpen }: { place: Place; isEmpty: boolean; onOpen: () => void }) {
  const words = {
    shelf: "Nothing on the shelf yet.",
    away: "Nothing is put away.",
    bin: "The bin is empty.",
  };
  return (
    <div className="py-16 text-center text-soft">
      <p className="text-base text-ink">{isEmpty ? words[place] : "No job is like that."}</p>
      {isEmpty && place === "shelf" && (
        <>
          <p className="mt-1">Open a model, or drop one here, or several that belong together. Colours in the files are kept.</p>
          <Button kind="main" className="mt-4" onClick={onOpen}>
            Open a first model
          </Button>
        </>
      )}
      {isEmpty && place === "bin" && <p className="mt-1">What is deleted lies here for 30 days.</p>}
    </div>
  );
}
