import { asError } from "../../api/client";
import { DialogBox } from "../../ui/DialogBox";
import { useEffect, useState } from "react";
import { useForm, type UseFormReturn } from "react-hook-form";
import type { FleetChoices, FleetView } from "../../api/types";
import { isEnrolled, statedDatabase } from "./api";
import { ProblemNote } from "../../ui/ProblemNote";
import { isoSecond } from "../../time/view";
import { useMe } from "../../api/session";
import { assigned, databaseRecord, FIELDS, sizeText, type Field, type Stated } from "./records";

const HINTS: Partial<Record<Field, string>> = {
  inServiceFrom: "empty: from now on",
  zone: "for instance Europe/Lisbon",
  sizeBytes: "such as 500 GB; room is forecast from it",
  streams: "several separated by commas; empty: main",
  labels: "class=sailings, tier=1",
  components: "separated by commas",
  stopped: "FROM/TO, separated by commas",
  identity: "so that a copy under its name is noticed",
  standbyOf: "the database it follows",
  policy: "empty: by the standing rules",
};

type Props = {
  id: string | null;
  name: string;
  /** What the form begins with besides. */
  first?: Stated;
  fleet: FleetChoices;
  /** Where one of this name was seen, whom nobody enrolled. */
  seen: FleetView["unenrolled"][number] | undefined;
  onClose: () => void;
  onState: (records: object[]) => Promise<boolean>;
};

/** Enrols a database by hand, or changes what is said of one. */
export function EnrolForm(props: Props) {
  const { id, seen, onClose } = props;
  const [before, setBefore] = useState<Record<string, unknown> | null>(id === null ? {} : null);
  const [problem, setProblem] = useState<Error | null>(null);
  useEffect(() => {
    if (id === null) return;
    statedDatabase(id).then(setBefore, (e: unknown) => setProblem(asError(e)));
  }, [id]);
  return (
    <DialogBox title={id === null ? "Enrol a database" : `Edit ${id}`} width="w-[720px]" onClose={onClose}>
      {problem && <ProblemNote error={problem} />}
      {before && (
        <Fields
          {...props}
          before={before}
          first={id === null ? { ...props.first, ...fresh(props.name, seen) } : asStated(before)}
        />
      )}
    </DialogBox>
  );
}

function Fields(props: Omit<Props, "first"> & { before: Record<string, unknown>; first: Stated }) {
  const { id, fleet, before, first, onClose, onState } = props;
  const form = useForm<Stated>({ defaultValues: first });
  const [retiring, setRetiring] = useState(false);
  const { setFocus } = form;
  useEffect(() => setFocus("name"), [setFocus]);
  const save = async (stated: Stated) => {
    const record = databaseRecord(stated, before);
    if (!("type" in record)) {
      form.setError(record.field as Field, { message: record.reason });
    } else if (id === null && (await isEnrolled(record.id))) {
      form.setError("name", { message: "is enrolled already" });
    } else if (await onState([record])) {
      onClose();
    }
  };
  const send = form.handleSubmit(save);
  return (
    <form noValidate onSubmit={(e) => void send(e)}>
      <div className="mt-3 grid grid-cols-2 gap-x-6 gap-y-2">
        {FIELDS.map(([field, title]) => (
          <Entry key={field} form={form} field={field} title={title} fleet={fleet} />
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
      {id !== null && retiring && <Retiring id={id} before={before} onState={onState} onClose={onClose} />}
    </form>
  );
}

function Retiring(
  props: { id: string; before: Record<string, unknown> } & Pick<Props, "onState" | "onClose">,
) {
  const { id, before, onState, onClose } = props;
  const me = useMe();
  const retire = async () => {
    const at = isoSecond(Date.now());
    const none = assigned([{ database: id, policy: null, route: null }], {
      from: at,
      by: me.name,
      why: "retired",
    });
    if (await onState([{ ...before, retired: at }, ...none])) onClose();
  };
  return (
    <div className="mt-3 border-l-[3px] border-ochre pl-3">
      <p>
        From now on nothing is promised of {id}, nothing is scheduled, and it leaves Cover. Its history stays,
        and nothing of it may be purged until a policy says so again.
      </p>
      <button type="button" className="outline-button" onClick={() => void retire()}>
        Retire it now
      </button>
    </div>
  );
}

/** One thing that is said of a database, with what is wrong with it. */
function Entry(props: { form: UseFormReturn<Stated>; field: Field; title: string; fleet: FleetChoices }) {
  const { form, field, title, fleet } = props;
  const lists: Partial<Record<Field, { id: string; name: string }[]>> = {
    site: fleet.sites,
    route: fleet.routes,
    policy: fleet.policies,
  };
  const list = lists[field];
  const wrong = form.formState.errors[field]?.message;
  const known = form.getValues(field);
  const className = "block w-full rounded border border-line bg-panel px-2 py-1";
  return (
    <label className="block">
      {title}
      {HINTS[field] && <span className="text-note text-muted"> {HINTS[field]}</span>}
      {list ? (
        <select className={className} {...form.register(field)}>
          <option value=""></option>
          {list.map((o) => (
            <option key={o.id} value={o.id}>
              {o.name}
            </option>
          ))}
          {known && !list.some((o) => o.id === known) && <option value={known}>{known}</option>}
        </select>
      ) : (
        <input className={className} aria-invalid={Boolean(wrong)} {...form.register(field)} />
      )}
      {wrong && (
        <span role="alert" className="text-coral-text">
          {title} {wrong}.
        </span>
      )}
    </label>
  );
}

/** What is already known of one that was seen on a host. */
function fresh(name: string, seen: Props["seen"]): Stated {
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
    else if (field === "sizeBytes" && typeof value === "number") out.sizeBytes = sizeText(value);
    else if (Array.isArray(value)) out[field] = value.join(", ");
    else if (typeof value === "string" || typeof value === "number" || typeof value === "boolean")
      out[field] = String(value);
  }
  return out;
}
