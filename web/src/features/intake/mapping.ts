import Papa from "papaparse";
import { size } from "../../time/words";

/** What a row is: a run, a backup, or a run and the backup it made where it went well. */
export type Of = "run" | "backup" | "both";

/** How a table is read: what it is of, which column is which field, and how its words and times are written. */
export type Mapping = {
  type: "mapping";
  id: string;
  name: string;
  of: Of;
  columns: Record<string, string>;
  words: Record<string, Record<string, string>>;
  zone: string;
  pattern: string;
};

/** Fields a column may be, with what a person would call them. */
export const FIELDS: [field: string, text: string][] = [
  ["database", "database"],
  ["kind", "kind of backup"],
  ["started", "when it started"],
  ["ended", "when it ended"],
  ["seconds", "how long it took, in seconds"],
  ["seconds:min", "how long it took, in minutes"],
  ["bytes", "size in bytes"],
  ["bytes:MB", "size in MB"],
  ["bytes:GB", "size in GB"],
  ["bytes:MiB", "size in MiB"],
  ["bytes:GiB", "size in GiB"],
  ["store", "store it landed in"],
  ["path", "path in the store"],
  ["outcome", "how it ended"],
  ["message", "message"],
  ["id", "id"],
  ["run", "id of the run"],
  ["parent", "id of what it hangs from"],
  ["from", "first log position"],
  ["to", "last log position"],
  ["fromTime", "first moment of the log"],
  ["toTime", "last moment of the log"],
  ["consistentAt", "moment it restores"],
  ["selfContained", "restorable without logs (yes, no)"],
  ["stream", "log stream"],
  ["lineage", "lineage"],
  ["bytesRead", "bytes read"],
  ["parallel", "sessions side by side"],
  ["compressed", "compressed (yes, no)"],
  ["encrypted", "encrypted (yes, no)"],
  ["checksummed", "checksummed (yes, no)"],
  ["verified", "when it was verified"],
  ["landed", "when it landed"],
  ["lockedUntil", "locked until"],
  ["gone", "when it was deleted"],
  ["copies", "copies as store=…;landed=… | …"],
  ["note", "note"],
];

/** Fields whose values may be other words than Firth's. */
export const WORDED: Record<string, string[]> = {
  kind: ["full", "diff", "incr", "log", "config"],
  outcome: ["ok", "failed", "cancelled", "running"],
};

export const PATTERNS: [pattern: string, example: RegExp][] = [
  ["", /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d:\d\d.*(Z|[+-]\d\d:\d\d)$/],
  ["yyyy-MM-dd HH:mm:ss", /^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d$/],
  ["yyyy-MM-dd HH:mm", /^\d{4}-\d\d-\d\d \d\d:\d\d$/],
  ["dd/MM/yyyy HH:mm:ss", /^\d\d\/\d\d\/\d{4} \d\d:\d\d:\d\d$/],
  ["dd/MM/yyyy HH:mm", /^\d\d\/\d\d\/\d{4} \d\d:\d\d$/],
  ["dd.MM.yyyy HH:mm:ss", /^\d\d\.\d\d\.\d{4} \d\d:\d\d:\d\d$/],
  ["dd.MM.yyyy HH:mm", /^\d\d\.\d\d\.\d{4} \d\d:\d\d$/],
  ["yyyyMMddHHmmss", /^\d{14}$/],
];

export type Sample = { columns: string[]; rows: string[][]; text: string };

/** The columns and first rows of a table, cut off after a whole row. */
export function sampleOf(text: string, whole: boolean): Sample {
  const end = whole ? text.length : text.lastIndexOf("\n") + 1;
  const cut = text.slice(0, end).replace(/^\uFEFF/, "");
  const { data } = Papa.parse<string[]>(cut, { skipEmptyLines: true, delimitersToGuess: [",", ";", "\t"] });
  return { columns: (data[0] ?? []).map((c) => c.trim()), rows: data.slice(1, 200), text: cut };
}

/** Whether a file is a table and not a fleet file: those begin with a brace, or are packed. */
export async function isTable(file: File): Promise<boolean> {
  const head = new Uint8Array(await file.slice(0, 512).arrayBuffer());
  if (head[0] === 0x1f && head[1] === 0x8b) return false;
  const text = new TextDecoder()
    .decode(head)
    .replace(/^\uFEFF/, "")
    .trimStart();
  return text !== "" && !text.startsWith("{") && /[,;\t]/.test(text.split("\n")[0] ?? "");
}

/** What columns are commonly called, without blanks and marks, in the order of how sure that is. */
const HEADINGS: Record<string, string[]> = {
  database: ["database", "db", "databasename", "dbname"],
  kind: ["kind", "type", "backuptype", "level"],
  started: ["started", "start", "starttime", "startedat", "begin", "began", "startdate"],
  ended: ["ended", "end", "endtime", "endedat", "finish", "finished", "finishtime", "completed", "enddate"],
  outcome: ["outcome", "status", "result", "state"],
  bytes: ["bytes", "size", "sizebytes", "backupsize"],
  "bytes:MB": ["sizemb", "mb"],
  "bytes:GB": ["sizegb", "gb"],
  seconds: ["seconds", "duration", "elapsed", "durationseconds"],
  "seconds:min": ["minutes", "durationmin", "durationminutes"],
  store: ["store", "destination", "target", "location"],
  path: ["path", "file", "filename"],
  message: ["message", "error", "errormessage", "reason"],
};

