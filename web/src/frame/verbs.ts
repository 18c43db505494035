import type { Row } from "../api/types";
import { along } from "../time/view";
import type { Theme } from "../ui/theme";

/** Something that can be done by typing a verb. */
export type Verb = { key: string; text: string; note: string } & (
  { path: string } | { start: string } | { theme: Theme }
);

const GRADES = ["stranded", "behind", "short", "covered", "new"];
const ABOUT_ONE = ["start", "restore"];
const meant = (typed: string, verb: string) => typed.length >= 2 && verb.startsWith(typed);

/** What words name once a verb before them that is about a database is left out. */
export function named(words: string): string {
  const [first = "", ...rest] = words.trim().split(/\s+/);
  return rest.length > 0 && ABOUT_ONE.some((v) => meant(first.toLowerCase(), v))
    ? rest.join(" ")
    : words.trim();
}

/**
 * What words that begin with a verb ask for: "start berths", "restore bookings", "stranded", "dark".
 *
 * @param rows the databases that what it names fits
 * @param graded how many databases have each grade
 */
export function verbs(
  words: string,
  rows: Row[],
  graded: { value: string; databases: number }[],
  search: string,
): Verb[] {
  const text = words.trim().toLowerCase();
  if (text === "") return [];
  const [first = "", ...rest] = text.split(/\s+/);
  const out: Verb[] = [];
  if (meant(first, "start") && rest.length > 0) {
    rows.forEach((r) =>
      out.push({ key: `start ${r.id}`, text: `Start a backup of ${r.name}`, note: "do", start: r.id }),
    );
  }
  if (meant(first, "restore") && rest.length > 0) {
    rows.forEach((r) =>
      out.push({
        key: `restore ${r.id}`,
        text: `Restore ${r.name}`,
        note: "go to",
        path: along(`/restore?database=${encodeURIComponent(r.id)}`, search),
      }),
    );
  }
  GRADES.filter((g) => rest.length === 0 && meant(first, g)).forEach((g) => {
    const n = graded.find((c) => c.value === g)?.databases ?? 0;
    out.push({
      key: `grade ${g}`,
      text: `Databases that are ${g}`,
      note: String(n),
      path: along(`/cover?grade=${g}`, search),
    });
  });
  if (rest.length === 0 && (meant(first, "dark") || meant(first, "night"))) {
    out.push({ key: "dark", text: "Dark: colours for the night", note: "do", theme: "night" });
  }
  if (rest.length === 0 && (meant(first, "light") || meant(first, "day"))) {
    out.push({ key: "light", text: "Light: colours for the day", note: "do", theme: "day" });
  }
  return out;
}
