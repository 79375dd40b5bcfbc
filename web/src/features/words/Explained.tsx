import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { Link } from "../../state/Link";
import { Drawing } from "./Drawing";
import { words, type WordKey } from "./words";

/** A word that explains itself where it stands: pressed, it says in two sentences and a drawing what it means. */
export function Explained({ word: key, children }: { word: WordKey; children: ReactNode }) {
  const word = words[key];
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={`${typeof children === "string" ? children : word.name}: what is that?`}
          className="cursor-help underline decoration-dotted decoration-faint underline-offset-[3px] hover:text-ink"
          onClick={(e) => e.stopPropagation()}
        >
          {children}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={8}
          aria-label={word.name}
          className="z-50 flex w-[340px] gap-3 rounded-[4px] border border-line bg-sheet p-3 text-[13px] shadow-md outline-none"
          onClick={(e) => e.stopPropagation()}
        >
          <Drawing word={word} />
          <div>
            <p className="font-semibold text-ink">{word.name}</p>
            <p className="mt-0.5 text-soft">{word.text}</p>
            <Popover.Close asChild>
              <Link to="/words" className="mt-1.5 inline-block font-semibold text-plum hover:underline">
                All words
              </Link>
            </Popover.Close>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
