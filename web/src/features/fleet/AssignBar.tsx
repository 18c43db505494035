import type { ReactNode } from "react";
import { useForm, useWatch, type UseFormRegisterReturn } from "react-hook-form";
import type { FleetChoices, FleetRow } from "../../api/types";
import { useMe } from "../../api/session";
import { assigned } from "./records";
import { instantOf } from "../../time/typed";
import { MomentOf } from "../../ui/fields";
import { isoSecond, nowSecond } from "../../time/view";
import { viewerZone } from "../../time/words";

/** Now, or where that is to come, a second after it: of two assignments the one that begins later counts. */
const after = (moment: string) => isoSecond(Math.max(Date.now(), Date.parse(moment) + 1000));

/** Gives the chosen databases a policy and a route from a date. */
export function AssignBar(props: {
  rows: FleetRow[];
  fleet: FleetChoices;
  /** @param before makes the records that put everything back as it is now; absent where they cannot: nobody can be without a route again */
  onState: (records: object[], before?: () => object[]) => void;
}) {
  const { rows, fleet, onState } = props;
  const form = useForm({ defaultValues: { policy: "", route: "", from: "", why: "" } });
  const [policy, route, from] = useWatch({ control: form.control, name: ["policy", "route", "from"] });
  const me = useMe();
  const unread = from.trim() !== "" && !instantOf(from, viewerZone);
  const nothing = (!policy && !route) || unread;
  const unready = rows.filter((r) => r.readiness.state === "not-ready");
  const assign = form.handleSubmit((v) => {
    const moment = v.from.trim() === "" ? nowSecond() : instantOf(v.from, viewerZone);
    if (nothing || !moment) return;
    // A route alone leaves the policy each of them has.
    const asChosen = assigned(
      rows.map((r) => ({
        database: r.id,
        policy: v.policy === "-" ? null : v.policy || r.policy,
        route: v.route || null,
      })),
      { from: moment, by: me.name, why: v.why },
    );
    const asBefore = () =>
      assigned(
        rows.map((r) => ({ database: r.id, policy: r.policy, route: r.route })),
        { from: after(moment), by: me.name, why: "undone" },
      );
    onState(asChosen, v.route && rows.some((r) => !r.route) ? undefined : asBefore);
  });
  return (
    <form
      className="mt-2 flex flex-wrap items-center gap-3 rounded-lg border border-ink bg-panel px-3 py-2"
      aria-label="Assign"
      noValidate
      onSubmit={(e) => void assign(e)}
    >
      <Pick label="Policy" field={form.register("policy")}>
        <option value="">as it is</option>
        {fleet.policies.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
        <option value="-">none</option>
      </Pick>
      <Pick label="Route" field={form.register("route")}>
        <option value="">as it is</option>
        {fleet.routes.map((r) => (
          <option key={r.id} value={r.id}>
            {r.name}
          </option>
        ))}
      </Pick>
      <MomentOf form={form} name="from" label="from, or empty for now" zone={viewerZone} />
      <label className="flex items-center gap-1.5">
        why
        <input className="w-44 rounded border border-line px-1" {...form.register("why")} />
      </label>
      <button className="ink-button" disabled={nothing}>
        Assign {rows.length === 1 ? "one database" : `${rows.length} databases`}
      </button>
      {policy && policy !== "-" && unready.length > 0 && (
        <span className="text-ochre-text">
          Not ready: {namesOf(unready)}; its schedules cannot be trusted there yet.
        </span>
      )}
    </form>
  );
}

const NAMED = 8;

function namesOf(rows: FleetRow[]): string {
  const names = rows.slice(0, NAMED).map((r) => r.name);
  return names.join(", ") + (rows.length > NAMED ? ` and ${rows.length - NAMED} more` : "");
}

function Pick(props: { label: string; field: UseFormRegisterReturn; children: ReactNode }) {
  return (
    <label className="flex items-center gap-1.5">
      {props.label}
      <select className="rounded border border-line bg-panel px-1.5 py-0.5" {...props.field}>
        {props.children}
      </select>
    </label>
  );
}
