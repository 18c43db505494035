import { useState } from "react";
import { useForm, useWatch, type Path, type UseFormReturn } from "react-hook-form";
import type { Schemas } from "../../api/types";
import { makeToken, revokeToken, statePerson, useMay, usePeople } from "../../api/session";
import { longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { Form } from "../../ui/Form";
import { CheckOf, TextOf } from "../../ui/fields";
import { ProblemNote } from "../../ui/ProblemNote";
import { Starting, type Given } from "./Starting";

type Person = Schemas["PersonView"];

/** Who may do what: people, and programs by their tokens. */
export function PeoplePage() {
  const may = useMay("administrator");
  const { data, error } = usePeople(may);
  const { run, problem } = useCommand(["people"]);
  const [stating, setStating] = useState<Person | "new" | null>(null);
  const [making, setMaking] = useState(false);
  const [made, setMade] = useState<(Given & { secret: string }) | null>(null);
  const then = (act: () => Promise<unknown>) => run(act, () => setStating(null));
  if (!may)
    return (
      <main className="px-5 py-8">
        <h1 className="text-page">People</h1>
        <p className="mt-2">Administrators decide who may do what.</p>
      </main>
    );
  return (
    <main className="px-5 py-4">
      <h1 className="text-page leading-tight">People</h1>
      {(error ?? problem) && <ProblemNote error={(error ?? problem) as Error} />}
      <PersonTable data={data} setStating={setStating} />
      {data && stating && (
        <PersonForm
          key={stating === "new" ? "" : stating.id}
          known={stating === "new" ? null : stating}
          roles={data.roles}
          onState={(id, said) => void then(() => statePerson(id, said))}
          onClose={() => setStating(null)}
        />
      )}
      {!stating && (
        <button className="outline-button mt-3" onClick={() => setStating("new")}>
          Add a person…
        </button>
      )}
      <h2 className="mt-8 text-section">Programs</h2>
      <p className="text-muted">
        Runners on hosts, agents at stores, scripts: each shows a token of its own.
      </p>
      <TokenTable data={data} then={then} />
      {data?.tokens.length === 0 && <p className="text-muted">No program has a token yet.</p>}
      {made && (
        <>
          <div role="status" className="mt-3 border-l-[3px] border-ochre pl-3">
            <p>The token, shown this once: keep it where the program can read it.</p>
            <p className="font-mono break-all">{made.secret}</p>
          </div>
          <Starting given={made} />
        </>
      )}
      {data && making ? (
        <TokenForm
          roles={data.programRoles}
          onMake={(said) =>
            void then(() =>
              makeToken(said).then(({ secret }) => {
                setMade({ roles: said.roles, place: said.place ?? "", secret });
                setMaking(false);
              }),
            )
          }
          onClose={() => setMaking(false)}
        />
      ) : (
        <button className="outline-button mt-3" onClick={() => setMaking(true)}>
          Make a token…
        </button>
      )}
    </main>
  );
}

function PersonTable(props: {
  data: Schemas["PeopleView"] | undefined;
  setStating: (next: Schemas["PersonView"] | "new" | null) => void;
}) {
  const { data, setStating } = props;
  return (
    <table className="mt-2 w-full max-w-[1000px] text-left">
      <tbody>
        {data?.people.map((p) => (
          <tr key={p.id} className="border-t border-line">
            <td className="py-1.5 font-semibold">{p.name}</td>
            <td className="font-mono text-note">{p.id}</td>
            <td>
              {p.away ? <span className="text-muted">may not sign in any more</span> : p.roles.join(", ")}
            </td>
            <td className="text-right">
              <button className="text-button" onClick={() => setStating(p)}>
                Change…
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function TokenTable(props: {
  data: Schemas["PeopleView"] | undefined;
  then: (act: () => Promise<unknown>) => Promise<boolean>;
}) {
  const { data, then } = props;
  return (
    <table className="mt-2 w-full max-w-[1000px] text-left">
      <tbody>
        {data?.tokens.map((t) => (
          <tr key={t.id} className="border-t border-line">
            <td className="py-1.5 font-semibold">{t.name}</td>
            <td>
              {t.roles.join(", ")}
              {t.place && ` at ${t.place}`}
            </td>
            <td className="text-muted">
              made by {t.by}, {t.used ? `last used ${longMoment(t.used, viewerZone)}` : "never used"}
              {t.until && t.state === "good" && `, until ${longMoment(t.until, viewerZone)}`}
            </td>
            <td className="text-right">
              {t.state === "good" ? (
                <button className="text-button" onClick={() => void then(() => revokeToken(t.id))}>
                  Revoke
                </button>
              ) : (
                t.state
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const BOX = "mt-3 max-w-[640px] space-y-3 rounded-lg border border-ink bg-panel p-4";

function RolesOf<T extends { roles: string[] }>({
  form,
  roles,
}: {
  form: UseFormReturn<T>;
  roles: string[];
}) {
  return (
    <fieldset className="flex flex-wrap gap-x-4">
      <legend>May do what a</legend>
      {roles.map((role) => (
        <label key={role} className="flex items-center gap-1.5">
          <input type="checkbox" value={role} {...form.register("roles" as Path<T>)} />
          {role}
        </label>
      ))}
      <span>does</span>
    </fieldset>
  );
}

function PersonForm(props: {
  known: Person | null;
  roles: string[];
  onState: (id: string, said: Schemas["PersonWritten"]) => void;
  onClose: () => void;
}) {
  const { known, roles, onState, onClose } = props;
  const form = useForm({
    defaultValues: {
      id: known?.id ?? "",
      name: known?.name ?? "",
      roles: known?.roles ?? ["viewer"],
      password: "",
      away: known?.away ?? false,
    },
  });
  const said = useWatch({ control: form.control });
  return (
    <Form
      form={form}
      label="Person"
      className={BOX}
      text={known ? "Keep" : "Let in"}
      disabled={!said.id || !said.name || !said.roles?.length}
      problem={null}
      onSubmit={({ id, password, ...v }) => onState(id, { ...v, password: password || null })}
      onCancel={onClose}
    >
      {!known && <TextOf form={form} name="id" label="Sign-in name (lower case)" autoFocus />}
      <TextOf form={form} name="name" label="Name" />
      <RolesOf form={form} roles={roles} />
      <TextOf
        form={form}
        name="password"
        label={known ? "New password (optional)" : "First password, at least 10 characters"}
        type="password"
        autoComplete="new-password"
      />
      {known && <CheckOf form={form} name="away" label="may not sign in any more" />}
    </Form>
  );
}

function TokenForm(props: {
  roles: string[];
  onMake: (said: Schemas["TokenWritten"]) => void;
  onClose: () => void;
}) {
  const { roles, onMake, onClose } = props;
  const form = useForm({ defaultValues: { name: "", roles: [] as string[], place: "" } });
  const said = useWatch({ control: form.control });
  return (
    <Form
      form={form}
      label="Token"
      className={BOX}
      text="Make it"
      disabled={!said.name || !said.roles?.length}
      problem={null}
      onSubmit={(v) => onMake({ ...v, place: v.place || null, until: null })}
      onCancel={onClose}
    >
      <TextOf form={form} name="name" label="Name of the program" autoFocus />
      <RolesOf form={form} roles={roles} />
      <TextOf
        form={form}
        name="place"
        label="Bound to which store (agent) or host (runner)?"
        placeholder="a host, a store, or database:ID"
      />
    </Form>
  );
}
