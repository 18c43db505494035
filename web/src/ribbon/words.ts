import type { GapInfo, Row, Sand, Water, Schemas } from "../api/types";
import { count, day, duration, span } from "../time/words";

const NAMES: Record<Schemas["HazardNow"]["hazard"], string> = {
  mishap: "mishap",
  siteLoss: "site loss",
  sabotage: "sabotage",
};

export const hazardName = (hazard: string) => (NAMES as Record<string, string>)[hazard] ?? hazard;

const lasting = (from: string, to: string) => duration((Date.parse(to) - Date.parse(from)) / 1000);

/** What a stretch of water means, in a sentence. */
export function waterSentence(w: Water): string {
  const lost = Object.keys(NAMES).filter((h) => !w.survives.includes(h));
  const survives = w.survives.map(hazardName).join(" and ");
  const moments = w.from === w.to ? "This moment alone can be restored" : "Every moment can be restored";
  return lost.length === 0
    ? `${moments}, whichever of the three hazards strikes.`
    : `${moments} after ${survives}, not after ${lost.map(hazardName).join(" or ")}.`;
}

/** What befell the logs of a gap, in a sentence. */
export function gapSentence(g: GapInfo): string {
  const what: Record<string, string> = {
    purged: "were purged",
    spoiled: "are spoiled",
    failed: "were never backed up, their runs failed",
    "never-backed-up": "were never backed up",
  };
  const logs = `Logs ${count(g.fromPosition)} – ${count(g.toPosition)} ${what[g.cause] ?? g.cause}`;
  return g.bridgedBy
    ? `${logs}; ${g.bridgedBy} begins cover again.`
    : `${logs}; nothing begins cover again yet.`;
}

/** What can be done about a stretch of sand, or that nothing can. */
export function sandRemedy(s: Sand, zone: string): string {
  if (s.gap?.bridgedBy) {
    return s.gap.leavesReach
      ? `Nothing can repair it. It leaves reach on ${day(s.gap.leavesReach, zone)}.`
      : "Nothing can repair it.";
  }
  if (s.where === "after") return "A data backup begins cover anew.";
  if (s.where === "everywhere") return "A full begins cover anew.";
  return "";
}

export function sandSentence(s: Sand, zone: string): string {
  const length = lasting(s.from, s.to);
  if (s.where === "everywhere") return "Nothing can be restored: no backup that is left restores anything.";
  if (s.gap) return `${length} that cannot be restored. ${gapSentence(s.gap)}`;
  if (s.where === "after")
    return `The last ${length}: nothing has come since ${span(s.from, s.from, zone).split(" – ")[0]}.`;
  if (s.where === "before") return `${length} before the oldest backup that is left.`;
  return `${length} that cannot be restored: the backups that contained them are gone.`;
}

/** A ribbon for those who do not see it. */
export function ribbonText(row: Pick<Row, "water" | "sand" | "zone">): string {
  const parts = [
    ...row.water.map((w) => ({
      from: w.from,
      text:
        w.from === w.to
          ? `point ${span(w.from, w.from, row.zone).split(" – ")[0]}`
          : `restorable ${span(w.from, w.to, row.zone)}`,
    })),
    ...row.sand.map((s) => ({ from: s.from, text: `not restorable ${lasting(s.from, s.to)}` })),
  ].sort((a, b) => Date.parse(a.from) - Date.parse(b.from));
  if (parts.length === 0) return "nothing can be restored";
  const shown =
    parts.length > 12
      ? [...parts.slice(0, 3), { text: `${parts.length - 6} more` }, ...parts.slice(-3)]
      : parts;
  return shown.map((p) => p.text).join(", ");
}
