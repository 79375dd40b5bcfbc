import { Button } from "../../../ui/Button";
import type { PaneProps } from "../PlacingTray";
import { axes } from "./TurnPane";

/** Mirrors along an axis; facets keep facing outward. */
export function MirrorPane({ place }: PaneProps) {
  return (
    <div className="flex items-center gap-2">
      {axes.map((a) => (
        <Button key={a.axis} onClick={() => place({ how: "mirror", axis: a.axis })}>
          Along {a.name}, {a.why}
        </Button>
      ))}
    </div>
  );
}
