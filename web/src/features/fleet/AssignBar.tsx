import { useState } from "react";
import type { FleetView } from "../../api/types";
import { useMe } from "../../api/session";
import { assigned } from "./records";
import { instantOf } from "../../time/typed";
import { MomentField } from "../../ui/Typed";
import { isoSecond, nowSecond } from "../../time/view";
import { viewerZone } from "../../time/words";

/** Now, or where that is to come, a second after it: of two assignments the one that begins later counts. */
const after = (moment: string) => isoSecond(Math.max(Date.now(), Date.parse(moment) + 1000));

/** Gives the chosen databases a policy and a route from a date. */
export function AssignBar(props: {
  chosen: string[];
  fleet: FleetView;
  /** @param before makes the records that put everything back as it is now */
  onState: (records: object[], before: () => object[]) => void;
}) {
  const { chosen, fleet, onState } = props;
  const [policy, setPolicy] = useState("");
  const [route, setRoute] = useState("");
  const [from, setFrom] = useState("");
  const [why, setWhy] = useState("");
  const me = useMe();
  const unread = from.trim() !== "" && !instantOf(from, viewerZone);
  const nothing = (!policy && !route) || unread;
  const rows = fleet.rows.filter((r) => chosen.includes(r.id));
  const unready = rows.filter((r) => r.readiness.state === "not-ready");
  return (
    <form
      className="mt-2 flex flex-wrap items-center gap-3 rounded-lg border border-ink bg-panel px-3 py-2"
      aria-label="Assign"
      onSubmit={(e) => {
        e.preventDefault();
        const moment = from.trim() === "" ? nowSecond() : instantOf(from, viewerZone);
        if (nothing || !moment) return;
        // A route alone leaves the policy each of them has.
        const asChosen = assigned(
          rows.map((r) => ({
            database: r.id,
            policy: policy === "-" ? null : policy || r.policy,
            route: route || null,
          })),
          { from: moment, by: me.name, why },
        );
        const asBefore = () =>
          assigned(
            rows.map((r) => ({ database: r.id, policy: r.policy, route: r.route })),
            { from: after(moment), by: me.name, why: "undone" },
          );
        onState(asChosen, asBefore);
      }}
    >
      <Pick label="Policy" value={policy} onChange={setPolicy}>
        <option value="">as it is</option>
        {fleet.policies.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
        <option value="-">none</option>
      </Pick>
      <Pick label="Route" value={route} onChange={setRoute}>
        <option value="">as it is</option>
        {fleet.routes.map((r) => (
          <option key={r.id} value={r.id}>
            {r.name}
          </option>
        ))}
      </Pick>
      <MomentField label="from, or empty for now" zone={viewerZone} value={from} onChange={setFrom} />
      <label className="flex items-center gap-1.5">
        why
        <input
          className="w-44 rounded border border-line px-1"
          value={why}
          onChange={(e) => setWhy(e.target.value)}
        />
      </label>
      <button className="ink-button" disabled={nothing}>
        Assign {chosen.length === 1 ? "one database" : `${chosen.length} databases`}
      </button>
      {policy && policy !== "-" && unready.length > 0 && (
        <span className="text-ochre-text">
          Not ready: {unready.map((r) => r.name).join(", ")}; its schedules cannot be trusted there yet.
        </span>
      )}
    </form>
  );
}

function Pick(props: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  children: React.ReactNode;
}) {
  return (
    <label className="flex items-center gap-1.5">
      {props.label}
      <select
        className="rounded border border-line bg-panel px-1.5 py-0.5"
        value={props.value}
        onChange={(e) => props.onChange(e.target.value)}
      >
        {props.children}
      </select>
    </label>
  );
}
