import type { HazardNow, Row } from "../api/types";
import { hazardName } from "./words";

const overdue = (h: HazardNow) => (h.objectiveSeconds === null ? -1 : h.ageSeconds / h.objectiveSeconds);

/** The hazard whose promise is furthest from being kept; none where nothing is promised. */
export function worst(row: Row): HazardNow | undefined {
  const promised = row.hazards.filter((h) => h.objectiveSeconds !== null);
  return promised.reduce<HazardNow | undefined>(
    (found, h) => (found && overdue(found) >= overdue(h) ? found : h),
    undefined,
  );
}

/** How far the age is beyond what is promised, under the hazard where it is furthest; what promises nothing comes last. */
export function overObjective(row: Row): number {
  const h = worst(row);
  return h ? overdue(h) : -1;
}

const promisesNothing = (row: Row) =>
  row.reachTargetSeconds === null && row.hazards.every((h) => h.objectiveSeconds === null);

/** The grade the gauge shows: an empty one where nothing is promised that could be kept. */
export function gaugeOf(row: Row): string {
  return row.grade === "covered" && promisesNothing(row) ? "nothing promised" : row.grade;
}

/** The grade as it is said: with the hazard where a mishap would cost no more than is promised. */
export function gradeText(row: Row): string {
  if (row.grade === "behind") {
    const missed = row.hazards.filter((h) => overdue(h) > 1);
    const mishap = missed.length === 0 || missed.some((h) => h.hazard === "mishap");
    return mishap ? "behind" : `behind, ${missed.map((h) => hazardName(h.hazard)).join(" and ")}`;
  }
  return gaugeOf(row);
}
