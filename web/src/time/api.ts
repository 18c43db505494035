import { answer, client } from "../api/client";
import type { Step } from "../api/types";

/** What happened next, or last before. */
export const stepFrom = (from: { asOf: string; to: "next" | "previous"; database?: string }): Promise<Step> =>
  answer(client.GET("/api/step", { params: { query: from } }));
