import { useWaitingJobs } from "../../api/release";
import { Link } from "../../state/Link";

/** Jobs that somebody is asked to look at before they are printed, those that wait longest first. */
export function WaitingJobs() {
  const waiting = useWaitingJobs().data ?? [];
  if (waiting.length === 0) return null;
  return (
    <section className="mt-4 border border-line bg-sheet px-4 py-3" aria-label="To be looked at">
      <h2 className="heading">To be looked at before they are printed</h2>
      <ul className="mt-1">
        {waiting.map(({ id, name, look }) => (
          <li key={id} className="flex items-baseline justify-between gap-4 border-t border-line py-1.5 first:border-t-0">
            <Link to={`/jobs/${id}/handover`} className="min-w-0 truncate font-semibold hover:underline">
              {name}
            </Link>
            <span className="shrink-0 text-soft">
              {look.said.do === "ask" && `${look.said.by} asks ${look.said.of ?? "anybody"}, `}
              {new Date(1000 * look.at_s).toLocaleString([], { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" })}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
