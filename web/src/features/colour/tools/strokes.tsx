import type { ReactNode } from "react";
import { limits } from "../../../api/generated/limits";
import { useBench } from "../../../state/bench";
import { useOf } from "../../../state/useOf";
import { fixed } from "../../../ui/format";
import { LengthField } from "../../../ui/LengthField";
import { SliderRow } from "../../../ui/SliderRow";
import type { HereProps, ToolCard } from "./card";

/** Even steps of a radius look alike at every size. */
const byDoubling = { to: Math.log2, from: (place: number) => Number((2 ** place).toPrecision(2)) };

function Radius({ reach }: { reach: string }) {
  const { settings: s, set } = useOf(useBench, "settings", "set");
  return (
    <>
      <SliderRow
        label="Radius"
        value={s.radiusMm}
        min={0.2}
        max={20}
        step={0.1}
        unit=" mm"
        isLive
        scale={byDoubling}
        onChange={(radiusMm) => set({ radiusMm })}
      />
      <div className="flex items-center justify-between">
        <span className="text-soft">{reach}</span>
        <LengthField
          label="Radius in mm"
          value={s.radiusMm}
          digits={2}
          width={80}
          range={limits.radius}
          onCommit={(radiusMm) => set({ radiusMm })}
        />
      </div>
    </>
  );
}

const here =
  (name: string) =>
  ({ to, height, settings }: HereProps): ReactNode => (
    <>
      {name} of <span className="figure text-ink">{fixed(settings.radiusMm, 2)} mm</span> to {to}, at {height} height
    </>
  );

/** A brush over what is seen. */
export const dab: ToolCard = {
  tool: "dab",
  name: "Dab",
  key: "D",
  icon: <circle cx="10" cy="10" r="6.5" />,
  isDrawn: true,
  Options: () => <Radius reach="What you see" />,
  how: (to) => <>Draw on the model to give what you see to {to}. Drag beside it, or with the right button, to turn.</>,
  here: here("Dab"),
};

/** A ball that takes everything inside it. */
export const dip: ToolCard = {
  tool: "dip",
  name: "Dip",
  key: "I",
  icon: <path d="M3.5 10a6.5 6.5 0 1 0 13 0 6.5 6.5 0 1 0-13 0 M3.5 10c3 2.6 10 2.6 13 0" />,
  isDrawn: true,
  Options: () => <Radius reach="All inside, seen or not" />,
  how: (to) => <>Draw on the model to give everything inside the ball to {to}, seen or not.</>,
  here: here("Dip"),
};
