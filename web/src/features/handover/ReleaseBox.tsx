import { useEffect, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Look } from "../../api/generated/Look";
import type { ReleaseView } from "../../api/generated/ReleaseView";
import { useSaying } from "../../api/release";
import { useBeadView } from "../../state/beadView";
import { useBench } from "../../state/bench";
import { useMark } from "../../state/mark";
import { useMe } from "../../state/me";
import { Button } from "../../ui/Button";
import { Select } from "../../ui/Select";

const anybody = "anybody";

const when = (look: Look) =>
  new Date(1000 * look.at_s).toLocaleString([], { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

/** Whether a job may be printed, and who says so: asked to look, released, sent back with a note. */
export function ReleaseBox({ job, release, wrong }: { job: JobView; release: ReleaseView; wrong: string | null }) {
  const { say } = useSaying(job.id);
  const me = useMe((s) => s.name);
  const layer = useBench((s) => s.layer);
  const [of, setOf] = useState(anybody);
  const [note, setNote] = useState<string | null>(null);
  const { mark, set: setMark } = useMark();
  const setView = useBeadView((s) => s.set);
  const isNoting = note !== null;
  // Only while a note is written a click on the layer beside means its place.
  useEffect(() => {
    setMark({ isMarking: isNoting, mark: null });
    if (isNoting) setView({ isStacked: false });
    return () => setMark({ isMarking: false, mark: null });
  }, [isNoting, setMark, setView]);
  const at = mark?.layer === layer ? mark.at : null;
  const others = release.people.filter((p) => p !== me);
  const { state, revision, look } = release;
  const isOpen = state === "open" || state === "sent-back" || state === "void";
  const sendBack = async () => {
    const isSaid = await say(revision, { do: "send-back", by: me, note: note ?? "", at: { layer, at_mm: at } });
    if (isSaid) setNote(null);
  };
  return (
    <section className="-mx-5 shrink-0 border-t border-line bg-sheet px-5 py-3" aria-label="Release">
      <div className="flex items-baseline justify-between">
        <h3 className="heading">Release</h3>
        <span className="figure text-[11.5px] text-soft">revision {revision}</span>
      </div>
      <StateWords release={release} />
      <Who release={release} job={job} />
      {me === "" ? null : (
        <div className="mt-2.5 flex flex-wrap items-center gap-2">
          {isOpen && (
            <>
              <Select
                label="Who is to look"
                value={of}
                options={[{ value: anybody, label: "anybody" }, ...others.map((p) => ({ value: p, label: p }))]}
                onChange={setOf}
                className="w-28"
              />
              <Button onClick={() => void say(revision, { do: "ask", by: me, of: of === anybody ? null : of })}>Ask to look</Button>
            </>
          )}
          {state !== "released" && (
            <Button
              kind="main"
              disabled={wrong !== null}
              title={wrong ? `${wrong} wrong: mend that first` : undefined}
              onClick={() => void say(revision, { do: "release", by: me })}
            >
              Release
            </Button>
          )}
          {(state === "asked" || state === "released") && note === null && (
            <Button kind="link" onClick={() => setNote("")}>
              Send back with a note
            </Button>
          )}
          {(state === "asked" || state === "released") && note === null && look && (
            <Button kind="link" onClick={() => void say(revision, { do: "take-back", by: me })}>
              Take back
            </Button>
          )}
        </div>
      )}
      {note !== null && (
        <form
          className="mt-2"
          onSubmit={(e) => {
            e.preventDefault();
            void sendBack();
          }}
        >
          <textarea
            autoFocus
            aria-label="What should be changed"
            className="h-16 w-full resize-none rounded-[4px] border border-line px-2 py-1"
            maxLength={500}
            value={note}
            onChange={(e) => setNote(e.target.value)}
            onKeyDown={(e) => e.stopPropagation()}
          />
          <div className="mt-1 flex items-center justify-between gap-2">
            <span className="text-[12px] leading-tight text-soft">
              {at ? `at layer ${layer + 1}, where it is marked` : `at layer ${layer + 1}; a click on it marks the place`}
            </span>
            <span className="flex shrink-0 gap-2 whitespace-nowrap">
              <Button onClick={() => setNote(null)}>Leave it</Button>
              <button
                type="submit"
                disabled={note.trim() === ""}
                className="rounded-[4px] bg-plum px-3 py-1 font-semibold text-white disabled:opacity-45"
              >
                Send back
              </button>
            </span>
          </div>
        </form>
      )}
    </section>
  );
}

function StateWords({ release }: { release: ReleaseView }) {
  const { state, look } = release;
  const setLayer = useBench((s) => s.setLayer);
  const setMark = useMark((s) => s.set);
  const setView = useBeadView((s) => s.set);
  const said = look?.said;
  if (!look || !said || state === "open") return <p className="mt-1 text-soft">Nobody has let it go yet. Any edit voids a release.</p>;
  if (said.do === "ask") {
    return (
      <p className="mt-1">
        <b className="font-semibold">{said.by}</b> asks {said.of ? <b className="font-semibold">{said.of}</b> : "anybody"} to look,{" "}
        {when(look)}.
      </p>
    );
  }
  if (said.do === "send-back") {
    const at = said.at;
    return (
      <p className="mt-1">
        <b className="font-semibold text-wrong">Sent back</b> by {said.by}, {when(look)}: “{said.note}”{" "}
        {at && (
          <button
            type="button"
            className="font-semibold text-plum hover:underline"
            onClick={() => {
              setLayer(at.layer);
              setMark({ mark: at.at_mm ? { layer: at.layer, at: at.at_mm } : null });
              if (at.at_mm) setView({ isStacked: false });
            }}
          >
            {at.at_mm ? "at the mark in layer" : "at layer"} {at.layer + 1}
          </button>
        )}
      </p>
    );
  }
  if (said.do === "release" && state === "released") {
    return (
      <p className="mt-1">
        <b className="font-semibold text-fine">Released</b> by {said.by}, {when(look)}. Any edit voids it.
      </p>
    );
  }
  return (
    <p className="mt-1">
      <b className="font-semibold text-look">No longer released</b>: {"by" in said ? said.by : ""} let revision {look.revision} go, and the
      job has changed since.
    </p>
  );
}

/** Who sits here; a name that is not known yet joins those who work here. */
function Who({ job, release }: { job: JobView; release: ReleaseView }) {
  const { setPeople } = useSaying(job.id);
  const { name, setName } = useMe();
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    const typed = (draft ?? "").trim();
    setDraft(null);
    if (typed === "" || typed === name) return;
    setName(typed);
    if (!release.people.includes(typed)) void setPeople([...release.people, typed]);
  };
  return (
    <label className="mt-2 flex items-center gap-2 text-[12px] text-soft">
      You are
      <input
        aria-label="Your name"
        list="people"
        placeholder="say who you are"
        className="min-w-0 flex-1 rounded-[4px] border border-line px-2 py-0.5 text-[13px] text-ink"
        maxLength={60}
        value={draft ?? name}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") e.currentTarget.blur();
        }}
      />
      <datalist id="people">
        {release.people.map((p) => (
          <option key={p} value={p} />
        ))}
      </datalist>
    </label>
  );
}
