import type { Replay, WayOut } from "../../api/types";
import { durationWords } from "./values";

/** What contradicts itself, each with the smallest changes that end it. */
export function Flaws({ replay, onTake }: { replay: Replay; onTake: (way: WayOut) => void }) {
  const n = replay.flaws.length;
  if (n === 0) return null;
  return (
    <div className="mt-3 border-l-[3px] border-ochre pl-3" data-testid="flaws">
      <p className="font-semibold">{n === 1 ? "One thing does not fit." : `${n} things do not fit.`}</p>
      <ul className="space-y-1">
        {replay.flaws.map((f) => (
          <li key={f.code + f.path}>
            {f.text}
            {f.waysOut.map((w, i) => (
              <span key={w.path}>
                {i > 0 ? " or " : " "}
                <button className="text-button" onClick={() => onTake(w)}>
                  {wayOutWords(w)}
                </button>
              </span>
            ))}
            {f.waysOut.length === 0 && <span className="text-muted"> No single change ends this.</span>}
          </li>
        ))}
      </ul>
    </div>
  );
}

const PLACES: [RegExp, string][] = [
  [/^objective\.mishap$/, "the loss to a mishap"],
  [/^objective\.siteLoss$/, "the loss with the site"],
  [/^objective\.sabotage$/, "the loss to sabotage"],
  [/^objective\.reach$/, "the reach"],
  [/\.every$/, "the interval of logs"],
  [/\.within$/, "the start window"],
  [/\.grace$/, "the grace"],
  [/^retain\.\d+\.reach$/, "the reach of that rule"],
  [/^retain\.\d+\.role$/, "the role of that rule"],
  [/^retain\.\d+$/, "that rule"],
  [/\.lock$/, "the lock"],
  [/\.atMost$/, "the longest stay"],
  [/\.fulls$/, "the number of fulls"],
  [/rungs\.(\w+)$/, "the $1 rungs"],
  [/^copies\.(\w+)$/, "the copies asked for ($1)"],
  [/^openHours\.\d+\.from$/, "the beginning of the open hours"],
  [/^openHours\.\d+\.to$/, "the end of the open hours"],
];

/** A way out as something to do: "Set the loss with the site to 30 h". */
export function wayOutWords(way: WayOut): string {
  if (way.path === "enabled") return way.to === "true" ? "Switch the policy on" : "Switch the policy off";
  const schedule = /^schedules\.\d+\.enabled$/.test(way.path);
  if (schedule) return way.to === "true" ? "Switch that schedule on" : "Switch that schedule off";
  if (way.path.startsWith("schedules.+"))
    return way.to.startsWith("P")
      ? `Add logs every ${durationWords(way.to)}`
      : way.path.includes("weekly")
        ? "Add a full each week"
        : "Add a full each night";
  if (way.path.startsWith("retain.+"))
    return `Add a rule for ${way.path.slice("retain.+".length)} stores: a reach of ${durationWords(way.to)}`;
  if (/^schedules\.\d+\.at$/.test(way.path)) return "Have it open on Saturdays at 22:00";
  const found = PLACES.find(([p]) => p.test(way.path));
  const place = found ? (way.path.match(found[0])?.[0] ?? "").replace(found[0], found[1]) : way.path;
  if (way.to === "") return `Remove ${place}`;
  return way.from === ""
    ? `Add ${place.replace(/^the /, "a ")} of ${durationWords(way.to)}`
    : `Set ${place} to ${durationWords(way.to)}`;
}
