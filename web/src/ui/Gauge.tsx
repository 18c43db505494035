const LEVEL: Record<string, number> = { covered: 1, short: 0.55, behind: 0.3 };

/** A grade as a small gauge with its level; coral only where a promise is broken now, a dot where it is new. */
export function Gauge({ grade }: { grade: string }) {
  const broken = grade === "behind" || grade === "stranded";
  const colour = broken ? "var(--coral)" : "var(--ink)";
  const level = 11 * (LEVEL[grade] ?? 0);
  return (
    <svg width={12} height={18} aria-hidden className="shrink-0">
      <rect x={1} y={1} width={10} height={16} rx={2.5} fill="none" stroke={colour} strokeWidth={1.4} />
      {level > 0 && <rect x={3.3} y={14.7 - level} width={5.4} height={level} rx={1} fill={colour} />}
      {grade === "new" && <circle cx={6} cy={9} r={1.6} fill={colour} />}
      {grade === "stranded" && <line x1={9} y1={4} x2={3} y2={14} stroke={colour} strokeWidth={1.4} />}
    </svg>
  );
}
