import type { JobView } from "../../api/generated/JobView";
import { useChanges } from "../../api/queries";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { count } from "../../ui/format";
import { Fact, SizeLine } from "./Facts";

/** All models of a job as one set. */
export function SetCard({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
  const bed = job.printer.bed_mm;
  const isTooLarge = job.size_mm.some((c, i) => c > (bed[i] ?? 0));
  const sum = (of: (m: JobView["models"][number]) => number) => job.models.reduce((n, m) => n + of(m), 0);
  const isPlaced = job.models.some((m) => m.is_placed);
  return (
    <article className="px-5 pb-6 pt-3" aria-label="Everything">
      <h2 className="text-[15px] font-semibold">Everything on the bed</h2>
      <p className="figure mt-1 text-[19px] font-semibold">
        <SizeLine size={job.size_mm} /> mm
      </p>
      {isTooLarge && (
        <p className="mt-2 border-l-[3px] border-look bg-sheet py-2 pl-3 text-look">
          ! Larger than the bed, which holds {bed.join(" × ")} mm.
        </p>
      )}
      <dl className="mt-3 border-t border-line">
        <Fact name="Models" isFigure>
          {count(job.models.length)}
        </Fact>
        <Fact name="Parts" isFigure>
          {count(sum((m) => m.parts.length))}
        </Fact>
        <Fact name="Facets" isFigure>
          {count(sum((m) => m.facets))}
        </Fact>
        <Fact name="Pieces printed at once" isFigure>
          {count(job.copies.across * job.copies.along)}
        </Fact>
      </dl>
      <p className="mt-3 text-soft">
        Files that belong together stand in the coordinates they share. What is chosen in the list above is what the tools at the foot of
        the bench move.
      </p>
      <div className="mt-4 flex flex-wrap gap-2">
        <Button kind="main" onClick={() => go(`/jobs/${job.id}/colour`)}>
          Colour it
        </Button>
        <Button onClick={() => edit({ edit: "set-apart", spacing_mm: 8 })}>Stand side by side</Button>
        <Button
          disabled={!isPlaced}
          onClick={() => edit({ edit: "place", target: { of: "everything" }, placing: { how: "home" } })}
          title="Every part back where its file has it"
        >
          Back to the shared places
        </Button>
      </div>
    </article>
  );
}
