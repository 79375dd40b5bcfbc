import { Link } from "../../state/Link";

export function Brand() {
  return (
    <Link to="/" className="flex items-center gap-2 text-[15px] font-bold tracking-tight" title="To the shelf">
      <img src="/mark.svg" alt="" className="h-[17px]" />
      Varichrom
    </Link>
  );
}
