import { isoSeconds, secondsIso } from "../policies/values";
import { idOf } from "../fleet/records";

/** A store as a form says it: amounts as they are typed, empty where nothing is said. */
export type StoreValues = {
  name: string;
  site: string;
  role: string;
  medium: string;
  capacity: string;
  reads: string;
  givesWay: string;
  stay: string;
  locks: boolean;
};

const text = (value: unknown) => (typeof value === "string" ? value : "");
const amount = (value: unknown, unit: number) => (typeof value === "number" ? String(value / unit) : "");
const DAY_SECONDS = 86_400;

export function storeValues(document: Record<string, unknown>): StoreValues {
  const stay = isoSeconds(text(document.minimumStay));
  return {
    name: text(document.name) || text(document.id),
    site: text(document.site),
    // A new one is near: most fleets begin with one.
    role: "id" in document ? text(document.role) : "near",
    medium: text(document.medium),
    capacity: amount(document.capacityBytes, 1e12),
    reads: amount(document.readBytesPerSecond, 1e6),
    givesWay: text(document.givesWay) || "refuse-new",
    stay: stay ? String(stay / DAY_SECONDS) : "",
    locks: document.lockable === true,
  };
}

const isAmount = (typed: string) =>
  typed.trim() === "" || (/^\d+(\.\d+)?$/.test(typed.trim()) && Number(typed) > 0);

/** What is still to be said, or what was said is no amount; empty where it can be kept. */
export function storeFlaw(v: StoreValues): string {
  if (!idOf(v.name)) return "what it is called";
  if (!isAmount(v.capacity)) return "its capacity as a number of TB, such as 8 or 0.5";
  if (!isAmount(v.reads)) return "how fast it is read as a number of MB a second, such as 200";
  if (!isAmount(v.stay)) return "the days a copy stays as a number, such as 30";
  return "";
}

/** The record of what was said; what nobody asks for here stays as it was. */
export function storeDocument(
  v: StoreValues,
  before: Record<string, unknown> | null,
): Record<string, unknown> {
  const {
    site: _s,
    role: _r,
    medium: _m,
    capacityBytes: _c,
    readBytesPerSecond: _b,
    minimumStay: _t,
    ...rest
  } = before ?? {};
  const name = v.name.trim();
  return {
    id: idOf(name),
    ...rest,
    name,
    ...(v.site && { site: v.site }),
    ...(v.role && { role: v.role }),
    ...(v.medium.trim() && { medium: v.medium.trim() }),
    ...(v.capacity.trim() && { capacityBytes: Number(v.capacity) * 1e12 }),
    ...(v.reads.trim() && { readBytesPerSecond: Number(v.reads) * 1e6 }),
    lockable: v.locks,
    givesWay: v.givesWay,
    ...(v.stay.trim() && { minimumStay: secondsIso(Math.round(Number(v.stay) * DAY_SECONDS)) }),
  };
}
