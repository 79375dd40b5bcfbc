import { useCallback, useEffect, useRef } from "react";

/** Work that is done for one thing at a time; of what is asked meanwhile only the last is done. */
export function useLatest<T>(work: (is: T) => Promise<void>): (is: T) => Promise<void> {
  const now = useRef(work);
  useEffect(() => {
    now.current = work;
  });
  const next = useRef<{ is: T } | null>(null);
  const going = useRef(false);
  return useCallback(async (is: T) => {
    next.current = { is };
    if (going.current) return;
    going.current = true;
    try {
      while (next.current) {
        const { is } = next.current;
        next.current = null;
        await now.current(is);
      }
    } finally {
      going.current = false;
    }
  }, []);
}
