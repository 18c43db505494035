import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";
import type { Schemas } from "../../api/types";

/** A program that was given a token, as far as it shows how it is started. */
export type Given = { roles: string[]; place: string };

/** So many databases of a host are named in its file. */
const MOST = 100;

/** What a program that was just given a token is started with: the file of a runner or a host that restores, the command of an agent. */
export function Starting({ given }: { given: Given }) {
  const { roles, place } = given;
  if (!place || place.includes(":")) return null;
  if (roles.includes("agent")) return <AgentCommand store={place} />;
  if (roles.includes("runner")) return <RunnerFile host={place} />;
  return roles.includes("driller") ? <DrillFile host={place} /> : null;
}

function AgentCommand({ store }: { store: string }) {
  return (
    <section aria-label="How it is started" className="mt-3">
      <p>
        With the token in a file that it alone may read, this starts it where {store} lies as a directory or a
        mount; change the directory to that.
      </p>
      <Text of={agentCommand(store, location.origin)} />
    </section>
  );
}

function RunnerFile({ host }: { host: string }) {
  const { data } = useQuery({
    queryKey: ["people", "starting", host],
    queryFn: async () => {
      const [choices, fleet] = await Promise.all([
        answer(client.GET("/api/choices")),
        answer(client.GET("/api/fleet", { params: { query: { words: host, from: 0, most: MOST } } })),
      ]);
      return { stores: choices.stores, databases: fleet.rows.filter((r) => r.host === host) };
    },
  });
  if (!data) return null;
  return (
    <section aria-label="How it is started" className="mt-3">
      <p>
        With the token in a file that it alone may read, and this beside it as <code>runner.toml</code>,{" "}
        <code>./firth runner --config runner.toml</code> starts it on {host}. Change the directories to where
        the stores lie there, and leave out those it does not reach
        {data.databases.length === 0 && `; no database is enrolled with the host ${host} yet`}.
      </p>
      <Text of={runnerFile(host, location.origin, data.stores, data.databases)} />
    </section>
  );
}

function DrillFile({ host }: { host: string }) {
  const { data } = useQuery({
    queryKey: ["people", "starting", "drills"],
    queryFn: () => answer(client.GET("/api/choices")),
  });
  if (!data) return null;
  return (
    <section aria-label="How it is started" className="mt-3">
      <p>
        With the token in a file that it alone may read, and this beside it as <code>drills.toml</code>,{" "}
        <code>./firth drill --config drills.toml --all --within P7D</code> on {host}, every night, proves
        every database once a week; <code>./firth restore</code> takes the same file. Change the directories
        to where the stores lie there, and to where there is room to restore.
      </p>
      <Text of={drillFile(host, location.origin, data.stores)} />
    </section>
  );
}

function Text({ of }: { of: string }) {
  return (
    <pre className="mt-2 max-w-[860px] overflow-x-auto rounded border border-line bg-panel p-3 font-mono text-note">
      {of}
    </pre>
  );
}

/** A text as a shell takes it for one word. */
const word = (text: string) => (/^[\w./:@=-]+$/.test(text) ? text : `'${text.replaceAll("'", `'\\''`)}'`);

export const agentCommand = (store: string, firth: string) =>
  `./firth agent --store ${word(store)} --root ${word(`/srv/backups/${store}`)} --to ${word(firth)} --token-file /etc/firth/agent.token`;

/** A key of TOML. */
const key = (text: string) => (/^[\w-]+$/.test(text) ? text : JSON.stringify(text));

type Reached = Pick<Schemas["FleetRow"], "id" | "engine">;

/** How a database is reached, by its engine; the account is one of docs/runner.md. */
function reached({ id, engine }: Reached): string[] {
  const word = engine.toLowerCase();
  if (word.startsWith("postgresql"))
    return [`engine = "postgresql"`, `connection = ${JSON.stringify(`service=${id} user=firth_backup`)}`];
  if (word.startsWith("mariadb"))
    return [`engine = "mariadb"`, `option-file = ${JSON.stringify(`/etc/firth/${id}.cnf`)}`];
  if (word.startsWith("sqlite")) return [`engine = "sqlite"`, `file = ${JSON.stringify(`/srv/${id}.db`)}`];
  return [];
}

const head = (host: string, firth: string, name: string) => [
  `host = ${JSON.stringify(host)}`,
  `firth = ${JSON.stringify(firth)}`,
  `token-file = "/etc/firth/${name}.token"`,
  `state = "/var/lib/firth/${name}"`,
];

const storesOf = (stores: { id: string }[]) => [
  "",
  "[stores]",
  ...stores.map((s) => `${key(s.id)} = ${JSON.stringify(`/srv/backups/${s.id}`)}`),
];

/** The file of a host that restores: what Firth proposes, and what somebody began. */
export const drillFile = (host: string, firth: string, stores: { id: string }[]) =>
  [...head(host, firth, "drill"), ...storesOf(stores), "", "[drills]", `directory = "/srv/drills"`, ""].join(
    "\n",
  );

export function runnerFile(
  host: string,
  firth: string,
  stores: { id: string }[],
  databases: Reached[],
): string {
  return [
    ...head(host, firth, "runner"),
    ...storesOf(stores),
    ...databases
      .filter((d) => reached(d).length > 0)
      .flatMap((d) => ["", `[databases.${key(d.id)}]`, ...reached(d)]),
    "",
  ].join("\n");
}
