import type { ComponentProps } from "react";
import { go } from "./route";

/** A link to another page of the program: it can be opened in a tab of its own, and is followed without loading anew. */
export function Link({ to, onClick, ...rest }: { to: string } & Omit<ComponentProps<"a">, "href">) {
  return (
    <a
      href={to}
      onClick={(e) => {
        onClick?.(e);
        if (e.defaultPrevented || e.ctrlKey || e.metaKey || e.shiftKey) return;
        e.preventDefault();
        go(to);
      }}
      {...rest}
    />
  );
}
