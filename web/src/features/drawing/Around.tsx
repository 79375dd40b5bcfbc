import type { ReactNode } from "react";
import type { DrawingView } from "../../api/generated/DrawingView";
import type { Flatwork } from "../../api/generated/Flatwork";
import { Choice } from "../../ui/Choice";
import { LengthField } from "../../ui/LengthField";
import { Select } from "../../ui/Select";
import { Tick } from "../../ui/Tick";

/** What lies around and below, and which side shows. */
export function Around({ view, work, say }: { view: DrawingView; work: Flatwork; say: (change: Partial<Flatwork>) => void }) {
  const { base, outline, eyelet } = work;
  const names = view.inks.map((ink, i) => ({ value: String(i), label: work.inks[i]?.name ?? ink.name }));
  const colour = (label: string, ink: number, put: (ink: number) => void) => (
    <Select label={label} value={String(ink)} options={names} className="h-6 w-[92px] py-0!" onChange={(v) => put(Number(v))} />
  );
  const mm = (label: string, value: number, put: (mm: number) => void) => (
    <LengthField label={label} value={value} digits={2} width={78} isLow onCommit={put} />
  );
  return (
    <>
      <section className="mt-4" aria-label="Around and below">
        <h2 className="heading border-b border-line pb-1.5">Around and below</h2>
        <Row>
          <Tick isOn={!!base} onChange={(on) => say({ base: on ? { ink: 0, thickness_mm: 0.6, margin_mm: 0 } : null })}>
            Base plate
          </Tick>
          {base && (
            <>
              {colour("Colour of the base plate", base.ink, (ink) => say({ base: { ...base, ink } }))}
              {mm("Thickness of the base plate", base.thickness_mm, (t) => say({ base: { ...base, thickness_mm: t } }))}
            </>
          )}
        </Row>
        {base && (
          <Row>
            <span className="pl-[18px] text-soft">stands out by</span>
            {mm("Margin of the base plate", base.margin_mm, (m) => say({ base: { ...base, margin_mm: m } }))}
          </Row>
        )}
        <Row>
          <Tick isOn={!!outline} onChange={(on) => say({ outline: on ? { ink: 0, width_mm: 1.2 } : null })}>
            Rim around all
          </Tick>
          {outline && (
            <>
              {colour("Colour of the rim", outline.ink, (ink) => say({ outline: { ...outline, ink } }))}
              {mm("Width of the rim", outline.width_mm, (w) => say({ outline: { ...outline, width_mm: w } }))}
            </>
          )}
        </Row>
        <Row>
          <Tick
            isOn={!!eyelet}
            onChange={(on) => say({ eyelet: on ? { at: [0, view.size_mm[1]], hole_mm: 4, ring_mm: 2, ink: 0 } : null })}
          >
            Eyelet
          </Tick>
          {eyelet && (
            <>
              {colour("Colour of the eyelet", eyelet.ink, (ink) => say({ eyelet: { ...eyelet, ink } }))}
              {mm("Hole of the eyelet", eyelet.hole_mm, (h) => say({ eyelet: { ...eyelet, hole_mm: h } }))}
            </>
          )}
        </Row>
        {eyelet && (
          <Row>
            <span className="pl-[18px] text-soft">ring around it; drag it to its place</span>
            {mm("Ring of the eyelet", eyelet.ring_mm, (r) => say({ eyelet: { ...eyelet, ring_mm: r } }))}
          </Row>
        )}
      </section>
      <section className="mt-4" aria-label="Which side shows">
        <h2 className="heading pb-1.5">Which side shows</h2>
        <Choice
          label="Which side shows"
          value={work.side ?? "upper"}
          options={[
            ["bed", "Bed side, mirrored"],
            ["upper", "Upper side"],
          ]}
          onChange={(side) => say({ side })}
        />
      </section>
    </>
  );
}

function Row({ children }: { children: ReactNode }) {
  return (
    <div className="flex min-h-8 items-center gap-2 border-b border-line py-1 [&>label]:mr-auto [&>span:first-child]:mr-auto">
      {children}
    </div>
  );
}
