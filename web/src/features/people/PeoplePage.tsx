import { useState } from "react";
import type { Schemas } from "../../api/types";
import { makeToken, revokeToken, statePerson, useMay, usePeople } from "../../api/session";
import { longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { Labelled } from "../../ui/Labelled";
import { ProblemNote } from "../../ui/ProblemNote";

type Person = Schemas["PersonView"];

/** Who may do what: people, and programs by their tokens. */
export function PeoplePage() {
  const may = useMay("administrator");
  const { data, error } = usePeople(may);
  const { run, problem } = useCommand(["people"]);
  const [stating, setStating] = useState<Person | "new" | null>(null);
  const [making, setMaking] = useState(false);
  const [secret, setSecret] = useState<string | null>(null);
  const then = (act: () => Promise<unknown>) => run(act, () => setStating(null));
  if (!may)
    return (
      <main className="px-5 py-8">
        <h1 className="text-[26px]">People</h1>
        <p className="mt-2">Administrators decide who may do what.</p>
      </main>
    );
  return (
    <main className="px-5 py-4">
      <h1 className="text-[26px] leading-tight">People</h1>
      {(error ?? problem) && <ProblemNote error={(error ?? problem) as Error} />}
      <table className="mt-2 w-full max-w-[1000px] text-left">
        <tbody>
          {data?.people.map((p) => (
            <tr key={p.id} className="border-t border-line">
              <td className="py-1.5 font-semibold">{p.name}</td>
              <td className="font-mono text-[12px]">{p.id}</td>
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
      <h2 className="mt-8 text-[20px]">Programs</h2>
      <p className="text-muted">
        Runners on hosts, agents at stores, scripts: each shows a token of its own.
      </p>
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
      {data?.tokens.length === 0 && <p className="text-muted">No program has a token yet.</p>}
      {secret && (
        <div role="status" className="mt-3 border-l-[3px] border-ochre pl-3">
          <p>The token, shown this once: keep it where the program can read it.</p>
          <p className="font-mono break-all">{secret}</p>
        </div>
      )}
      {data && making ? (
        <TokenForm
          roles={data.programRoles}
          onMake={(said) =>
            void then(() =>
              makeToken(said).then((made) => {
                setSecret(made.secret);
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

function Roles(props: { roles: string[]; chosen: string[]; onChange: (roles: string[]) => void }) {
  const { roles, chosen, onChange } = props;
  return (
    <fieldset className="flex flex-wrap gap-x-4">
      <legend>May do what a</legend>
      {roles.map((role) => (
        <label key={role} className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={chosen.includes(role)}
            onChange={(e) =>
              onChange(e.target.checked ? [...chosen, role] : chosen.filter((r) => r !== role))
            }
          />
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
  const [id, setId] = useState(known?.id ?? "");
  const [name, setName] = useState(known?.name ?? "");
  const [chosen, setChosen] = useState(known?.roles ?? ["viewer"]);
  const [password, setPassword] = useState("");
  const [away, setAway] = useState(known?.away ?? false);
  return (
    <form
      aria-label="Person"
      className="mt-3 max-w-[640px] space-y-3 rounded-lg border border-ink bg-panel p-4"
      onSubmit={(e) => {
        e.preventDefault();
        onState(id, { name, roles: chosen, away, password: password || null });
      }}
    >
      {!known && <Labelled label="Sign-in name (lower case)" value={id} onChange={setId} autoFocus />}
      <Labelled label="Name" value={name} onChange={setName} />
      <Roles roles={roles} chosen={chosen} onChange={setChosen} />
      <Labelled
        label={known ? "New password (optional)" : "First password, at least 10 characters"}
        type="password"
        value={password}
        onChange={setPassword}
        autoComplete="new-password"
      />
      {known && (
        <label className="flex items-center gap-1.5">
          <input type="checkbox" checked={away} onChange={(e) => setAway(e.target.checked)} />
          may not sign in any more
        </label>
      )}
      <div className="flex gap-3">
        <button className="ink-button" disabled={!id || !name || chosen.length === 0}>
          {known ? "Keep" : "Let in"}
        </button>
        <button type="button" className="text-button" onClick={onClose}>
          Cancel
        </button>
      </div>
    </form>
  );
}

function TokenForm(props: {
  roles: string[];
  onMake: (said: Schemas["TokenWritten"]) => void;
  onClose: () => void;
}) {
  const { roles, onMake, onClose } = props;
  const [name, setName] = useState("");
  const [chosen, setChosen] = useState<string[]>([]);
  const [place, setPlace] = useState("");
  return (
    <form
      aria-label="Token"
      className="mt-3 max-w-[640px] space-y-3 rounded-lg border border-ink bg-panel p-4"
      onSubmit={(e) => {
        e.preventDefault();
        onMake({ name, roles: chosen, place: place || null, until: null });
      }}
    >
      <Labelled label="Name of the program" value={name} onChange={setName} autoFocus />
      <Roles roles={roles} chosen={chosen} onChange={setChosen} />
      <Labelled
        label="Bound to which store (agent) or host (runner)?"
        placeholder="a host, a store, or database:ID"
        value={place}
        onChange={setPlace}
      />
      <div className="flex gap-3">
        <button className="ink-button" disabled={!name || chosen.length === 0}>
          Make it
        </button>
        <button type="button" className="text-button" onClick={onClose}>
          Cancel
        </button>
      </div>
    </form>
  );
}
