import type { ReactNode } from "react";

/** A tool in a tray at the foot of the bench: an icon over its name, filled while it is in hand. */
export function TrayButton({
  name,
  title,
  isPressed,
  onPress,
  className,
  children,
}: {
  name: string;
  title?: string | undefined;
  isPressed: boolean;
  onPress: () => void;
  className: string;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-pressed={isPressed}
      title={title}
      onClick={onPress}
      className={`flex flex-col items-center justify-center gap-1 rounded-[4px] text-[12px] ${className} ${isPressed ? "bg-plum font-semibold text-white" : "hover:bg-paper"}`}
    >
      {children}
      {name}
    </button>
  );
}
