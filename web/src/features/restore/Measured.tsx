import type { Course } from "./api";
import { count, duration, size } from "../../time/words";

/** A state a restore went through: from when until when after its beginning, in seconds. */
export type Measured = { name: string; text: string; from: number; until: number; going: boolean };

const NAMES: Record<string, string> = { files: "files", logs: "logs", open: "proof" };

/** What was measured of a restore that a program carries out, on the time of the staircase. */
export function measured(course: Course): Measured[] {
  const begun = course.states.find((s) => s.state === "files")?.began;
  if (!begun) return [];
  const after = (moment: string) => (Date.parse(moment) - Date.parse(begun)) / 1000;
  return course.states
    .filter((s) => NAMES[s.state])
    .map((s) => {
      const going = s.ended === null && course.failed === null;
      const from = after(s.began);
      const until = Math.max(from, after(s.ended ?? course.told ?? s.began));
      return {
        name: NAMES[s.state] as string,
        from,
        until,
        going,
        text: [duration(until - from), share(s.state, s.done, s.of)].filter(Boolean).join(", "),
      };
    });
}

function share(state: string, done: number | null, of: number | null): string {
  if (done === null) return "";
  const words = state === "logs" ? count : size;
  return of === null || done >= of ? words(done) : `${words(done)} of ${words(of)}`;
}

type Props = Measured & { y: number; x: (seconds: number) => number; width: number };

/** One of them below the stairs. */
export function MeasuredStep({ name, text, from, until, going, y, x, width }: Props) {
  const left = x(from);
  const end = Math.max(left + 3, x(until));
  const beside = width - end > text.length * 6.6 + 14;
  return (
    <g data-measured={name}>
      <text x={x(0) - 12} y={y + 15} textAnchor="end" fontSize={13} fill="var(--muted)">
        {name}, measured
      </text>
      <rect
        x={left}
        y={y + 6}
        width={end - left}
        height={10}
        rx={3}
        fill={going ? "var(--water-3)" : "var(--violet)"}
      />
      <text
        x={beside ? end + 8 : left - 8}
        y={y + 15}
        fontSize={12}
        textAnchor={beside ? "start" : "end"}
        fill="var(--ink)"
      >
        {text}
      </text>
    </g>
  );
}
