import { useBench } from "../../../state/bench";
import { useOf } from "../../../state/useOf";
import { Select } from "../../../ui/Select";
import type { OptionsProps, ToolCard } from "./card";
import { CreaseRow } from "./CreaseRow";

function Options({ patchCount }: OptionsProps) {
  const { settings: s, set } = useOf(useBench, "settings", "set");
  return (
    <>
      <Select
        label="What is alike"
        value={s.alikeTo}
        className="h-6 py-0!"
        options={[
          { value: "parts", label: "Copies of the part" },
          { value: "patches", label: "Patches of the same make" },
        ]}
        onChange={(alikeTo) => set({ alikeTo: alikeTo as typeof s.alikeTo })}
      />
      {s.alikeTo === "patches" ? (
        <CreaseRow patchCount={patchCount} />
      ) : (
        <span className="text-soft">Repeats the region on turned and mirrored copies.</span>
      )}
    </>
  );
}

/** What is like something else. */
export const alike: ToolCard = {
  tool: "alike",
  name: "Alike",
  key: "A",
  icon: <path d="M3 3h6v6H3z M11 11h6v6h-6z" />,
  click: (s, region, at) => ({ edit: "give-alike", region, at, to: s.alikeTo, crease_deg: s.creaseDeg }),
  Options,
  how: (to, s) =>
    s.alikeTo === "parts" ? (
      <>Click a part: its share of {to} is repeated on every copy of it.</>
    ) : (
      <>Click a patch: all patches of the same make go to {to}.</>
    ),
};
