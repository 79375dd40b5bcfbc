import type { ReactNode } from "react";

/** A word of the program's own, or of the trade: two sentences and a drawing. */
export interface Word {
  name: string;
  text: string;
  drawing: ReactNode;
}

const ink = "var(--color-ink)";
const soft = "var(--color-soft)";
const plum = "var(--color-plum)";
const tint = "#d9b8cd";
const pale = "#e6e5e0";
const line = { stroke: ink, strokeWidth: 1.2, fill: "none" } as const;

/** All words by the key they are asked for with. Drawings are 120 by 64. */
export const words = {
  region: {
    name: "Region",
    text: "A part of the surface that has one colour, with a name and a slot. Give faces to it with the tools; changing its colour recolours all of them.",
    drawing: (
      <>
        <path d="M20 50V22l40-12 40 12v28L60 58z" fill={pale} stroke={ink} />
        <path d="M60 10 100 22v28L60 58z" fill={plum} />
      </>
    ),
  },
  slot: {
    name: "Slot",
    text: "A place of the printer that feeds one filament: a channel of a feeder, or a nozzle of its own. Regions name a slot, and a spool is put into it.",
    drawing: (
      <>
        {[0, 1, 2].map((n) => (
          <g key={n}>
            <circle cx={26 + 34 * n} cy="22" r="12" fill={n === 1 ? plum : pale} stroke={ink} />
            <path d={`M${26 + 34 * n} 34v10L60 56`} {...line} />
          </g>
        ))}
      </>
    ),
  },
  soak: {
    name: "Soak depth",
    text: "How far a colour goes in below the surface. Too thin and what is under it shines through; deeper costs no swap where the layer holds that colour anyway.",
    drawing: (
      <>
        <rect x="20" y="14" width="80" height="38" fill={pale} stroke={ink} />
        <rect x="20" y="14" width="80" height="11" fill={plum} />
        <path d="M106 14v11m-3-11h6m-6 11h6" {...line} />
      </>
    ),
  },
  crease: {
    name: "Crease angle",
    text: "How sharply the surface must turn for a patch to end there. A small angle makes many small patches, a large one lets a patch run over soft edges.",
    drawing: (
      <>
        <path d="M14 54 60 30l46 16" {...line} strokeWidth={2} />
        <path d="M60 30 102 8" stroke={soft} strokeDasharray="3 3" />
        <path d="M86.6 16a30 30 0 0 1 1.7 23.8" stroke={plum} fill="none" strokeWidth="2" />
      </>
    ),
  },
  stray: {
    name: "Stray",
    text: "A small patch of a region that lies apart from the rest of it, often missed while painting. Each one can cost swaps of its own in its layers.",
    drawing: (
      <>
        <rect x="16" y="12" width="88" height="42" fill={pale} stroke={ink} />
        <path d="M24 20h34v26H24z" fill={plum} />
        <circle cx="86" cy="40" r="5" fill={plum} />
      </>
    ),
  },
  crumb: {
    name: "Crumb",
    text: "A part so small that it would hardly be printed, often left by a cut or by the file. Crumbs can be joined to their neighbours or dropped all at once.",
    drawing: (
      <>
        <rect x="20" y="14" width="52" height="38" fill={pale} stroke={ink} />
        <rect x="86" y="45" width="6" height="6" fill={plum} stroke={ink} />
      </>
    ),
  },
  swap: {
    name: "Swap",
    text: "A change from one filament to another while printing. Each costs time and the plastic that is purged until the new colour is clean.",
    drawing: (
      <>
        <rect x="12" y="16" width="96" height="10" fill={pale} stroke={ink} />
        <rect x="12" y="40" width="96" height="10" fill={plum} />
        <path d="M58 26v14m-4-5 4 5 4-5" {...line} />
      </>
    ),
  },
  rinse: {
    name: "Rinse",
    text: "How much plastic must be pushed through after a swap until no more of the old colour can be seen. From dark to light takes far more than from light to dark.",
    drawing: (
      <>
        {[0, 1, 2, 3, 4, 5].map((n) => (
          <rect key={n} x={12 + 16 * n} y="22" width="16" height="20" fill={plum} opacity={1 - 0.18 * n} />
        ))}
        <rect x="12" y="22" width="96" height="20" {...line} />
      </>
    ),
  },
  melt: {
    name: "Melt zone",
    text: "The molten plastic between the feed and the tip of the nozzle, where the old colour still is after a swap. The larger it is, the longer a rinse takes.",
    drawing: (
      <>
        <path d="M46 6h28v30l-9 14h-10L46 36z" fill={pale} stroke={ink} />
        <path d="M46 20h28v16l-9 14h-10L46 36z" fill={plum} />
      </>
    ),
  },
  tanks: {
    name: "Tanks in series",
    text: "How the melt zone mixes: one tank blends old and new for long, many push the old out before them. A watched rinse finds the number that fits your nozzle.",
    drawing: (
      <>
        {[0, 1, 2].map((n) => (
          <g key={n}>
            <rect x={14 + 34 * n} y="18" width="24" height="28" fill={tint} opacity={1 - 0.3 * n} stroke={ink} />
            <path d={`M${38 + 34 * n} 32h10`} {...line} />
          </g>
        ))}
      </>
    ),
  },
  // What a ΔE of 1, 2 and 5 looks like: common practice, no source.
  difference: {
    name: "Difference of colours",
    text: "How different two colours look to an eye, as the number ΔE of CIEDE2000. Below about 1 nobody sees it, 2 is seen side by side, and 5 at a glance.",
    drawing: (
      <>
        <rect x="16" y="16" width="44" height="32" fill={plum} />
        <rect x="60" y="16" width="44" height="32" fill="#7c3a6b" />
      </>
    ),
  },
  pace: {
    name: "Pace",
    text: "How much longer your printer takes than is worked out, as a factor. Tell one print's real time, and all times follow it.",
    drawing: (
      <>
        <circle cx="60" cy="32" r="22" fill={pale} stroke={ink} />
        <path d="M60 32V16m0 16 10 8" {...line} strokeWidth={2} />
      </>
    ),
  },
  tower: {
    name: "Purge tower",
    text: "A small tower beside the print that takes what is purged at swaps. It grows with the print, so that it also needs plastic in layers without a swap.",
    drawing: (
      <>
        <path d="M20 54V30l20-8 20 8v24z" fill={pale} stroke={ink} />
        {[0, 1, 2, 3].map((n) => (
          <rect key={n} x="80" y={46 - 9 * n} width="22" height="8" fill={n % 2 ? plum : tint} stroke={ink} />
        ))}
      </>
    ),
  },
  score: {
    name: "Swap score",
    text: "The chart of layers against slots: a line for each slot, as thick as its layer prints of it. Every stroke between two lines is a swap.",
    drawing: (
      <>
        {[14, 32, 50].map((y) => (
          <path key={y} d={`M10 ${y}h100`} stroke={soft} strokeWidth="0.8" />
        ))}
        <path d="M10 14h60M50 32h40M80 50h30" stroke={plum} strokeWidth="4" />
        <path d="M50 14v18M70 14v18M80 32v18M90 32v18" {...line} />
      </>
    ),
  },
  snag: {
    name: "Snag",
    text: "A place where the plan costs more than it needs to, with what mending it would save. Each was planned in full, so that the saving is what you get.",
    drawing: (
      <>
        <path d="M10 40h36l8-22 8 30 8-8h40" {...line} strokeWidth={2} />
        <circle cx="58" cy="30" r="17" stroke={plum} fill="none" strokeWidth="2" />
      </>
    ),
  },
  bill: {
    name: "Bill",
    text: "What the print takes as it stands: time, swaps, plastic and money. It follows every edit, with what that edit changed beside it.",
    drawing: (
      <>
        <path d="M34 8h52v46l-6.5-4-6.5 4-6.5-4-6.5 4-6.5-4-6.5 4-6.5-4-6.5 4z" fill="var(--color-sheet)" stroke={ink} />
        <path d="M42 20h36M42 29h36M42 38h20" stroke={soft} />
      </>
    ),
  },
} satisfies Record<string, Word>;

export type WordKey = keyof typeof words;
