import { asError } from "../../api/client";
import { DialogBox } from "../../ui/DialogBox";
import { useEffect, useState } from "react";
import type { FleetView } from "../../api/types";
import { statedDatabase } from "./api";
import { ProblemNote } from "../../ui/ProblemNote";
import { useMe } from "../../api/session";
import { assignments, databaseRecord, FIELDS, type Field, type Stated } from "./records";

const HINTS: Partial<Record<Field, string>> = {
  inServiceFrom: "empty: from now on",
  zone: "for instance Europe/Lisbon",
  streams: "several separated by commas; empty: main",
  labels: "class=sailings, tier=1",
  components: "separated by commas",
  stopped: "FROM/TO, separated by commas",
  identity: "so that a copy under its name is noticed",
  standbyOf: "the database it follows",
  policy: "empty: by the standing rules",
};

/** Enrols a database by hand, or changes what is said of one. */
export function EnrolForm(props: {
  id: string | null;
  name: string;
  fleet: FleetView;
  onClose: () => void;
  onState: (records: object[]) => Promise<boolean>;
}) {
  const { id, fleet, onClose, onState } = props;
  const [before, setBefore] = useState<Record<string, unknown> | null>(id === null ? {} : null);
  const [stated, setStated] = useState<Stated>(() => fresh(props.name, fleet));
  const [wrong, setWrong] = useState<{ field: string; reason: string } | null>(null);
  const [problem, setProblem] = useState<Error | null>(null);
  const [retiring, setRetiring] = useState(false);
  const me = useMe();
  useEffect(() => {
    if (id === null) return;
    statedDatabase(id).then(
      (d) => {
        setBefore(d);
        setStated(asStated(d));
      },
      (e: unknown) => setProblem(asError(e)),
    );
  }, [id]);

  const save = async () => {
    const record = databaseRecord(stated, before ?? {});
    if (!("type" in record)) {
      setWrong(record);
      return;
    }
    const twice = id === null && fleet.rows.some((r) => r.id === record.id);
    if (twice) {
      setWrong({ field: "name", reason: "is enrolled already" });
      return;
    }
    setWrong(null);
    if (await onState([record])) onClose();
  };
  const retire = async () => {
    const at = new Date().toISOString().replace(/\.\d+Z$/, "Z");
    const none = assignments([id as string], {
      policy: null,
      route: null,
      from: at,
      by: me.name,
      why: "retired",
    });
    if (await onState([{ ...before, retired: at }, ...none])) onClose();
  };
  return (
    <DialogBox title={id === null ? "Enrol a database" : `Edit ${id}`} width="w-[720px]" onClose={onClose}>
      {problem && <ProblemNote error={problem} />}
      {before && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            void save();
          }}
        >
          <div className="mt-3 grid grid-cols-2 gap-x-6 gap-y-2">
            {FIELDS.map(([field, title]) => (
              <label key={field} className="block">
                {title}
                {HINTS[field] && <span className="text-[12px] text-muted"> {HINTS[field]}</span>}
                <Entry
                  field={field}
                  fleet={fleet}
                  value={stated[field] ?? ""}
                  bad={wrong?.field === field}
                  onChange={(text) => setStated({ ...stated, [field]: text })}
                />
                {wrong?.field === field && (
                  <span role="alert" className="text-coral-text">
                    {title} {wrong.reason}.
                  </span>
                )}
              </label>
            ))}
          </div>
          <div className="mt-4 flex items-center gap-3">
            <button className="ink-button">{id === null ? "Enrol" : "Keep"}</button>
            <button type="button" className="text-button" onClick={onClose}>
              Cancel
            </button>
            {id !== null && !retiring && (
              <button type="button" className="text-button ml-auto" onClick={() => setRetiring(true)}>
                Retire it…
              </button>
            )}
          </div>
          {retiring && (
            <div className="mt-3 border-l-[3px] border-ochre pl-3">
              <p>
                From now on nothing is promised of {id}, nothing is scheduled, and it leaves Cover. Its
                history stays, and nothing of it may be purged until a policy says so again.
              </p>
              <button type="button" className="outline-button" onClick={() => void retire()}>
                Retire it now
              </button>
            </div>
          )}
        </form>
      )}
    </DialogBox>
  );
}

function Entry(props: {
  field: Field;
  fleet: FleetView;
  value: string;
  bad: boolean;
  onChange: (text: string) => void;
}) {
  const { field, fleet, value, bad, onChange } = props;
  const lists: Partial<Record<Field, { id: string; name: string }[]>> = {
    site: fleet.sites,
    route: fleet.routes,
    policy: fleet.policies,
  };
  const list = lists[field];
  const className = "block w-full rounded border border-line bg-panel px-2 py-1";
  if (!list) {
    return (
      <input
        className={className}
        aria-invalid={bad}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    );
  }
  return (
    <select className={className} value={value} onChange={(e) => onChange(e.target.value)}>
      <option value=""></option>
      {list.map((o) => (
        <option key={o.id} value={o.id}>
          {o.name}
        </option>
      ))}
      {value && !list.some((o) => o.id === value) && <option value={value}>{value}</option>}
    </select>
  );
}

/** What is already known of one that was seen on a host. */
function fresh(name: string, fleet: FleetView): Stated {
  const seen = fleet.unenrolled.find((u) => u.name === name);
  const out: Stated = { name };
  if (seen?.engine) out.engine = seen.engine;
  if (seen?.seen?.host) out.host = seen.seen.host;
  if (seen?.seen?.identity) out.identity = seen.seen.identity;
  return out;
}

function asStated(d: Record<string, unknown>): Stated {
  const out: Stated = {};
  for (const [field] of FIELDS) {
    const value = d[field];
    if (field === "labels")
      out.labels = Object.entries((value as Record<string, string> | undefined) ?? {})
        .map(([k, v]) => `${k}=${v}`)
        .join(", ");
    else if (field === "stopped")
      out.stopped = ((value as { from: string; to?: string }[] | undefined) ?? [])
        .map((s) => `${s.from}/${s.to ?? ""}`)
        .join(", ");
    else if (field === "components")
      out.components = ((value as { name: string }[] | undefined) ?? []).map((c) => c.name).join(", ");
    else if (Array.isArray(value)) out[field] = value.join(", ");
    else if (typeof value === "string" || typeof value === "number" || typeof value === "boolean")
      out[field] = String(value);
  }
  return out;
}
