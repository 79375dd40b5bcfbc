import { Check, CircleAlert, OctagonX } from "lucide-react";
import type { Level } from "../api/generated/Level";

const marks: Record<Level, [typeof Check, string, string]> = {
  wrong: [OctagonX, "text-wrong", "Wrong"],
  look: [CircleAlert, "text-look", "Look at it"],
  fine: [Check, "text-fine", "Fine"],
};

/** How bad something is. */
export function LevelMark({ level }: { level: Level }) {
  const [Icon, tint, says] = marks[level];
  return <Icon size={14} className={`mt-0.5 ${tint}`} aria-label={says} />;
}
