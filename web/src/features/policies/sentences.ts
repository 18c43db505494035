import type { WrittenDocument } from "../../api/types";
import { KINDS, kindsWords } from "./kinds";
import { recurrenceWords } from "./recurrence";
import { DAYS, daysWords, durationWords } from "./values";

/** One thing a policy says; the key tells which thing, so that two versions can be laid side by side. */
export type Sentence = { key: string; text: string };

const KIND: Record<string, string> = {
  full: "A full",
  diff: "A differential",
  incr: "An incremental",
  config: "A config backup",
  log: "Logs",
};
const d = (iso: string | null | undefined) => (iso ? durationWords(iso) : "");

/** How well a backup is known, the weakest first. */
export const KNOWN = {
  told: "known by word alone",
  listed: "listed by a store",
  read: "read through",
  checked: "checked by checksum",
  verified: "verified by the engine",
  restored: "proved by a restore",
} as const;

const known = (word: string) => (word in KNOWN ? KNOWN[word as keyof typeof KNOWN] : word);

const RUNGS = [
  ["day", "daily"],
  ["week", "weekly"],
  ["month", "monthly"],
  ["year", "yearly"],
] as const;

/** A policy read aloud. */
export function sentences(p: WrittenDocument): Sentence[] {
  const out: Sentence[] = [];
  const say = (key: string, text: string | false | null | undefined) => text && out.push({ key, text });
  const o = p.objective ?? {};
  say("enabled", p.enabled === false ? "The policy is switched off." : "The policy is switched on.");
  say("mishap", o.mishap && `Lose at most ${d(o.mishap)} to a mishap.`);
  say("siteLoss", o.siteLoss && `Lose at most ${d(o.siteLoss)} with the site.`);
  say("sabotage", o.sabotage && `Lose at most ${d(o.sabotage)} to sabotage.`);
  say("reach", o.reach && `Keep every moment restorable for ${d(o.reach)}.`);
  say("restoreTime", o.restoreTime && `Be running again within ${d(o.restoreTime)}.`);
  say("drillEvery", o.drillEvery && `Prove that restores work every ${d(o.drillEvery)}.`);
  for (const s of p.schedules ?? []) {
    const off = s.enabled === false ? " It is switched off." : "";
    const grace = s.grace ? `, ${d(s.grace)} grace` : "";
    say(
      `schedule ${s.id}`,
      s.every
        ? `Logs every ${d(s.every)}${grace}.${off}`
        : `${KIND[s.kind ?? "full"]} ${recurrenceWords(s)}, started within ${d(s.within)}${
            s.mustFinish ? " and finished by then" : ""
          }${grace}.${off}`,
    );
  }
  (p.openHours ?? []).forEach((h, i) =>
    say(
      `open hours ${i}`,
      `Data backups are welcome every ${daysWords(h.days ?? [])} from ${h.from} to ${h.to}.`,
    ),
  );
  (p.retain ?? []).forEach((r, i) => {
    const rungs = RUNGS.filter(([unit]) => r.rungs?.[unit]).map(
      ([unit, word]) => `${r.rungs?.[unit]} ${word}`,
    );
    const parts = [
      r.reach && `a reach of ${d(r.reach)}`,
      r.fulls !== undefined && `the ${r.fulls} newest fulls${r.logs === false ? " without logs" : ""}`,
      rungs.length > 0 && `${rungs.join(", ")} rungs`,
      r.configs !== undefined && `${r.configs} config backups`,
      r.lock && `locked ${d(r.lock)}`,
      r.atMost && `deleted at the latest after ${d(r.atMost)}`,
    ].filter(Boolean);
    const nth = (p.retain ?? []).slice(0, i).filter((other) => other.role === r.role).length;
    say(`retain ${r.role} ${nth}`, `In ${r.role} stores: ${parts.join("; ") || "nothing"}.`);
  });
  const c = p.copies ?? {};
  const copies = [
    c.stores && `${c.stores} ${c.stores === 1 ? "store" : "stores"}`,
    c.media && `${c.media} media`,
    c.offsite && `${c.offsite} at another site`,
    c.locked && `${c.locked} locked`,
  ].filter(Boolean);
  say(
    "copies",
    copies.length > 0 && `Every backup: ${copies.join(", ")}${c.within ? `, within ${d(c.within)}` : ""}.`,
  );
  const m = p.demands ?? {};
  const demands = [
    m.compressed && "compressed",
    m.encrypted && "encrypted",
    m.checksummed && "checksummed",
    m.verifiedWithin && `verified within ${d(m.verifiedWithin)}`,
    m.evidence && m.evidence !== "told" && `${known(m.evidence)} within ${d(m.evidenceWithin ?? "P1D")}`,
    m.configAfterData && `config backups within ${d(m.configAfterData)} of data backups`,
  ].filter(Boolean);
  say("demands", demands.length > 0 && `Backups are ${demands.join(", ")}.`);
  limits(p, say);
  return out;
}

