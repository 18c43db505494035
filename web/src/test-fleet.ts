import type { BackupPage, Cover, DatabaseView, Finding, FleetRow, Row, Schemas } from "./api/types";

/** Made-up answers of the server for tests of what is drawn from them. */

export const FROM = "2026-11-01T00:00:00Z";
export const TO = "2026-11-11T00:00:00Z";

export function row(id: string, change: Partial<Row> = {}): Row {
  return {
    id,
    name: id,
    engine: "PostgreSQL 15",
    site: "Northquay",
    zone: "UTC",
    policy: { id: "sailings", name: "Sailings", version: 1, enabled: true, promise: "lose 15 min" },
    grade: "covered",
    pointsOnly: false,
    at: TO,
    inServiceFrom: "2026-10-01T00:00:00Z",
    hazards: (["mishap", "siteLoss", "sabotage"] as const).map((hazard, i) => ({
      hazard,
      recoveryPoint: TO,
      ageSeconds: 300 * (i + 1),
      grows: true,
      objectiveSeconds: 900,
      worstSeconds: 900,
      attainment: 1,
    })),
    reachSeconds: 864000,
    reachTargetSeconds: 432000,
    reachCover: 1,
    reachFrom: "2026-11-06T00:00:00Z",
    owner: null,
    labels: [],
    water: [{ from: FROM, to: TO, depth: 3, survives: ["mishap", "siteLoss", "sabotage"] }],
    sand: [],
    marks: [{ id: `${id}-full`, kind: "full", at: "2026-11-02T00:00:00Z", failed: false, count: 1 }],
    ...change,
  };
}

export const holed = row("berths", {
  grade: "short",
  water: [
    { from: FROM, to: "2026-11-04T00:00:00Z", depth: 1, survives: ["mishap"] },
    { from: "2026-11-05T00:00:00Z", to: TO, depth: 2, survives: ["mishap", "siteLoss"] },
  ],
  sand: [
    {
      from: "2026-11-04T00:00:00Z",
      to: "2026-11-05T00:00:00Z",
      where: "between",
      gap: {
        lineage: "1",
        stream: "main",
        fromPosition: 100,
        toPosition: 200,
        after: "2026-11-04T00:00:00Z",
        before: "2026-11-05T00:00:00Z",
        state: "bridged",
        bridgedBy: "berths-full-2",
        leavesReach: "2026-11-22T00:00:00Z",
        cause: "never-backed-up",
      },
    },
  ],
});

export const behind = row("manifests", {
  grade: "behind",
  hazards: [
    {
      hazard: "mishap",
      recoveryPoint: "2026-11-08T21:54:00Z",
      ageSeconds: 180360,
      grows: true,
      objectiveSeconds: 900,
      worstSeconds: 180360,
      attainment: 0.9,
    },
  ],
});

export function cover(rows: Row[]): Cover {
  return {
    asOf: TO,
    from: FROM,
    to: TO,
    databases: rows.length,
    groups:
      rows.length === 0
        ? []
        : [
            {
              title: "Sailings",
              promise: "lose 30 min",
              found: rows.length,
              databases: rows.map((r) => r.id),
            },
          ],
    choices: [],
    rows,
  };
}

export const strip: Schemas["Strip"] = {
  asOf: TO,
  from: FROM,
  to: TO,
  outside: [{ from: FROM, to: TO, share: 0.25, databases: 1 }],
};

const at = (day: string, minute: number) =>
  new Date(Date.parse(`${day}T22:00:00Z`) + minute * 60_000).toISOString().replace(".000Z", "Z");

function slot(
  day: string,
  verdict: DatabaseView["slots"][number]["verdict"],
  runs: DatabaseView["slots"][number]["runs"],
): DatabaseView["slots"][number] {
  return {
    schedule: "nightly",
    kind: "incr",
    open: at(day, 0),
    close: at(day, 240),
    verdict,
    spillSeconds: 0,
    runs,
  };
}

type Lying = DatabaseView["shelves"][number]["backups"][number];

function lying(id: string, when: string, verdict: Lying["verdict"], more: Partial<Lying>): Lying {
  return {
    id,
    kind: "full",
    at: when,
    verdict,
    lockedUntil: null,
    held: false,
    rungs: [],
    reasons: [],
    ...more,
  };
}

