import type { JobEvent } from "./generated/JobEvent";

/**
 * Listens to what happens to a job, in this tab or any other; returns how to stop.
 *
 * A browser opens only six connections to one server, and an event stream holds one for good. So of all tabs on a job
 * one keeps the stream and passes the events on; when it closes, another takes over.
 */
export function listen(id: number, hear: (event: JobEvent) => void): () => void {
  const stop = new AbortController();
  const others = new BroadcastChannel(`varichrom-job-${id}`);
  others.onmessage = (message: MessageEvent<JobEvent>) => hear(message.data);
  const stream = () =>
    new Promise<void>((ended) => {
      const source = new EventSource(`/api/jobs/${id}/events`);
      source.onmessage = (message: MessageEvent<string>) => {
        const event = JSON.parse(message.data) as JobEvent;
        hear(event);
        others.postMessage(event);
      };
      const end = () => {
        source.close();
        ended();
      };
      stop.signal.addEventListener("abort", end);
      window.addEventListener("pagehide", end, { once: true });
    });
  if ("locks" in navigator) {
    // Refused when stopped while waiting for the turn, which is what is wanted.
    navigator.locks.request(`varichrom-job-${id}`, { signal: stop.signal }, stream).catch(() => {});
  } else {
    void stream();
  }
  return () => {
    stop.abort();
    others.close();
  };
}
