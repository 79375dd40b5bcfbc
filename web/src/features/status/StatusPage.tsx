import { useStatus } from "../../api/queries";
import { count, counted, duration, fileSize } from "../../ui/format";
import { Trouble, Waiting } from "../../ui/states";
import { Brand } from "../shell/Brand";

/** How the server is, for those who keep it. */
export function StatusPage() {
  const status = useStatus();
  if (status.isPending) return <Waiting what="Asking the server" />;
  if (status.error) return <Trouble error={status.error} retry={() => void status.refetch()} />;
  const s = status.data;
  const rows: [string, string][] = [
    ["Running for", duration(s.up_s)],
    ["Database", s.is_store_sound ? "answers" : "does not answer"],
    ["Jobs on the shelf", count(s.jobs)],
    ["Jobs open", count(s.open_jobs)],
    ["Plans and trials going on", count(s.works)],
    ["Files waiting to be taken", s.waiting_files === 0 ? "none" : `${counted(s.waiting_files, "file")}, ${fileSize(s.waiting_bytes)}`],
    ["Pages open", count(s.listeners)],
    ["Memory", s.memory_bytes === null ? "not known" : fileSize(s.memory_bytes)],
    ["Idle jobs are put aside over", s.memory_budget_bytes === null ? "three jobs" : fileSize(s.memory_budget_bytes)],
    ["Version", s.version],
  ];
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 shrink-0 items-center border-b border-line px-3.5">
        <Brand />
      </header>
      <main className="mx-auto w-full max-w-xl flex-1 overflow-y-auto px-8 py-8" tabIndex={0}>
        <h1 className="text-xl">How the server is</h1>
        <dl className="mt-4 border-t border-line">
          {rows.map(([name, value]) => (
            <div key={name} className="flex justify-between gap-6 border-b border-line py-2">
              <dt className="text-soft">{name}</dt>
              <dd className="figure">{value}</dd>
            </div>
          ))}
        </dl>
      </main>
    </div>
  );
}
