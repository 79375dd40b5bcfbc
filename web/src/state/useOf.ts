import type { StoreApi, UseBoundStore } from "zustand";
import { useShallow } from "zustand/react/shallow";

/** Some fields of a store: whoever uses them is drawn anew when one of them changes, and not at every move of the pointer. */
export function useOf<S extends object, K extends keyof S>(store: UseBoundStore<StoreApi<S>>, ...keys: K[]): Pick<S, K> {
  return store(useShallow((s) => Object.fromEntries(keys.map((k) => [k, s[k]])) as Pick<S, K>));
}
