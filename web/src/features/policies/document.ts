import type {
  CopiesDocument,
  ObjectiveDocument,
  OpenHoursDocument,
  RetainDocument,
  ScheduleDocument,
  WrittenDocument,
} from "../../api/types";

export type {
  CopiesDocument,
  ObjectiveDocument,
  OpenHoursDocument,
  RetainDocument,
  ScheduleDocument,
  WrittenDocument,
};

/** A policy nobody has said anything of yet. */
export function emptyPolicy(id: string, name: string): WrittenDocument {
  return { type: "policy", id, name, enabled: true, objective: {}, schedules: [], retain: [] };
}

type Holder = Record<string, unknown> | unknown[];

/** What stands at a path such as `retain.0.lock`. */
export function valueAt(document: WrittenDocument, path: string): unknown {
  return path
    .split(".")
    .reduce<unknown>((at, key) => (at as Record<string, unknown> | undefined)?.[key], document);
}

/** The same document with another value at a path; without a value the place is emptied. */
export function withValue(document: WrittenDocument, path: string, value: unknown): WrittenDocument {
  const copy = structuredClone(document);
  const keys = path.split(".");
  const last = keys.pop() as string;
  let at = copy as unknown as Record<string, unknown>;
  keys.forEach((key, i) => {
    at[key] ??= /^\d+$/.test(keys[i + 1] ?? last) ? [] : {};
    at = at[key] as Record<string, unknown>;
  });
  if (value === undefined || value === "") {
    if (Array.isArray(at)) (at as Holder as unknown[]).splice(Number(last), 1);
    else Reflect.deleteProperty(at, last);
  } else at[last] = value;
  return copy;
}

/** The document with a way out that the core found. */
export function withWayOut(document: WrittenDocument, path: string, to: string): WrittenDocument {
  const added = /^schedules\.\+(.+)$/.exec(path);
  if (added) {
    const id = added[1] as string;
    const schedule: ScheduleDocument = to.startsWith("P")
      ? { id, kind: "log", every: to, enabled: true }
      : { id, kind: "full", rrule: to, within: "PT4H", enabled: true };
    return withValue(document, "schedules", [...(document.schedules ?? []), schedule]);
  }
  const retained = /^retain\.\+(.+)$/.exec(path);
  if (retained) {
    const rule = { role: retained[1] as string, reach: to, fulls: 2 };
    return withValue(document, "retain", [...(document.retain ?? []), rule]);
  }
  const opening = /^(schedules\.\d+)\.at$/.exec(path);
  if (opening) {
    const schedule = { ...(valueAt(document, opening[1] as string) as ScheduleDocument), rrule: to };
    delete schedule.cron;
    return withValue(document, opening[1] as string, schedule);
  }
  if (to === "true" || to === "false") return withValue(document, path, to === "true");
  return withValue(document, path, /^\d+$/.test(to) ? Number(to) : to);
}

/** An id made of a name: small letters, digits and dashes. */
export function idOf(name: string): string {
  return name
    .trim()
    .toLowerCase()
    .normalize("NFD")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 120);
}

/** An id no schedule has yet. */
export function freeId(document: WrittenDocument, wanted: string): string {
  const taken = new Set((document.schedules ?? []).map((s) => s.id));
  let id = wanted;
  for (let n = 2; taken.has(id); n++) id = `${wanted}-${n}`;
  return id;
}

/** Whether two documents say the same, whoever put them in force when. */
export function saysTheSame(one: WrittenDocument, other: WrittenDocument): boolean {
  return rules(one) === rules(other);
}

function rules(document: WrittenDocument): string {
  const { type: _t, version: _v, effectiveFrom: _e, putInForce: _p, withdrawn: _w, ...said } = document;
  return JSON.stringify(sorted(said));
}

function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (value && typeof value === "object") {
    return Object.fromEntries(
      Object.entries(value)
        .filter(([, v]) => v !== null && v !== undefined && !isEmpty(v))
        .sort(([a], [b]) => a.localeCompare(b))
        .map(([k, v]) => [k, sorted(v)]),
    );
  }
  return value;
}

function isEmpty(value: unknown): boolean {
  return typeof value === "object" && value !== null && Object.keys(value).length === 0;
}
