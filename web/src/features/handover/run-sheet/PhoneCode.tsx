import { QRCodeSVG } from "qrcode.react";

/** Names by which only this computer knows itself: no phone gets here by them. */
const isHere = (host: string) => host === "localhost" || host.endsWith(".localhost") || host.startsWith("127.") || host === "[::1]";

/** This page as a code for a phone's camera, where the server can be reached from elsewhere. */
export function PhoneCode() {
  const { hostname, origin, pathname } = window.location;
  if (isHere(hostname)) return null;
  return (
    <figure className="flex shrink-0 items-center gap-2" aria-label="This page on a phone">
      <QRCodeSVG value={origin + pathname} size={72} title="This page on a phone" />
      <figcaption className="w-20 text-[11.5px] leading-[1.3] text-soft">this page on a phone</figcaption>
    </figure>
  );
}
