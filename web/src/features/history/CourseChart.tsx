import type { HistoryLine, StretchView, Schemas } from "../../api/types";
import { scale } from "../../ribbon/geometry";
import { span, time } from "../../time/words";
import { rate } from "./say";

const HEIGHT = 120;
const LABELS = 74;

/** Which side held a stretch back, in words. */
export const SIDES: Record<Schemas["StretchView"]["side"], string> = {
  reading: "reading from the database",
  transport: "the way to the store",
  writing: "the store",
  delivery: "the way to the store, or the store",
};

/** Stretches one after the other that the same side held back, as one. */
export function together(stretches: StretchView[]): StretchView[] {
  const out: StretchView[] = [];
  for (const s of stretches) {
    const last = out[out.length - 1];
    if (last && last.side === s.side && last.slow === s.slow) {
      const a = Date.parse(last.to) - Date.parse(last.from);
      const b = Date.parse(s.to) - Date.parse(s.from);
      const mean = (x: number, y: number) => (x * a + y * b) / (a + b);
      out[out.length - 1] = {
        ...last,
        to: s.to,
        readPerSecond: mean(last.readPerSecond, s.readPerSecond),
        writtenPerSecond: mean(last.writtenPerSecond, s.writtenPerSecond),
        share: last.share === null || s.share === null ? null : mean(last.share, s.share),
      };
    } else {
      out.push(s);
    }
  }
  return out;
}

/** The rate of reading and writing over time, with the usual rate, and below it what held each stretch back. */
export function CourseChart({ line, width, zone }: { line: HistoryLine; width: number; zone: string }) {
  const stretches = line.stretches;
  const first = stretches[0];
  const last = stretches[stretches.length - 1];
  if (!first || !last) return null;
  const inner = Math.max(120, width - LABELS);
  const x = scale(first.from, last.to, inner);
  const top = Math.max(
    ...stretches.map((s) => Math.max(s.readPerSecond, s.writtenPerSecond)),
    line.usualPerSecond ?? 0,
  );
  const y = (v: number) => 8 + (1 - v / (top || 1)) * (HEIGHT - 16);
  const steps = (value: (s: StretchView) => number) =>
    stretches
      .map((s, i) => `${i === 0 ? "M" : "L"}${x(s.from)} ${y(value(s))} L${x(s.to)} ${y(value(s))}`)
      .join(" ");
  const merged = together(stretches);
  return (
    <figure className="mt-2">
      <svg width={width} height={HEIGHT + 34} role="img" aria-label={courseWords(merged, zone)}>
        <g transform={`translate(${LABELS} 0)`}>
          {line.usualPerSecond !== null && <CourseScale inner={inner} y={y} usual={line.usualPerSecond} />}
          <path d={steps((s) => s.readPerSecond)} fill="none" stroke="var(--muted)" strokeDasharray="2 2" />
          <path d={steps((s) => s.writtenPerSecond)} fill="none" stroke="var(--ink)" strokeWidth={2} />
          {merged.map((s) => (
            <g key={s.from}>
              <rect
                x={x(s.from)}
                y={HEIGHT}
                width={Math.max(1, x(s.to) - x(s.from) - 1)}
                height={10}
                fill={s.side === "reading" ? "var(--water-1)" : s.slow ? "var(--sand)" : "var(--water-2)"}
                stroke={s.slow ? "var(--ochre)" : "none"}
              />
            </g>
          ))}
          <text x={0} y={HEIGHT + 26} fontSize={11} fill="var(--muted)">
            {time(first.from, zone)}
          </text>
          <text x={inner} y={HEIGHT + 26} textAnchor="end" fontSize={11} fill="var(--muted)">
            {time(last.to, zone)}
          </text>
        </g>
        <text x={LABELS - 8} y={y(top) + 4} textAnchor="end" fontSize={11} fill="var(--muted)">
          {rate(top)}
        </text>
        <text x={LABELS - 8} y={y(0) + 2} textAnchor="end" fontSize={11} fill="var(--muted)">
          0
        </text>
        <text x={LABELS - 8} y={HEIGHT + 9} textAnchor="end" fontSize={11} fill="var(--muted)">
          slowed by
        </text>
      </svg>
      <CourseWords merged={merged} zone={zone} />
    </figure>
  );
}

function CourseScale(props: { inner: number; y: (v: number) => number; usual: number }) {
  const { inner, y, usual } = props;
  return (
    <>
      <line x1={0} x2={inner} y1={y(usual)} y2={y(usual)} stroke="var(--violet)" strokeDasharray="4 3" />
      <text x={inner} y={y(usual) - 3} textAnchor="end" fontSize={11} fill="var(--violet)">
        usually written
      </text>
    </>
  );
}

function CourseWords(props: { merged: StretchView[]; zone: string }) {
  const { merged, zone } = props;
  return (
    <figcaption>
      <span className="text-note text-muted">solid: written, dotted: read</span>
      <ul className="mt-1">
        {merged.map((s) => (
          <li key={s.from} className={s.slow ? "text-ochre-text" : ""}>
            {stretchWords(s, zone)}
          </li>
        ))}
      </ul>
    </figcaption>
  );
}

function stretchWords(s: StretchView, zone: string): string {
  const share = s.share === null ? "" : `, ${Math.round(s.share * 100)} % of what is usual`;
  return `${span(s.from, s.to, zone)}: slowed by ${SIDES[s.side]}, ${rate(s.writtenPerSecond)} written${share}`;
}

function courseWords(merged: StretchView[], zone: string): string {
  return merged.map((s) => stretchWords(s, zone)).join("; ");
}
