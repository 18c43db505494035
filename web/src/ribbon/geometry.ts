import type { Mark, Sand, Water } from "../api/types";

/** Where on a ribbon a moment lies, in pixels from its left end; moments outside lie outside. */
export type Scale = (at: string | number) => number;

export function scale(from: string, to: string, width: number): Scale {
  const begin = Date.parse(from);
  const length = Date.parse(to) - begin;
  return (at) => {
    const ms = typeof at === "number" ? at : Date.parse(at);
    return length <= 0 ? 0 : ((ms - begin) / length) * width;
  };
}

/** The moment at a pixel, the inverse of {@link scale}. */
export function momentAt(from: string, to: string, width: number, x: number): number {
  const begin = Date.parse(from);
  const share = width <= 0 ? 0 : Math.min(1, Math.max(0, x / width));
  return begin + (Date.parse(to) - begin) * share;
}

export type Piece =
  | { what: "water"; x: number; width: number; of: Water }
  | { what: "stone"; x: number; width: 0; of: Water }
  | { what: "sand"; x: number; width: number; of: Sand };

/** A stretch too short to see is drawn this wide all the same. */
export const NARROWEST = 2;

/**
 * What to draw, from left to right: water and sand as wide as their time, single moments as stones. What began before
 * the period begins at the ribbon's left end.
 */
export function pieces(water: Water[], sand: Sand[], at: Scale): Piece[] {
  const out: Piece[] = [];
  for (const w of water) {
    const x = Math.max(0, at(w.from));
    if (w.from === w.to) out.push({ what: "stone", x, width: 0, of: w });
    else out.push({ what: "water", x, width: Math.max(at(w.to) - x, 0.5), of: w });
  }
  for (const s of sand) {
    const x = Math.max(0, at(s.from));
    out.push({ what: "sand", x, width: Math.max(at(s.to) - x, NARROWEST), of: s });
  }
  return out.sort((a, b) => a.x - b.x);
}

/** The piece under a pixel; a stone answers a few pixels around it, and sand before the water it lies beside. */
export function pieceAt(all: Piece[], x: number): Piece | undefined {
  return (
    all.find((p) => p.what === "stone" && Math.abs(p.x - x) <= 5) ??
    all.find((p) => p.what === "sand" && x >= p.x && x <= p.x + p.width) ??
    all.find((p) => p.what === "water" && x >= p.x && x <= p.x + p.width)
  );
}

export type Bar = { x: number; height: number; width: number; of: Mark };

/** Data backups as piles on a ribbon of the given height: fulls tall, differentials short, incrementals shorter. */
export function bars(marks: Mark[], at: Scale, ribbon: number): Bar[] {
  const shape: Record<string, { height: number; width: number } | undefined> = {
    full: { height: ribbon + 6, width: 3 },
    diff: { height: ribbon, width: 2 },
  };
  const incr = { height: ribbon * 0.6, width: 1.5 };
  return marks.filter((m) => !m.failed).map((m) => ({ x: at(m.at), ...(shape[m.kind] ?? incr), of: m }));
}

export type Ring = { x: number; count: number; of: Mark };

/** Failed runs as rings; those that would touch become one that counts them. */
export function rings(marks: Mark[], at: Scale, apart = 16): Ring[] {
  const out: Ring[] = [];
  for (const m of marks.filter((mark) => mark.failed)) {
    const x = at(m.at);
    const last = out.at(-1);
    if (last && x - last.x < apart) last.count += m.count;
    else out.push({ x, count: m.count, of: m });
  }
  return out;
}
