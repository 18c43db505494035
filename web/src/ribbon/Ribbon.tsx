import type { Mark, Sand, Water } from "../api/types";
import { bars, pieceAt, pieces, rings, scale, type Piece, type Ring } from "./geometry";
import { ribbonText } from "./words";

const WATER = ["var(--water-1)", "var(--water-1)", "var(--water-2)", "var(--water-3)"];

type Props = {
  water: Water[];
  sand: Sand[];
  marks: Mark[];
  from: string;
  to: string;
  width: number;
  zone: string;
  height?: number;
  chosen?: Piece | null;
  onPoint?: (piece: Piece | null, x: number) => void;
};

/** A database's past as a channel: water where it can be restored, sand where not, stones for single moments. */
export function Ribbon({ water, sand, marks, from, to, width, zone, height = 16, chosen, onPoint }: Props) {
  const at = scale(from, to, width);
  const all = pieces(water, sand, at);
  const top = 5;
  const middle = top + height / 2;
  return (
    <svg
      width={width}
      height={height + 10}
      role="img"
      aria-label={ribbonText({ water, sand, zone })}
      className="block"
      onPointerMove={(e) => {
        const x = e.clientX - e.currentTarget.getBoundingClientRect().left;
        onPoint?.(pieceAt(all, x) ?? null, x);
      }}
      onPointerLeave={() => onPoint?.(null, 0)}
    >
      <line x1={0} x2={width} y1={middle} y2={middle} stroke="var(--line)" />
      {all.map((p) =>
        p.what === "stone" ? null : (
          <rect
            key={`${p.what}${p.x}`}
            x={p.x}
            y={top}
            width={p.width}
            height={height}
            fill={p.what === "sand" ? "url(#hatch)" : WATER[p.of.depth]}
            stroke={p.what === "sand" ? "var(--hatch)" : "none"}
          />
        ),
      )}
      {bars(marks, at, height)
        .filter((b) => all.every((p) => p.what !== "stone" || Math.abs(p.x - b.x) > 1))
        .map((b) => (
          <rect
            key={b.of.id}
            x={b.x - b.width / 2}
            y={middle - b.height / 2}
            width={b.width}
            height={b.height}
            rx={b.width / 2}
            fill="var(--ink)"
            opacity={b.of.kind === "full" ? 1 : 0.55}
          />
        ))}
      {all.map((p) =>
        p.what === "stone" ? (
          <circle
            key={`stone${p.x}`}
            cx={p.x}
            cy={middle}
            r={4.5}
            fill={WATER[p.of.depth]}
            stroke="var(--ink)"
          />
        ) : null,
      )}
      {rings(marks, at).map((r) => (
        <RibbonMark key={r.of.id} r={r} width={width} middle={middle} />
      ))}
      {chosen && (
        <rect
          x={chosen.what === "stone" ? chosen.x - 6 : chosen.x}
          y={1}
          width={chosen.what === "stone" ? 12 : Math.max(chosen.width, 3)}
          height={height + 8}
          fill="none"
          stroke="var(--link)"
          strokeWidth={2}
        />
      )}
    </svg>
  );
}

function RibbonMark(props: { r: Ring; width: number; middle: number }) {
  const { r, width, middle } = props;
  return (
    <circle
      cx={Math.min(Math.max(r.x, 6), width - 6)}
      cy={middle}
      r={4.5}
      fill="var(--panel)"
      stroke="var(--coral)"
      strokeWidth={2}
      strokeDasharray="4.2 2.8"
    />
  );
}

/** The hatch of sand, defined once for every ribbon on the page. */
export function RibbonPatterns() {
  return (
    <svg width={0} height={0} aria-hidden className="absolute">
      <defs>
        <pattern id="hatch" width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width={6} height={6} fill="var(--sand)" />
          <line x1={0} y1={0} x2={0} y2={6} stroke="var(--hatch)" strokeWidth={1.6} />
        </pattern>
      </defs>
    </svg>
  );
}

/** What the shapes and shades mean. */
export function Legend() {
  const water = (fill: string, text: string) => (
    <span className="flex items-center gap-1.5">
      <svg width={22} height={12} aria-hidden>
        <rect width={22} height={12} fill={fill} />
      </svg>
      {text}
    </span>
  );
  return (
    <div className="flex flex-wrap items-center gap-x-5 gap-y-1 text-note" aria-label="Legend">
      {water("var(--water-1)", "survives one hazard")}
      {water("var(--water-2)", "two")}
      {water("var(--water-3)", "all three")}
      {water("url(#hatch)", "cannot be restored")}
      <Sign text="full">
        <rect x={4} y={0} width={3} height={16} rx={1.5} fill="var(--ink)" />
      </Sign>
      <Sign text="differential, incremental">
        <rect x={2} y={2} width={2} height={12} fill="var(--ink)" opacity={0.55} />
        <rect x={8} y={4} width={1.5} height={8} fill="var(--ink)" opacity={0.55} />
      </Sign>
      <Sign text="a moment on its own">
        <circle cx={6} cy={8} r={4.5} fill="var(--water-2)" stroke="var(--ink)" />
      </Sign>
      <Sign text="failed">
        <circle
          cx={6}
          cy={8}
          r={4.5}
          fill="none"
          stroke="var(--coral)"
          strokeWidth={2}
          strokeDasharray="4.2 2.8"
        />
      </Sign>
    </div>
  );
}

function Sign({ text, children }: { text: string; children: React.ReactNode }) {
  return (
    <span className="flex items-center gap-1.5">
      <svg width={12} height={16} aria-hidden>
        {children}
      </svg>
      {text}
    </span>
  );
}
