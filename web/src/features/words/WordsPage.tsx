import { Brand } from "../shell/Brand";
import { Drawing } from "./Drawing";
import { words, type Word } from "./words";

/** Every word of the program's own and of the trade, in order. */
export function WordsPage() {
  const all = (Object.values(words) as Word[]).sort((a, b) => a.name.localeCompare(b.name));
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 shrink-0 items-center border-b border-line px-3.5">
        <Brand />
      </header>
      <main className="flex-1 overflow-y-auto" tabIndex={0}>
        <div className="mx-auto max-w-5xl px-8 py-8">
          <h1 className="text-xl">Words</h1>
          <ul className="mt-4 grid grid-cols-2 gap-x-10 border-t border-line max-lg:grid-cols-1">
            {all.map((word) => (
              <li key={word.name} className="flex gap-4 border-b border-line py-4">
                <Drawing word={word} />
                <div>
                  <h2 className="font-semibold">{word.name}</h2>
                  <p className="mt-0.5 max-w-[46ch] text-soft">{word.text}</p>
                </div>
              </li>
            ))}
          </ul>
        </div>
      </main>
    </div>
  );
}