export function database(of: Row): DatabaseView {
  return {
    asOf: TO,
    from: FROM,
    to: TO,
    row: of,
    sizeBytes: 412e9,
    channels: of.hazards.map((h) => ({
      hazard: h.hazard,
      restorable: [{ from: FROM, to: TO }],
      breaches: [],
      maxSeconds: h.worstSeconds,
      meanSeconds: 100,
      p50Seconds: 100,
      p95Seconds: 200,
      p99Seconds: 300,
      attainment: 0.9876,
    })),
    ages: [{ from: FROM, to: TO, worstSeconds: 600, objectiveSeconds: 900 }],
    gaps: of.sand.flatMap((s) => (s.gap ? [s.gap] : [])),
    wayBack: {
      to: TO,
      chain: [
        { id: "f", kind: "full", store: "Quay near" },
        { id: "i", kind: "incr", store: "Quay near" },
        { id: "j", kind: "incr", store: "South near" },
      ],
      logs: 38,
      logBytes: 1.2e9,
      seconds: 2040,
      complete: true,
      promisedSeconds: 7200,
      evidence: "told",
      known: "Of the 41 backups it reads, 3 are known by word alone and 38 are read through.",
    },
    components: [
      { name: "orders", kind: "schema", bytes: 2e11, backups: 4, newest: "f", newestAt: FROM },
      { name: "photos", kind: "schema", bytes: null, backups: 0, newest: null, newestAt: null },
    ],
    room: {
      moments: [FROM, TO],
      stores: [{ store: "near", name: "Quay near", bytes: [1e12, 1.5e12] }],
      sizes: [{ id: "f", kind: "full", at: FROM, bytes: 4e11 }],
    },
    holds: [
      {
        id: "hold:1",
        backup: "f",
        moment: null,
        reason: "audit",
        by: "Ines",
        from: FROM,
        until: null,
        bytes: 4e11,
      },
    ],
    notes: [{ id: "note:1", text: "Moved to quay 2.", by: "Ines", at: FROM }],
    dataBackups: [
      {
        id: "f",
        kind: "full",
        at: FROM,
        parent: null,
        verdict: "needed",
        locked: false,
        note: "newest way back",
      },
      {
        id: "i",
        kind: "incr",
        at: "2026-11-03T00:00:00Z",
        parent: "f",
        verdict: "obsolete",
        locked: false,
        note: "",
      },
    ],
    tallies: [
      { kind: "full", verdict: "needed", copies: 2, bytes: 2e9 },
      { kind: "incr", verdict: "obsolete", copies: 60, bytes: 3e9 },
    ],
    slots: [
      slot("2026-11-02", "on-time", [
        { id: "r1", started: at("2026-11-02", 30), ended: at("2026-11-02", 60), state: "ok" },
      ]),
      slot("2026-11-03", "failed", [
        { id: "r2", started: at("2026-11-03", 30), ended: at("2026-11-03", 40), state: "unsuccessful" },
      ]),
      slot("2026-11-04", "missed", []),
    ],
    cadence: [
      {
        schedule: "logs",
        stream: "main",
        from: "2026-11-04T00:00:00Z",
        to: "2026-11-05T00:00:00Z",
        missed: 143,
      },
    ],
    streams: ["main"],
    lineages: [{ id: "1", parent: null, openedAt: FROM, until: null, forks: [] }],
    shelves: [
      {
        store: "n1",
        name: "Quay near",
        role: "near",
        reachSeconds: 10 * 86_400,
        backups: [
          lying("full-new", "2026-11-10T00:00:00Z", "needed", {
            rungs: ["month"],
            reasons: ["monthly rung"],
          }),
          lying("full-old", "2026-10-02T00:00:00Z", "obsolete", { reasons: ["replaced by"] }),
          lying("full-kept", "2026-10-01T00:00:00Z", "needed", { held: true, reasons: ["held"] }),
        ],
        logs: [{ from: FROM, to: TO, verdict: "needed", logs: 960 }],
        obsoleteBytes: 3e9,
      },
    ],
    findings: [],
  };
}

export const backups: BackupPage = {
  total: 62,
  items: [
    {
      id: "berths-full-2",
      kind: "full",
      from: FROM,
      to: FROM,
      bytes: 1e9,
      store: "n1",
      storeName: "Quay near",
      role: "near",
      verdict: "needed",
      reasons: [
        { word: "floor", text: "newest way back" },
        { word: "inside-reach", text: "inside reach" },
        { word: "locked", text: "locked" },
      ],
    },
    {
      id: "berths-incr-1",
      kind: "incr",
      from: FROM,
      to: FROM,
      bytes: null,
      store: "n1",
      storeName: "Quay near",
      role: "near",
      verdict: "obsolete",
      reasons: [],
    },
  ],
};

export const fleetRow = (id: string, change: Partial<FleetRow> = {}): FleetRow => ({
  id,
  name: id,
  engine: "PostgreSQL 16",
  site: "Northquay",
  host: "northquay-1",
  system: "",
  zone: "UTC",
  owner: "Operations",
  identity: "77",
  labels: {},
  policy: "sailings",
  route: null,
  standbyOf: null,
  inServiceFrom: "2026-01-01T00:00:00Z",
  retired: null,
  stopped: false,
  attention: [],
  rules: [],
  namesake: null,
  readiness: { state: "ready", lacking: 0, unknown: 0 },
  ...change,
});

export const finding = (change: Partial<Finding> = {}): Finding => ({
  key: "behind|manifests",
  code: "behind",
  severity: "behind",
  urgency: "broken",
  breaks: null,
  databases: [{ id: "manifests", name: "manifests", grade: "behind" }],
  zone: "UTC",
  since: "2026-11-21T07:06:00Z",
  seen: null,
  title: "50 h 6 min would be lost",
  text: "A loss of 15 min is promised.",
  action: "Take an incremental now to Quay near: 12 min.",
  policy: null,
  waysOut: [],
  facts: [],
  accepted: null,
  row: null,
  ...change,
});
