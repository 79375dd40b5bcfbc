import { Check, ChevronDown } from "lucide-react";
import { Select as Radix } from "radix-ui";
import type { ReactNode } from "react";

export interface Option {
  value: string;
  label: ReactNode;
}

/** One of several, from a list. */
export function Select({
  label,
  value,
  options,
  onChange,
  className = "",
  placeholder,
}: {
  label: string;
  value: string;
  options: Option[];
  onChange: (value: string) => void;
  className?: string;
  /** Shown while nothing is chosen. */
  placeholder?: string;
}) {
  return (
    <Radix.Root value={value} onValueChange={onChange}>
      <Radix.Trigger
        aria-label={label}
        className={`flex items-center justify-between gap-2 rounded-[4px] border border-line bg-sheet px-2 py-1 text-left hover:border-faint ${className}`}
      >
        <span className="min-w-0 truncate">
          <Radix.Value placeholder={placeholder} />
        </span>
        <ChevronDown size={13} className="shrink-0 text-soft" aria-hidden />
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          position="popper"
          sideOffset={2}
          className="z-50 max-h-80 min-w-(--radix-select-trigger-width) overflow-hidden rounded-[4px] border border-line bg-sheet shadow-md"
        >
          <Radix.Viewport>
            {options.map((o) => (
              <Radix.Item
                key={o.value}
                value={o.value}
                className="flex cursor-pointer items-center justify-between gap-3 px-2 py-1.5 outline-none data-highlighted:bg-plum-tint"
              >
                <Radix.ItemText>{o.label}</Radix.ItemText>
                <Radix.ItemIndicator>
                  <Check size={13} aria-hidden />
                </Radix.ItemIndicator>
              </Radix.Item>
            ))}
          </Radix.Viewport>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
