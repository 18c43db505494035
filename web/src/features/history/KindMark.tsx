const HEIGHTS: Record<string, number> = { full: 13, diff: 9, incr: 6, log: 3, config: 5 };

/** A pile as tall as its kind is strong; a broken ring where it failed, an open one while it runs. */
export function KindMark({ kind, outcome }: { kind: string; outcome: string }) {
  if (outcome === "failed" || outcome === "cancelled") {
    return (
      <svg width={14} height={14} aria-hidden>
        <circle
          cx={7}
          cy={7}
          r={4.5}
          fill="none"
          stroke={outcome === "failed" ? "var(--coral)" : "var(--muted)"}
          strokeWidth={2}
          strokeDasharray="6 3.4"
        />
      </svg>
    );
  }
  const height = HEIGHTS[kind];
  return (
    <svg width={14} height={14} aria-hidden>
      {height === undefined ? (
        <path
          d={kind === "drill" ? "M2 12 L7 3 L12 12 Z" : "M3 11 C3 3 11 3 11 8 m-3 -2 l3 2 l2 -3"}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={1.6}
        />
      ) : (
        <rect
          x={5}
          y={13 - height}
          width={5}
          height={height}
          rx={1.5}
          fill={outcome === "running" ? "none" : "var(--ink)"}
          stroke="var(--ink)"
        />
      )}
    </svg>
  );
}
