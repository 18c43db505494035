import { useWidth } from "../../ui/useWidth";
import { shelfScale, shelfTicks } from "../database/shelf";
import { useEditing } from "./editing";
import { fullsApart, furthest, kept, type Kept } from "./shelf";

const ROW = 40;

/** What the rules retain, by age, the newest left: a picture of the sentences below it. */
export function ShelfSketch() {
  const { document } = useEditing();
  const [box, width] = useWidth<HTMLDivElement>();
  const apart = fullsApart(document.schedules ?? []);
  const rules = (document.retain ?? []).map((r) => kept(r, apart));
  if (rules.length === 0) return null;
  const longest = furthest(rules);
  const room = Math.max(200, width - 10);
  return (
    <div ref={box} data-testid="shelf-sketch">
      <svg
        width={room + 10}
        height={rules.length * ROW + 16}
        role="img"
        aria-label={rules.map((r) => r.says).join("; ")}
      >
        {shelfTicks(longest, room).map((t) => (
          <g key={t.age}>
            <line x1={t.x} x2={t.x} y1={0} y2={rules.length * ROW} stroke="var(--line)" />
            <text x={t.x} y={rules.length * ROW + 12} fontSize={11} textAnchor="middle" fill="var(--muted)">
              {t.text}
            </text>
          </g>
        ))}
        <text x={0} y={rules.length * ROW + 12} fontSize={11} fill="var(--muted)">
          now
        </text>
        {rules.map((r, i) => (
          <Rule key={i} rule={r} y={i * ROW} x={shelfScale(longest, room)} />
        ))}
      </svg>
    </div>
  );
}

function Rule({ rule, y, x }: { rule: Kept; y: number; x: (age: number) => number }) {
  const pile = (age: number, i: number, height: number) => (
    <rect
      key={`${height}-${i}`}
      x={x(age) - 2}
      y={y + 12 - height / 2}
      width={4}
      height={height}
      fill="var(--water-3)"
      rx={1}
    />
  );
  return (
    <g>
      {rule.reach > 0 && <rect x={0} y={y + 5} width={x(rule.reach)} height={14} fill="var(--water-2)" />}
      {rule.fulls.map((age, i) => pile(age, i, 18))}
      {rule.rungs.map((age, i) => pile(age, i, 12))}
      {rule.lock > 0 && (
        <line x1={0} x2={x(rule.lock)} y1={y + 23} y2={y + 23} stroke="var(--violet)" strokeWidth={3} />
      )}
      {rule.atMost > 0 && (
        <line
          x1={x(rule.atMost)}
          x2={x(rule.atMost)}
          y1={y + 2}
          y2={y + 24}
          stroke="var(--ochre)"
          strokeWidth={2}
        />
      )}
      <text x={0} y={y + 36} fontSize={11} fill="var(--ink)">
        {rule.says}
      </text>
    </g>
  );
}
