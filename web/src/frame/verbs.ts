import type { Row } from "../api/types";
import { along } from "../time/view";
import type { Theme } from "../ui/theme";

/** Something that can be done by typing a verb. */
export type Verb = { key: string; text: string; note: string } & (
  { path: string } | { start: string } | { theme: Theme }
);

const GRADES = ["stranded", "behind", "short", "covered", "new"];
const MOST = 6;

/**
 * What words that begin with a verb ask for: "start berths", "restore bookings", "stranded", "dark".
 *
 * @param rows the databases there are
 */
export function verbs(words: string, rows: Row[], search: string): Verb[] {
  const text = words.trim().toLowerCase();
  if (text === "") return [];
  const [first = "", ...rest] = text.split(/\s+/);
  const named = rest.join(" ");
  const out: Verb[] = [];
  const meant = (verb: string) => first.length >= 2 && verb.startsWith(first);
  const those = rows.filter((r) => r.name.toLowerCase().includes(named)).slice(0, MOST);
  if (meant("start") && named !== "") {
    those.forEach((r) =>
      out.push({ key: `start ${r.id}`, text: `Start a backup of ${r.name}`, note: "do", start: r.id }),
    );
  }
  if (meant("restore") && named !== "") {
    those.forEach((r) =>
      out.push({
        key: `restore ${r.id}`,
        text: `Restore ${r.name}`,
        note: "go to",
        path: along(`/restore?database=${encodeURIComponent(r.id)}`, search),
      }),
    );
  }
  GRADES.filter((g) => rest.length === 0 && meant(g)).forEach((g) => {
    const n = rows.filter((r) => r.grade === g).length;
    out.push({
      key: `grade ${g}`,
      text: `Databases that are ${g}`,
      note: String(n),
      path: along(`/cover?grade=${g}`, search),
    });
  });
  if (rest.length === 0 && (meant("dark") || meant("night"))) {
    out.push({ key: "dark", text: "Dark: colours for the night", note: "do", theme: "night" });
  }
  if (rest.length === 0 && (meant("light") || meant("day"))) {
    out.push({ key: "light", text: "Light: colours for the day", note: "do", theme: "day" });
  }
  return out;
}
