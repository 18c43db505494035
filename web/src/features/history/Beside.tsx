import type { Figure } from "../../api/types";

const WIDTH = 36;
const HEIGHT = 10;

/** How a figure differs from what is usual, in words. */
export function besideWords(figure: Figure, say: (value: number) => string): string {
  if (figure.median === null) return "too few like it are known to say what is usual";
  const day = figure.weekday ? ` on a ${figure.weekday}` : "";
  return `usually ${say(figure.median)}, give or take ${say(figure.spread ?? 0)} (the ${figure.of} before it${day})`;
}

/**
 * A figure with where it stands among like ones: a line for their median, a band for their spread, a dot for itself, from
 * nothing to twice the median.
 */
export function Beside({ figure, say }: { figure: Figure | null; say: (value: number) => string }) {
  if (!figure) return <span className="text-muted">–</span>;
  return (
    <span className="flex items-center justify-end gap-2" title={besideWords(figure, say)}>
      <span className={figure.unusual ? "font-semibold text-ochre-text" : ""}>{say(figure.own)}</span>
      <Whisker figure={figure} />
    </span>
  );
}

function Whisker({ figure }: { figure: Figure }) {
  if (!figure.median) return <span style={{ width: WIDTH }} />;
  const x = (value: number) => 4 + (Math.min(2, value / (figure.median ?? 1)) / 2) * (WIDTH - 8);
  const spread = figure.spread ?? 0;
  const band = Math.max(2, x(figure.median + spread) - x(Math.max(0, figure.median - spread)));
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden>
      <line x1={0} x2={WIDTH} y1={5} y2={5} stroke="var(--line)" />
      <rect x={x(figure.median) - band / 2} y={2} width={band} height={6} fill="var(--line)" />
      <line x1={x(figure.median)} x2={x(figure.median)} y1={1} y2={9} stroke="var(--muted)" />
      {figure.unusual ? (
        <path d={`M${x(figure.own)} 1 l4 4 l-4 4 l-4 -4 z`} fill="var(--ochre)" />
      ) : (
        <circle cx={x(figure.own)} cy={5} r={2.6} fill="var(--ink)" />
      )}
    </svg>
  );
}
