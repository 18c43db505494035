import type { DatabaseView } from "../../api/types";

type Slot = DatabaseView["slots"][number];

export type SlotBar = { id: string; top: number; height: number };

/**
 * Each successful or running attempt of a slot as a bar in a frame of the given height, whose top is the slot's opening
 * and whose bottom its close; what lasts longer or starts later reaches the bottom.
 */
export function slotBars(slot: Slot, now: string, height: number): SlotBar[] {
  const open = Date.parse(slot.open);
  const length = Math.max(1, Date.parse(slot.close) - open);
  const at = (moment: number) => Math.min(1, Math.max(0, (moment - open) / length)) * height;
  return slot.runs
    .filter((r) => r.state !== "unsuccessful")
    .map((r) => {
      const top = Math.min(at(Date.parse(r.started)), height - 2);
      const end = at(r.ended === null ? Date.parse(now) : Date.parse(r.ended));
      return { id: r.id, top, height: Math.max(2, end - top) };
    });
}

const ORDER = [
  "on-time",
  "late",
  "overran",
  "running",
  "retrying",
  "failed",
  "missed",
  "due",
  "superseded",
  "excused",
];

/** How many slots came to what, in words. */
export function slotTally(slots: Slot[]): string {
  const counted = ORDER.map(
    (verdict) => [verdict, slots.filter((s) => s.verdict === verdict).length] as const,
  );
  return counted
    .filter(([, n]) => n > 0)
    .map(([verdict, n]) => `${n} ${verdict}`)
    .join(", ");
}
