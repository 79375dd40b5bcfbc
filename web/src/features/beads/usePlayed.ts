import { useCallback, useEffect, useRef, useState } from "react";
import type { LayerMoves, MoveData } from "../../api/moveData";

/** How far a layer is played: moves that have begun, and where the last of them has come to. */
export interface Played {
  shown: number;
  /** Place of the nozzle, mm; none while all is shown. */
  tip: readonly [number, number] | null;
  isPlaying: boolean;
  /** Shows the first so many moves; all of them from their number on. */
  scrub: (shown: number) => void;
  play: () => void;
  stop: () => void;
}

const place = (data: MoveData, i: number): [number, number] => [data.places[3 * i] ?? 0, data.places[3 * i + 1] ?? 0];

/** Plays the moves of a layer in the time the printer takes, so many times as fast. */
export function usePlayed(data: MoveData | undefined, layer: LayerMoves | null, pace: number): Played {
  const count = layer?.moves.length ?? 0;
  /** Seconds since the layer was begun; none while all is shown. */
  const [time, setTime] = useState<number | null>(null);
  const [isPlaying, setPlaying] = useState(false);
  const [of, setOf] = useState(layer);
  if (of !== layer) {
    setOf(layer);
    setTime(null);
    setPlaying(false);
  }
  const last = layer?.times[count - 1] ?? 0;
  const then = useRef(0);
  useEffect(() => {
    if (!isPlaying) return;
    then.current = performance.now();
    let frame = requestAnimationFrame(function tick(now) {
      const by = ((now - then.current) / 1000) * pace;
      then.current = now;
      setTime((t) => {
        const next = (t ?? 0) + by;
        if (next < last) return next;
        setPlaying(false);
        return null;
      });
      frame = requestAnimationFrame(tick);
    });
    return () => cancelAnimationFrame(frame);
  }, [isPlaying, pace, last]);
  let shown = count;
  let tip: Played["tip"] = null;
  if (time !== null && layer && data && count > 0) {
    let [low, high] = [0, count - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((layer.times[middle] ?? 0) < time) low = middle + 1;
      else high = middle;
    }
    shown = low + 1;
    const i = layer.moves[low] ?? 0;
    const [begun, done] = [low > 0 ? (layer.times[low - 1] ?? 0) : 0, layer.times[low] ?? 0];
    const t = done > begun ? Math.min(1, Math.max(0, (time - begun) / (done - begun))) : 1;
    const [a, b] = [place(data, Math.max(i - 1, 0)), place(data, i)];
    tip = [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
  }
  const scrub = useCallback(
    (to: number) => {
      setPlaying(false);
      setTime(to >= count ? null : to <= 0 ? 0 : (layer?.times[to - 1] ?? 0));
    },
    [count, layer],
  );
  const play = useCallback(() => {
    setTime((t) => t ?? 0);
    setPlaying(true);
  }, []);
  const stop = useCallback(() => setPlaying(false), []);
  return { shown, tip, isPlaying, scrub, play, stop };
}
