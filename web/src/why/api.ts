import { useQuery } from "@tanstack/react-query";
import { type ViewParams, answer, client } from "../api/client";

/** What a question "why?" is about. */
export type Subject = {
  database: string;
  about: "age" | "grade" | "breach" | "gap" | "copy" | "slot" | "cadence";
  hazard?: string;
  position?: number;
  lineage?: string;
  stream?: string;
  schedule?: string;
  at?: string;
  backup?: string;
  store?: string;
};

export function useWhy(subject: Subject | null, view: ViewParams) {
  return useQuery({
    queryKey: ["why", subject, view],
    queryFn: () => {
      const { database, ...query } = subject as Subject;
      return answer(
        client.GET("/api/databases/{id}/why", {
          params: { path: { id: database }, query: { ...view, ...query } },
        }),
      );
    },
    enabled: subject !== null,
  });
}
