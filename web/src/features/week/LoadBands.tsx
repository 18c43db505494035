import type { WeekView } from "../../api/types";
import { count, span } from "../../time/words";
import { within, type Night } from "./nights";

export type Band = WeekView["bands"][number];

type Props = {
  week: WeekView;
  night: Night;
  height: number;
  x: (at: number) => number;
  onPoint: (band: Band) => void;
};

/** How much runs at a time in a night, the taller the more; pointed at, a band opens to its slots. */
export function LoadBands({ week, night, height, x, onPoint }: Props) {
  const most = Math.max(1, ...week.bands.map((b) => b.slots));
  return week.bands.map((band) => {
    const part = within(band.from, band.to, night);
    if (!part) return null;
    const tall = Math.max(3, (band.slots / most) * (height - 6));
    const text = bandWords(band, week.zone);
    return (
      <rect
        key={band.from}
        tabIndex={0}
        role="button"
        aria-label={text}
        data-band={band.from}
        x={x(part.from)}
        width={Math.max(2, x(part.to) - x(part.from) - 0.5)}
        y={height - tall}
        height={tall}
        fill="var(--water-3)"
        className="cursor-pointer focus-visible:outline-2"
        onClick={() => onPoint(band)}
        onKeyDown={(e) => {
          if (e.key === "Enter" || e.key === " ") {
            e.preventDefault();
            onPoint(band);
          }
        }}
      >
        <title>{text}</title>
      </rect>
    );
  });
}

/** "23 Nov 01:00 – 01:30: 312 slots, 61 MB/s" */
export function bandWords(band: Band, zone: string): string {
  const rate = band.bytesPerSecond > 0 ? `, ${Math.round(band.bytesPerSecond / 1e6)} MB/s` : "";
  return `${span(band.from, band.to, zone)}: ${count(band.slots)} ${band.slots === 1 ? "slot" : "slots"}${rate}`;
}
