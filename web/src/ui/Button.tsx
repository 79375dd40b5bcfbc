import type { ComponentProps } from "react";

interface ButtonProps extends ComponentProps<"button"> {
  kind?: "plain" | "main" | "link" | "danger";
}

const looks = {
  plain: "border border-line bg-sheet px-2.5 py-1 rounded-[4px] font-medium hover:border-faint",
  main: "border border-plum bg-plum text-white px-3 py-1 rounded-[4px] font-semibold hover:brightness-110",
  link: "text-plum font-semibold hover:underline",
  danger: "border border-wrong text-wrong bg-sheet px-2.5 py-1 rounded-[4px] font-medium hover:bg-wrong hover:text-white",
};

export function Button({ kind = "plain", className = "", ...rest }: ButtonProps) {
  return <button type="button" className={`${looks[kind]} disabled:cursor-not-allowed disabled:opacity-45 ${className}`} {...rest} />;
}
