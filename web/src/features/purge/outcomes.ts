import type { Schemas } from "../../api/types";
/** What became of items, in words. */
export const OUTCOMES: Record<Schemas["ItemTally"]["state"], string> = {
  waiting: "waiting",
  handed: "with the agent",
  deleted: "deleted",
  missing: "were not there",
  locked: "locked, not deleted",
  failed: "not deleted",
  dropped: "dropped out",
  cancelled: "cancelled",
};
