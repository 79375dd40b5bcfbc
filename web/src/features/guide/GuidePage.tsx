import { pages, texts } from "virtual:guide";
import { useEffect, useRef, useState } from "react";
import { Link } from "../../state/Link";
import { Brand } from "../shell/Brand";

/** The user's guide: its pages on the left, one of them beside it. */
export function GuidePage({ page }: { page: string | undefined }) {
  const at = Math.max(
    0,
    pages.findIndex((p) => p.slug === page),
  );
  const [text, setText] = useState("");
  const top = useRef<HTMLElement>(null);
  useEffect(() => {
    let isCurrent = true;
    void texts[at]?.().then((t) => isCurrent && setText(t.default));
    top.current?.scrollTo(0, 0);
    return () => {
      isCurrent = false;
    };
  }, [at]);
  const code = window.location.hash.slice(1);
  const [before, next] = [pages[at - 1], pages[at + 1]];
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 shrink-0 items-center justify-between border-b border-line px-3.5">
        <Brand />
        <Link to="/words" className="text-soft hover:text-ink">
          Words
        </Link>
      </header>
      <div className="flex min-h-0 flex-1 max-md:flex-col">
        <nav
          aria-label="Guide"
          className="w-72 shrink-0 overflow-y-auto border-r border-line py-6 max-md:max-h-32 max-md:w-full max-md:border-b max-md:border-r-0 max-md:py-2"
        >
          <ol>
            {pages.map((p, n) => (
              <li key={p.slug}>
                <Link
                  to={`/guide/${p.slug}`}
                  aria-current={n === at ? "page" : undefined}
                  className={`flex gap-3 px-5 py-1.5 ${n === at ? "bg-plum-tint font-semibold shadow-[inset_3px_0_0_var(--color-plum)]" : "text-soft hover:text-ink"}`}
                >
                  <span className="figure w-4 text-right text-faint">{n + 1}</span>
                  {p.title}
                </Link>
              </li>
            ))}
          </ol>
        </nav>
        <main ref={top} className="min-w-0 flex-1 overflow-y-auto" tabIndex={0}>
          <article className="mx-auto max-w-3xl px-8 py-8">
            {code && (
              <p className="mb-4 border-l-4 border-wrong bg-sheet px-4 py-2">
                You come from a refusal: <span className="figure">{code}</span>
              </p>
            )}
            <h1 className="text-xl">{pages[at]?.title}</h1>
            <div className="prose mt-3" dangerouslySetInnerHTML={{ __html: text }} />
            <p className="mt-8 flex justify-between border-t border-line pt-3 font-semibold text-plum">
              <span>{before && <Link to={`/guide/${before.slug}`}>‹ {before.title}</Link>}</span>
              <span>{next && <Link to={`/guide/${next.slug}`}>{next.title} ›</Link>}</span>
            </p>
          </article>
        </main>
      </div>
    </div>
  );
}
