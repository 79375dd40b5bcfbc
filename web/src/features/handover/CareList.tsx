import type { JobView } from "../../api/generated/JobView";
import type { Look } from "../../api/generated/Look";
import type { ReleaseView } from "../../api/generated/ReleaseView";
import { useSaying } from "../../api/release";
import { useMe } from "../../state/me";

const by = (look: Look) => ("by" in look.said ? look.said.by : "");

/** What a person does by hand, ticked off for this state of the job. */
export function CareList({ job, release }: { job: JobView; release: ReleaseView }) {
  const { say } = useSaying(job.id);
  const me = useMe((s) => s.name);
  return (
    <section className="mt-4" aria-label="By hand">
      <h3 className="heading">By hand</h3>
      <ul className="mt-1">
        {release.care.map((c) => (
          <li key={c.code}>
            <label className="flex items-start gap-2 py-1">
              <input
                type="checkbox"
                className="mt-0.5 size-3.5 shrink-0 accent-plum"
                checked={c.done !== null}
                onChange={(e) => void say(release.revision, { do: "tick", by: me || "the maker", code: c.code, is_done: e.target.checked })}
              />
              <span>
                {c.words}
                {c.done && (
                  <span className="text-[12px] text-soft">
                    {" "}
                    · {by(c.done)}, {new Date(1000 * c.done.at_s).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}
                  </span>
                )}
              </span>
            </label>
          </li>
        ))}
      </ul>
    </section>
  );
}
