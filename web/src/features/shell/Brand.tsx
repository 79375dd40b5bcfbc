import { go } from "../../state/route";

export function Brand() {
  return (
    <a
      href="/"
      onClick={(e) => {
        e.preventDefault();
        go("/");
      }}
      className="flex items-center gap-2 text-[15px] font-bold tracking-tight"
      title="To the shelf"
    >
      <img src="/mark.svg" alt="" className="h-[17px]" />
      Varichrom
    </a>
  );
}
