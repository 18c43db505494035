/** The kinds of backup as they stand in a sentence. */
export const KINDS: [kind: string, text: string][] = [
  ["full", "a full"],
  ["diff", "a differential"],
  ["incr", "an incremental"],
  ["config", "a config backup"],
  ["log", "a log backup"],
];

const NAMES: Record<string, string> = {
  full: "full",
  diff: "differential",
  incr: "incremental",
  config: "config backup",
  log: "log backup",
};

/** "full", "full or incremental", "full, then incremental, then config backup". */
export function kindsWords(kinds: readonly string[], between: string): string {
  return kinds.map((k) => NAMES[k] ?? k).join(between);
}

/** Kinds somebody typed, "full, diff" or "full, then differential", in their order; null where a word is none. */
export function readKinds(typed: string): string[] | null {
  const words = typed
    .toLowerCase()
    .split(/[,\s]+/)
    .filter((w) => w && !["then", "or", "and", "backup", "backups"].includes(w));
  const kinds = words.map((w) =>
    Object.keys(NAMES).find(
      (k) => w.startsWith(k) && (NAMES[k]?.startsWith(w.replace(/s$/, "")) || w.replace(/s$/, "") === k),
    ),
  );
  return words.length > 0 && kinds.every((k) => k !== undefined) ? [...new Set(kinds)] : null;
}
