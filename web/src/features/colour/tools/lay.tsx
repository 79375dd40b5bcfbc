import { useLaying } from "../../../state/laying";
import type { ToolCard } from "./card";

function Options() {
  const put = useLaying((s) => s.put);
  return (
    <p className="text-soft">
      {put ? "Drag on the model to move it; the panel has its numbers." : "Choose it in the panel, then click on the model."}
    </p>
  );
}

/** A drawing, a picture or words, laid on the surface colour by colour. */
export const lay: ToolCard = {
  tool: "lay",
  name: "Lay",
  key: "Y",
  isDrawn: true,
  icon: <path d="M3 5l10-2 4 9-10 5zM6 12l3-4 2 3 1.5-1.5 2 2.2" />,
  Options,
  how: () => <>Click where its middle goes; drag to move it.</>,
};
