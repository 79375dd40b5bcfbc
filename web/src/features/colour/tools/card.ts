import type { ReactNode } from "react";
import type { Edit } from "../../../api/generated/Edit";
import type { JobView } from "../../../api/generated/JobView";
import type { Place } from "../../../api/generated/Place";
import type { Settings, Tool } from "../../../state/bench";

/** What the options of a tool are shown with. */
export interface OptionsProps {
  job: JobView;
  /** Patches at the present crease angle. */
  patchCount: number | undefined;
  /** Gives the bands as they are typed. */
  onBands: () => void;
}

/** What a tool says of the place under the pointer. */
export interface HereProps {
  to: ReactNode;
  /** Height of the place above the bed. */
  height: ReactNode;
  settings: Settings;
  bands: readonly (readonly [number, number])[];
}

/** All that is to be known of one tool of Colour. */
export interface ToolCard {
  tool: Tool;
  name: string;
  key: string;
  icon: ReactNode;
  /** Whether it is drawn over the model with the button held. */
  isDrawn?: boolean;
  /** What a click asks for; left out for tools that only draw. */
  click?: (settings: Settings, region: string, at: Place) => Edit;
  Options: (props: OptionsProps) => ReactNode;
  /** How to use it. */
  how: (to: ReactNode, settings: Settings) => ReactNode;
  /** What it would do here, where that is not told by the facets it takes. */
  here?: (props: HereProps) => ReactNode;
}
