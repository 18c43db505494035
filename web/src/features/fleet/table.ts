import Papa from "papaparse";
import {
  databaseRecord,
  FIELDS,
  readLabels,
  type BadLine,
  type DatabaseRecord,
  type Field,
  type Stated,
} from "./records";

/** What a column of a pasted table is: a field, the engine's version, a size in some unit, a label of some name, or left out. */
export type Column = Field | "id" | "version" | `sizeBytes:${Unit}` | `label:${string}` | "";
type Unit = (typeof UNITS)[number];

const UNITS = ["MB", "GB", "TB", "MiB", "GiB", "TiB"] as const;

const plain = (text: string) => text.toLowerCase().replace(/[^a-z]/g, "");

/** Headings of lists that people keep, besides the names of the fields themselves. */
const HEADINGS: [Column, string][] = [
  ["id", "id"],
  ["name", "name database db instance databasename dbname"],
  ["engine", "engine product dbms type software"],
  ["version", "version release engineversion"],
  ["host", "host server hostname machine node servername"],
  ["site", "site location datacentre datacenter dc place"],
  ["system", "system application app service"],
  ["zone", "zone timezone tz"],
  ["inServiceFrom", "inservicefrom since service inservice golive live"],
  ["owner", "owner team responsible contact"],
  ["sizeBytes", "size sizebytes bytes databasesize"],
  ["label:environment", "environment env stage"],
  ["label:class", "class"],
  ["label:tier", "tier criticality"],
];

const GUESSES = new Map<string, Column>([
  ...FIELDS.flatMap(([field, title]): [string, Column][] => [
    [plain(field), field],
    [plain(title), field],
  ]),
  ...HEADINGS.flatMap(([column, words]) => words.split(" ").map((w): [string, Column] => [w, column])),
]);

/** What a heading most likely is; left out where nothing is like it. */
export function guess(heading: string): Column {
  const unit = UNITS.find((u) => new RegExp(`\\b${u}\\b`, "i").test(heading));
  if (unit && /size|database|data/i.test(heading)) return `sizeBytes:${unit}`;
  return GUESSES.get(plain(heading)) ?? "";
}

/** The columns a heading may be, with what a person would call them. */
export const columns = (heading: string): [Column, string][] => {
  const label = plain(heading) || "label";
  return [
    ["", "left out"],
    ...FIELDS.map(([field, title]): [Column, string] => [field, title]),
    ["id", "Id"],
    ["version", "Version of the engine"],
    ...UNITS.map((u): [Column, string] => [`sizeBytes:${u}`, `Size in ${u}`]),
    ...[...new Set([label, "environment", "class", "tier"])].map((l): [Column, string] => [
      `label:${l}`,
      `Label ${l}`,
    ]),
  ];
};

export type Table = { headings: string[]; rows: Record<string, string>[] };

/** Rows of a table somebody pasted, its first row the headings of its columns. */
export function readTable(text: string): Table {
  const parsed = Papa.parse<Record<string, string>>(text.trim(), { header: true, skipEmptyLines: true });
  return { headings: (parsed.meta.fields ?? []).filter((h) => h.trim()), rows: parsed.data };
}

/** The databases of a table, its columns being what somebody says they are; what cannot be taken is told line by line. */
export function databasesOf(
  table: Table,
  is: (heading: string) => Column,
): { records: DatabaseRecord[]; lines: number[]; bad: BadLine[] } {
  const records: DatabaseRecord[] = [];
  const lines: number[] = [];
  const bad: BadLine[] = [];
  const seen = new Map<string, number>();
  table.rows.forEach((row, i) => {
    const line = i + 2;
    const read = recordOf(row, table.headings, is);
    if (!("type" in read)) bad.push({ line, ...read });
    else if (seen.has(read.id)) {
      bad.push({ line, field: "name", reason: `is the same database as in line ${seen.get(read.id)}` });
    } else {
      seen.set(read.id, line);
      records.push(read);
      lines.push(line);
    }
  });
  return { records, lines, bad };
}

function recordOf(row: Record<string, string>, headings: string[], is: (heading: string) => Column) {
  const stated: Stated = {};
  const labels: string[] = [];
  let version = "";
  for (const heading of headings) {
    const column = is(heading);
    const text = row[heading]?.trim() ?? "";
    if (!text || !column) continue;
    if (column === "version") version = text;
    else if (column.startsWith("label:")) labels.push(`${column.slice("label:".length)}=${text}`);
    else if (column.startsWith("sizeBytes:"))
      stated.sizeBytes = `${text} ${column.slice("sizeBytes:".length)}`;
    else stated[column as Field | "id"] = text;
  }
  if (version && !stated.engine?.includes(version))
    stated.engine = [stated.engine, version].filter(Boolean).join(" ");
  if (labels.length > 0) {
    const said = readLabels(stated.labels ?? "");
    if (typeof said === "string") return { field: "labels", reason: said };
    stated.labels = [...Object.entries(said).map(([k, v]) => `${k}=${v}`), ...labels].join(", ");
  }
  const read = databaseRecord(stated);
  // Of one that is known already the moment stays; a new one is in service from now on.
  if (!stated.inServiceFrom) Reflect.deleteProperty(read, "inServiceFrom");
  return read;
}

const KEPT = "firth.enrol.columns";

/** What columns of such headings were said to be here before. */
export function remembered(): Record<string, Column> {
  try {
    return JSON.parse(window.localStorage.getItem(KEPT) ?? "{}") as Record<string, Column>;
  } catch {
    return {};
  }
}

export function remember(said: Record<string, Column>) {
  window.localStorage.setItem(KEPT, JSON.stringify({ ...remembered(), ...said }));
}
