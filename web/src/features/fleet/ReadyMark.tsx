/** A box for one fact: ticked, half full while it waits, dashed where unknown, a broken ring where something is lacking. */
export function ReadyMark({ state }: { state: string }) {
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden className="inline align-[-2px]" fill="none">
      {state === "not-ready" ? (
        <path d="M9.6 2.2A5.4 5.4 0 1 0 12.4 7" stroke="var(--coral)" strokeWidth="2" />
      ) : (
        <rect
          x="1.5"
          y="1.5"
          width="11"
          height="11"
          stroke={state === "unknown" ? "var(--muted)" : "var(--color-ink)"}
          strokeDasharray={state === "unknown" ? "2 2" : undefined}
        />
      )}
      {state === "ready" && <path d="M4 7.2 6.2 9.6 10.2 4.6" stroke="var(--ink)" strokeWidth="1.6" />}
      {state === "waiting" && <rect x="2" y="7" width="10" height="5" fill="var(--muted)" />}
    </svg>
  );
}
