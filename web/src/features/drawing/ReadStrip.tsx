import type { ReactNode } from "react";
import type { DrawingView } from "../../api/generated/DrawingView";
import { NumberField } from "../../ui/NumberField";
import type { OnTable } from "./useDrawing";

/** How the drawing is read: colours, specks and smoothing of a picture, steps of gradients, and how much comes of it. */
export function ReadStrip({ table, view }: { table: OnTable; view: DrawingView }) {
  const { options } = view;
  const isStacked = table.stacking !== null;
  return (
    <div
      className="absolute inset-x-4 bottom-3 flex h-12 items-center gap-5 whitespace-nowrap border border-line bg-sheet px-4"
      aria-label="How it is read"
    >
      {!isStacked && (
        <Field name="Colours">
          <NumberField
            label="Colours"
            value={options.colours ?? view.inks.length}
            unit=""
            digits={0}
            width={46}
            range={{ low: 1, high: 32 }}
            onCommit={(n) => table.readAnew({ colours: Math.round(n) })}
          />
        </Field>
      )}
      {view.is_picture ? (
        <>
          <Field name="Specks under">
            <NumberField
              label="Specks under"
              value={options.specks_mm2}
              unit="mm²"
              digits={2}
              onCommit={(n) => table.readAnew({ specks_mm2: Math.max(n, 0) })}
            />
          </Field>
          {!isStacked && (
            <Field name="Smooth">
              <NumberField
                label="Smooth"
                value={options.smooth_mm}
                unit="mm"
                digits={2}
                onCommit={(n) => table.readAnew({ smooth_mm: Math.max(n, 0) })}
              />
            </Field>
          )}
        </>
      ) : (
        <Field name="Steps of a gradient">
          <NumberField
            label="Steps of a gradient"
            value={options.steps}
            unit=""
            digits={0}
            width={46}
            range={{ low: 1, high: 16 }}
            onCommit={(n) => table.readAnew({ steps: Math.round(n) })}
          />
        </Field>
      )}
      <span className="ml-auto text-soft" role="status">
        {table.isReading && "reading"}
      </span>
    </div>
  );
}

function Field({ name, children }: { name: string; children: ReactNode }) {
  return (
    <label className="flex items-center gap-2 text-soft">
      {name}
      {children}
    </label>
  );
}
