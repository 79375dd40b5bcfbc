import { create } from "zustand";

/** How far the edit is that is being applied: its finished share, once the server has told it. */
export const useEditing = create<{ done: number | null }>(() => ({ done: null }));

export const tellEditing = (done: number | null): void => useEditing.setState({ done });
