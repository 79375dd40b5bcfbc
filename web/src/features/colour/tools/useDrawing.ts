import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Edit } from "../../../api/generated/Edit";
import type { Place } from "../../../api/generated/Place";
import type { Brush } from "../../../scene/brush";
import type { Hit } from "../../../scene/Model";
import { setButtons, stage } from "../../../scene/stage";
import { useBench, useTarget } from "../../../state/bench";
import { cardOf } from "../toolList";
import { bandEdit } from "./band";
import { useOf } from "../../../state/useOf";

type Point = [number, number, number];

interface Drawn {
  path: Point[];
  /** One place for each facet passed over. */
  places: Place[];
  facets: Set<number>;
}

/** Tools that are drawn with the button held: what is drawn so far, and the edit when it is let go. */
export function useDrawing(
  model: string,
  lift: number,
  hit: Hit | null,
  shownBands: readonly (readonly [number, number])[],
  commit: (edit: Edit, settled: () => void) => void,
  lay: (phase: "move" | "end", at: Hit | null) => void,
) {
  const { hand, tool, settings } = useOf(useBench, "hand", "tool", "settings");
  const region = useTarget();
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const running = useRef<Drawn | null>(null);
  const draws = hand === "surface" && cardOf(tool).isDrawn === true;

  useEffect(() => {
    setButtons({ draws, isOver: hit !== null });
  }, [draws, hit]);

  const finish = useCallback(
    (is: Drawn) => {
      const eye = stage()?.camera.position;
      // What was drawn stays on show until the cut surface is there.
      const settled = () => setDrawn(null);
      const first = is.places[0];
      if (tool === "lay") {
        lay("end", null);
        return settled();
      }
      if (!eye || !first) return settled();
      if (tool === "dab" || tool === "dip") {
        const stroke = { model, path: is.path, radius_mm: settings.radiusMm, eye: [eye.x, eye.y, eye.z - lift] as Point };
        commit({ edit: "give-stroke", region, reach: tool, stroke }, settled);
      } else if (tool === "facet") {
        commit({ edit: "give-facets", region, at: is.places, flat: settings.flat }, settled);
      } else if (tool === "band") {
        const heights = is.path.map((p) => p[2] + lift);
        const [from = 0, to = 0] = [heights[0], heights.at(-1)];
        // A click without a drag takes the band as typed.
        const isDragged = Math.abs(to - from) > 0.05;
        commit(bandEdit(settings, region, first, isDragged ? [from, to] : undefined), settled);
        if (isDragged) useBench.getState().set({ bandLow: Math.min(from, to), bandHigh: Math.max(from, to) });
      }
    },
    [tool, settings, region, model, lift, commit, lay],
  );

  useEffect(() => {
    const end = () => {
      const is = running.current;
      running.current = null;
      if (is) finish(is);
    };
    const cancel = (e: KeyboardEvent) => {
      if (e.key === "Escape" && running.current) {
        running.current = null;
        setDrawn(null);
      }
    };
    window.addEventListener("pointerup", end);
    window.addEventListener("keydown", cancel);
    return () => {
      window.removeEventListener("pointerup", end);
      window.removeEventListener("keydown", cancel);
    };
  }, [finish]);

  const onDraw = useCallback(
    (phase: "start" | "move", at: Hit) => {
      if (!draws) return;
      if (phase === "start") {
        setButtons({ draws: true, isOver: true });
        running.current = { path: [], places: [], facets: new Set() };
      }
      const is = running.current;
      if (!is) return;
      if (tool === "lay") lay("move", at);
      const last = is.path.at(-1);
      const step = last ? Math.hypot(at.point[0] - last[0], at.point[1] - last[1], at.point[2] - last[2]) : Infinity;
      const isStroke = tool === "dab" || tool === "dip";
      if (isStroke && step < settings.radiusMm / 8) return;
      is.path.push(at.point);
      if (!is.facets.has(at.facet)) {
        is.facets.add(at.facet);
        is.places.push({ model, point: at.point, normal: at.normal });
      }
      setDrawn({ ...is, path: [...is.path] });
    },
    [draws, tool, settings.radiusMm, model, lay],
  );

  const brush = useMemo((): Brush | null => {
    if (tool === "dab" || tool === "dip") {
      const path = drawn ? drawn.path : hit ? [hit.point] : [];
      return path.length ? { kind: "stroke", path, radius: settings.radiusMm, isThrough: tool === "dip" } : null;
    }
    if (tool === "band" && (hit || drawn)) {
      const heights = drawn?.path.map((p) => p[2] + lift) ?? [];
      const [from, to] = [heights[0], heights.at(-1)];
      if (from !== undefined && to !== undefined && Math.abs(to - from) > 0.05) {
        return { kind: "bands", heights: [[Math.min(from, to), Math.max(from, to)]] };
      }
      return { kind: "bands", heights: shownBands };
    }
    return null;
  }, [tool, drawn, hit, lift, settings.radiusMm, shownBands]);

  return {
    brush,
    onDraw: draws ? onDraw : undefined,
    facetsDrawn: tool === "facet" && drawn ? drawn.facets : null,
    isDrawing: drawn !== null,
  };
}