/** How backups are taken, and who approves a purge. */
function limits(p: WrittenDocument, say: (key: string, text: string | false | undefined) => void) {
  (p.rateLimits ?? []).forEach((r, i) => {
    const own = r.days || r.from || r.to;
    const hours = own
      ? `, every ${daysWords(r.days ?? DAYS)} from ${r.from ?? "00:00"} to ${r.to ?? "24:00"}`
      : "";
    const where = `${r.store ? ` into ${r.store}` : ""}${r.host ? ` from ${r.host}` : ""}`;
    say(
      `limit ${i}`,
      `A run writes at most ${(r.bytesPerSecond ?? 0) / 1e6} MB/s${where} in ${LIMITED[r.hours ?? "always"] ?? r.hours}${hours}.`,
    );
  });
  say(
    "order",
    (p.order ?? []).length > 0 && `Of kinds due at once first ${kindsWords(p.order ?? [], ", then ")}.`,
  );
  (p.then ?? []).forEach((t, i) =>
    say(
      `then ${i}`,
      `After each ${kindsWords(t.after ?? [], " or ")} that succeeds, ${KINDS.find(([k]) => k === t.take)?.[1] ?? t.take} follows within ${d(t.within)}.`,
    ),
  );
  const logs = p.sourceLogs;
  say(
    "sourceLogs",
    logs &&
      `The ${logs.deletedBy ?? "engine"} deletes source logs${
        logs.afterCopies === undefined
          ? ""
          : ` after ${logs.afterCopies} ${logs.afterCopies === 1 ? "copy" : "copies"}`
      }.`,
  );
  say(
    "purgeApprovals",
    p.purgeApprovals !== undefined &&
      `Before anything is purged, ${p.purgeApprovals} other ${p.purgeApprovals === 1 ? "person approves" : "people approve"} it.`,
  );
}

/** In which hours a rate limit holds. */
const LIMITED: Record<string, string> = {
  open: "open hours",
  closed: "all but the open hours",
  always: "all hours",
};

export type Pair = { key: string; old: string | null; new: string | null; same: boolean };

/** What two versions say, side by side in the order of the newer, then what only the older says. */
export function sideBySide(older: WrittenDocument, newer: WrittenDocument): Pair[] {
  const before = new Map(sentences(older).map((s) => [s.key, s.text]));
  const after = sentences(newer);
  const keys = new Set(after.map((s) => s.key));
  return [
    ...after.map((s) => ({
      key: s.key,
      old: before.get(s.key) ?? null,
      new: s.text,
      same: before.get(s.key) === s.text,
    })),
    ...[...before]
      .filter(([key]) => !keys.has(key))
      .map(([key, text]) => ({ key, old: text, new: null, same: false })),
  ];
}

/** The promise and the rhythm in a line, for a list. */
export function summary(p: WrittenDocument | null): string {
  if (!p) return "";
  const o = p.objective ?? {};
  const parts = [
    o.mishap && `lose ${d(o.mishap)}`,
    o.siteLoss && `${d(o.siteLoss)} with the site`,
    o.sabotage && `${d(o.sabotage)} to sabotage`,
    o.reach && `go back ${d(o.reach)}`,
  ].filter(Boolean);
  return parts.join(", ") || "promises nothing";
}
