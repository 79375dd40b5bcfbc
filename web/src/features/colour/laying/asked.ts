import type { Edit } from "../../../api/generated/Edit";
import type { GivenDrawing } from "../../../api/generated/GivenDrawing";
import type { DrawingSource } from "../../../api/generated/DrawingSource";
import type { LaidOn } from "../../../api/generated/LaidOn";
import type { LayDrawing } from "../../../api/generated/LayDrawing";
import type { Laying } from "../../../api/generated/Laying";
import type { Relief } from "../../../api/generated/Relief";
import { useLaying, usualOptions, type Put } from "../../../state/laying";

type State = ReturnType<typeof useLaying.getState>;

/** The drawing as the server is asked for it; none while there is none. */
export function givenOf(s: State): GivenDrawing | null {
  if (s.what === "words") {
    if (s.words.text.trim() === "") return null;
    return { is: "words", words: s.words, ...(s.font ? { font: s.font.staged } : {}) };
  }
  if (s.what === "eye") return { is: "eye", eye: s.eye };
  if (!s.file) return null;
  return "staged" in s.file
    ? { is: "staged", staged: s.file.staged, options: s.options }
    : { is: "kept", file: s.file.name, content: s.file.content, options: s.options };
}

function laidOn(s: State, put: Put): LaidOn {
  switch (s.how) {
    case "face":
      return { how: "flat", facing: put.normal, through: s.isThrough };
    case "view":
      return { how: "flat", facing: put.view.facing, up: put.view.up, through: s.isThrough };
    case "around":
      return { how: "around", centre: put.centre, axis: [0, 0, 1] };
  }
}

/** What is asked of the server to lay it, once it was put somewhere. */
export function askedOf(s: State, inks: number): LayDrawing | null {
  const drawing = givenOf(s);
  if (!drawing || !s.put) return null;
  return {
    drawing,
    laying: { at: s.put.at, on: laidOn(s, s.put), turn_deg: s.turnDeg, mirrored: s.isMirrored },
    inks: Array.from({ length: inks }, (_, i) => s.takers[i] ?? { to: "new" }),
    ...(s.relief === "none" || s.how === "around"
      ? {}
      : { model: s.put.model, relief: s.relief === "through" ? { is: "through" } : { is: s.relief, mm: s.reliefMm } }),
    ...(s.step === null ? {} : { instead_of: s.step }),
  };
}

interface Laid {
  drawing: DrawingSource;
  laying: Laying;
  regions: (string | null)[];
  model: string;
  relief: Relief | null;
}

/** The edit of a step that lays a drawing. */
function layingIn(edit: Edit): Laid | null {
  if (edit.edit === "give-drawing") return { ...edit, model: edit.model ?? "", relief: null };
  if (edit.edit === "part" && edit.do === "stamp") return { ...edit, model: edit.at.model };
  if (edit.edit !== "several") return null;
  for (const inner of edit.edits) {
    const found = layingIn(inner);
    if (found) return found;
  }
  return null;
}

export const isLaying = (edit: Edit) => layingIn(edit) !== null;

/** Takes the drawing of a step in hand again. */
export function takeUp(step: number, edit: Edit) {
  const laid = layingIn(edit);
  if (!laid) return;
  const { drawing, laying, regions } = laid;
  const made = new Set(edit.edit === "several" ? edit.edits.flatMap((e) => (e.edit === "add-region" ? [e.region] : [])) : []);
  const { on } = laying;
  const facing = on.how === "flat" ? on.facing : ([0, 0, 1] as [number, number, number]);
  useLaying.getState().set({
    ...(drawing.is === "words"
      ? { what: "words" as const, words: drawing.words, font: null }
      : drawing.is === "eye"
        ? { what: "eye" as const, eye: drawing.eye }
        : {
            what: "file" as const,
            file: { name: drawing.file, content: drawing.content },
            options: drawing.options ?? usualOptions,
          }),
    takers: regions.map((r) => (r === null ? { to: "nobody" } : made.has(r) ? { to: "new" } : { to: "region", region: r })),
    how: on.how === "around" ? "around" : on.up ? "view" : "face",
    turnDeg: laying.turn_deg ?? 0,
    isMirrored: laying.mirrored ?? false,
    isThrough: on.how === "flat" && (on.through ?? false),
    relief: laid.relief?.is ?? "none",
    ...(laid.relief && laid.relief.is !== "through" ? { reliefMm: laid.relief.mm } : {}),
    put: {
      model: laid.model,
      at: laying.at,
      normal: facing,
      centre: on.how === "around" ? on.centre : laying.at,
      view: { facing, up: (on.how === "flat" && on.up) || [0, 0, 1] },
    },
    step,
  });
}
