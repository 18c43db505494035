const NAMES: Record<string, string> = {
  full: "full",
  diff: "differential",
  incr: "incremental",
  log: "log backup",
  config: "config backup",
};

/** A kind of backup in full. */
export function kindName(kind: string): string {
  return NAMES[kind] ?? kind;
}
