import type { ReactNode } from "react";

/** A tick box with its label. */
export function Tick({
  isOn,
  onChange,
  title,
  children,
}: {
  isOn: boolean;
  onChange: (isOn: boolean) => void;
  title?: string;
  children: ReactNode;
}) {
  return (
    <label className="flex cursor-pointer items-center gap-1.5 whitespace-nowrap" title={title}>
      <input type="checkbox" className="size-3 accent-plum" checked={isOn} onChange={(e) => onChange(e.target.checked)} />
      {children}
    </label>
  );
}