const VALUES: Record<string, Record<string, RegExp>> = {
  kind: {
    full: /^(f|full|complete|level ?0)$/i,
    diff: /^(d|diff|differential)$/i,
    incr: /^(i|incr|inc|incremental|level ?1)$/i,
    log: /^(l|log|logs|transaction ?log|archive ?log|tlog)$/i,
    config: /^(c|config|configuration)$/i,
  },
  outcome: {
    ok: /^(ok|success|successful|succeeded|completed?|done)$/i,
    failed: /^(fail|failed|failure|error)$/i,
    cancelled: /^(cancel|cancelled|canceled|aborted|stopped)$/i,
    running: /^(running|in ?progress|active)$/i,
  },
};

const bare = (heading: string) => heading.toLowerCase().replaceAll(/[^a-z0-9]/g, "");

/** A first mapping: columns by what they are called, words by what they mean, times as they look. */
export function guess(sample: Sample, zone: string): Mapping {
  const columns: Record<string, string> = {};
  const taken = new Set<string>();
  const take = (column: string, field: string) => {
    const first = field.split(":")[0] ?? field;
    if (taken.has(first) || columns[column]) return;
    taken.add(first);
    columns[column] = field;
  };
  for (const column of sample.columns) {
    const field = FIELDS.find(([f]) => f.toLowerCase() === bare(column));
    if (field) take(column, field[0]);
  }
  for (const [field, names] of Object.entries(HEADINGS)) {
    for (const name of names) {
      const column = sample.columns.find((c) => bare(c) === name);
      if (column) take(column, field);
    }
  }
  const values = sample.rows.flat();
  const pattern = PATTERNS.find(([, example]) => values.some((v) => example.test(v.trim())))?.[0] ?? "";
  const mapping: Mapping = {
    type: "mapping",
    id: "unnamed",
    name: "",
    of: !taken.has("outcome") ? "backup" : taken.has("bytes") || taken.has("store") ? "both" : "run",
    columns,
    words: {},
    zone,
    pattern,
  };
  for (const field of Object.keys(WORDED)) {
    const means = foreignWords(mapping, sample, field).flatMap((word) => {
      const meant = Object.entries(VALUES[field] ?? {}).find(([, like]) => like.test(word.trim()));
      return meant ? [[word, meant[0]] as const] : [];
    });
    if (means.length > 0) mapping.words[field] = Object.fromEntries(means);
  }
  return mapping;
}

/** One record of the first rows, as it will be taken. */
export type Taken = {
  what: string;
  database: string;
  kind: string;
  started: string;
  ended: string;
  rest: string;
};

/** The first rows as they will be taken, for people. */
export function asTaken(records: string[]): Taken[] {
  return records.map((text) => {
    const r = JSON.parse(text) as Record<string, unknown>;
    const said = (field: string) => (typeof r[field] === "string" ? r[field] : "");
    const copies = Array.isArray(r.copies) ? (r.copies as { store?: string }[]) : [];
    return {
      what: r.type === "run" ? `run, ${said("outcome")}` : "backup",
      database: said("database"),
      kind: said("kind"),
      started: said("started"),
      ended: said("ended"),
      rest: [
        typeof r.bytes === "number" ? size(r.bytes) : "",
        copies.map((c) => c.store ?? "").join(", "),
        said("message"),
      ]
        .filter(Boolean)
        .join("; "),
    };
  });
}

/** Whether a mapping fits a table: every column it speaks of is there. */
export const fits = (mapping: Mapping, sample: Sample) =>
  Object.keys(mapping.columns).length > 0 &&
  Object.keys(mapping.columns).every((c) => sample.columns.includes(c));

/** The values in the sample of the column that is a field and Firth has no word for. */
export function foreignWords(mapping: Mapping, sample: Sample, field: string): string[] {
  const at = sample.columns.findIndex((c) => mapping.columns[c] === field);
  if (at < 0) return [];
  const found = new Set(sample.rows.map((r) => (r[at] ?? "").trim()).filter(Boolean));
  return [...found].filter((v) => !WORDED[field]?.includes(v)).slice(0, 12);
}

/** The mapping as the server takes it: what is not said is left out. */
export function asDocument(mapping: Mapping): object {
  const { pattern, name, words, ...rest } = mapping;
  const said = Object.entries(words).map(([field, own]) => [
    field,
    Object.fromEntries(Object.entries(own).filter(([, means]) => means)),
  ]);
  const slug = name
    .trim()
    .toLowerCase()
    .replaceAll(/[^a-z0-9._-]+/g, "-")
    .replaceAll(/^-+|-+$/g, "");
  return {
    ...rest,
    words: Object.fromEntries(said) as Mapping["words"],
    id: slug || "unnamed",
    ...(name.trim() ? { name: name.trim() } : {}),
    ...(pattern ? { pattern } : {}),
  };
}

/** A mapping as it was kept. */
export function fromDocument(document: string): Mapping {
  const kept = JSON.parse(document) as Partial<Mapping>;
  return {
    type: "mapping",
    id: kept.id ?? "unnamed",
    name: kept.name ?? "",
    of: kept.of ?? "backup",
    columns: kept.columns ?? {},
    words: kept.words ?? {},
    zone: kept.zone ?? "UTC",
    pattern: kept.pattern ?? "",
  };
}
