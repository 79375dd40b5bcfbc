import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api } from "../../api/client";
import type { Edit } from "../../api/generated/Edit";
import type { JobView } from "../../api/generated/JobView";
import type { WayFigures } from "../../api/generated/WayFigures";

/** Between two questions while something is dragged, ms. */
const rest = 80;

/** What a job would come to after an edit that is still being moved about; the last answer stays until the next is there. */
export function useTried({ id, revision }: JobView, edit: Edit | null): WayFigures | null {
  const asked = edit && JSON.stringify(edit);
  const [settled, setSettled] = useState<string | null>(null);
  useEffect(() => {
    const later = window.setTimeout(() => setSettled(asked), asked ? rest : 0);
    return () => window.clearTimeout(later);
  }, [asked]);
  const answer = useQuery({
    queryKey: ["tried", id, revision, settled],
    queryFn: ({ signal }) => api.tried(id, JSON.parse(settled ?? "") as Edit, signal),
    enabled: settled !== null,
    placeholderData: (before) => before,
    gcTime: 10_000,
    retry: false,
  });
  return (asked && answer.data) || null;
}
