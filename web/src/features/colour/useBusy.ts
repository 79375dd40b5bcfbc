import { useIsMutating } from "@tanstack/react-query";
import { useEffect, useState } from "react";

/** Whether a change has been under way for so long that it should be said. */
export function useBusy(): boolean {
  const isMutating = useIsMutating() > 0;
  const [isLong, setLong] = useState(false);
  useEffect(() => {
    if (!isMutating) return;
    const timer = window.setTimeout(() => setLong(true), 300);
    return () => {
      window.clearTimeout(timer);
      setLong(false);
    };
  }, [isMutating]);
  return isLong;
}
