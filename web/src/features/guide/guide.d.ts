declare module "virtual:guide" {
  /** The pages in order; refusals whose codes begin with one of a page's are told about there. */
  export const pages: { slug: string; title: string; codes: string[] }[];
  /** Their texts, fetched when they are read. */
  export const texts: (() => Promise<{ default: string }>)[];
}
