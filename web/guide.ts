import { readFileSync, readdirSync } from "node:fs";
import { basename, join, resolve } from "node:path";
import { marked } from "marked";
import type { Plugin } from "vite";

const folder = resolve(import.meta.dirname, "../docs/guide");
const index = "virtual:guide";

/** The pages of docs/guide: `virtual:guide` lists them, and each is a module of its own that exports its text as HTML. */
export function guide(): Plugin {
  return {
    name: "guide",
    resolveId: (id) => (id === index ? `\0${index}` : undefined),
    load(id) {
      if (id !== `\0${index}`) return undefined;
      const names = readdirSync(folder).sort();
      const pages = names.map((name) => {
        const text = readFileSync(join(folder, name), "utf8");
        const title = /^# (.+)$/m.exec(text)?.[1] ?? name;
        const codes = /<!-- codes: (.+) -->/.exec(text)?.[1]?.split(" ") ?? [];
        return { slug: basename(name, ".md").replace(/^\d+-/, ""), title, codes };
      });
      const texts = names.map((name) => `() => import(${JSON.stringify(join(folder, name))})`);
      return `export const pages = ${JSON.stringify(pages)};\nexport const texts = [${texts.join(", ")}];`;
    },
    transform(code, id) {
      if (!id.startsWith(folder)) return undefined;
      const html = marked.parse(code.replace(/^# .+$/m, ""), { async: false });
      // Pictures become files of the build.
      const pictures: string[] = [];
      const text = JSON.stringify(html).replace(/src=\\"\.\.\/(screenshots\/[a-z-]+\.png)\\"/g, (_, path: string) => {
        pictures.push(`import p${pictures.length} from ${JSON.stringify(`${resolve(folder, "..", path)}?url`)};`);
        return `src=\\"" + p${pictures.length - 1} + "\\"`;
      });
      return { code: `${pictures.join("\n")}\nexport default ${text};`, map: null };
    },
  };
}
