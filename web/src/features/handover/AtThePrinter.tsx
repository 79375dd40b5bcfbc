import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { take } from "../../api/answers";
import { api, Refused } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import type { MovesFile } from "../../api/generated/MovesFile";
import type { SendPrint } from "../../api/generated/SendPrint";
import type { SentView } from "../../api/generated/SentView";
import { useNotice } from "../../state/notice";
import { Button } from "../../ui/Button";
import { duration } from "../../ui/format";
import { Bar } from "../../ui/states";

const key = (id: number) => ["sent", id];

/** What can be done with a printer that takes files. */
function useSent(id: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const [isSending, setSending] = useState(false);
  const done = async (asked: () => Promise<SentView | Response>) => {
    setSending(true);
    try {
      const view = await asked();
      await take(queries, key(id), view instanceof Response ? null : view);
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
    }
    setSending(false);
  };
  return { done, isSending };
}

/** The button that sends a file to the job's printer. */
export function SendButton({ job, which }: { job: JobView; which: Partial<SendPrint> }) {
  const { done, isSending } = useSent(job.id);
  if (!job.printer.address) return null;
  return (
    <Button kind="main" disabled={isSending} onClick={() => void done(() => api.send(job.id, which))}>
      {isSending ? "Sending" : "Send"}
    </Button>
  );
}

const says: Record<string, string> = { running: "prints", waits: "waits", done: "is done with", stopped: "stopped", dead: "broke off" };

/** How the printer is with what it was sent, if it was sent anything. */
export function AtThePrinter({ job, files }: { job: JobView; files: readonly Pick<MovesFile, "name">[] }) {
  const { done } = useSent(job.id);
  const sent = useQuery({
    queryKey: key(job.id),
    queryFn: () => api.sent(job.id).catch(() => null),
    enabled: job.printer.address !== "",
    retry: false,
    refetchInterval: (q) => (q.state.data && ["running", "waits"].includes(q.state.data.is) ? 1000 : false),
  }).data;
  // What somebody else sent to the same printer is not ours to show.
  if (!sent || !files.some((f) => f.name === sent.name)) return null;
  const isBusy = sent.is === "running" || sent.is === "waits";
  return (
    <section className="border-b border-line py-2.5" aria-label="At the printer" role="status">
      <div className="flex items-center justify-between gap-3">
        <p className="min-w-0 truncate">
          The printer <b className="font-semibold">{says[sent.is] ?? sent.is}</b> {sent.name}
        </p>
        <span className="figure shrink-0 text-soft">
          layer {sent.layer + 1} · {duration(sent.passed_s)} of {duration(sent.whole_s)}
        </span>
      </div>
      <div className="mt-1 flex items-center justify-between gap-3">
        <Bar done={sent.whole_s > 0 ? Math.min(1, sent.passed_s / sent.whole_s) : null} />
        {isBusy && <Button onClick={() => void done(() => api.stopSent(job.id))}>Stop the print</Button>}
      </div>
      {sent.is === "waits" && sent.words && (
        <p className="mt-1.5">
          {sent.words}.{" "}
          <Button kind="link" onClick={() => void done(() => api.answerSent(job.id, { do: "go-on" }))}>
            Done, go on
          </Button>
        </p>
      )}
    </section>
  );
}
