/** A link that saves a file. */
export const Download = ({ href, name }: { href: string; name: string }) => (
  <a
    href={href}
    download
    className="inline-block rounded-[4px] border border-line bg-sheet px-2.5 py-1 font-medium text-plum hover:border-plum"
    aria-label={`Download ${name}`}
  >
    Download
  </a>
);
