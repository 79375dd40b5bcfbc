import type { OptionsProps, ToolCard } from "./card";

function Options({ job }: OptionsProps) {
  const partCount = job.models.reduce((n, m) => n + m.parts.length, 0);
  return (
    <span className="text-[13px] text-soft">
      {partCount === 1
        ? "One fused body: a click takes all of it."
        : `${partCount} parts: a click takes one whole, and drops what is on it.`}
    </span>
  );
}

/** Whole parts. */
export const part: ToolCard = {
  tool: "part",
  name: "Whole part",
  key: "W",
  icon: <path d="m10 2 7 4v8l-7 4-7-4V6z" />,
  click: (_, region, at) => ({ edit: "give-part", region, at }),
  Options,
  how: (to) => <>Click a part to give it to {to}.</>,
};
