import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

/** A menu that opens from a button. */
export function Menu({ trigger, children }: { trigger: ReactNode; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={3}
          className="z-50 min-w-44 rounded-[4px] border border-line bg-sheet py-1 shadow-md"
          onClick={(e) => e.stopPropagation()}
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function MenuItem({
  onSelect,
  isOff = false,
  isOn,
  hint,
  children,
}: {
  onSelect: () => void;
  isOff?: boolean;
  isOn?: boolean;
  hint?: string;
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Item
      disabled={isOff}
      onSelect={onSelect}
      className="flex cursor-pointer justify-between gap-4 px-3 py-1 outline-none data-disabled:cursor-default data-disabled:text-faint data-highlighted:bg-plum-tint"
    >
      <span>
        {isOn ? "✓ " : ""}
        {children}
      </span>
      {hint && <span className="figure text-faint">{hint}</span>}
    </DropdownMenu.Item>
  );
}
