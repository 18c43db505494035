import { useState } from "react";
import { enter, enterFirst, useComing, type Session } from "../../api/session";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { Labelled } from "../../ui/Labelled";

/** What stands before everything else where nobody is signed in. */
export function SignInPage({ session }: { session: Session }) {
  const coming = useComing();
  const [code, setCode] = useState("");
  const [id, setId] = useState("");
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const { run, pending, problem } = useCommand();
  const first = session.awaitsFirst;
  const missing = !id || !password || (first && (!code || !name));
  return (
    <main className="mx-auto w-[420px] max-w-full px-5 py-16">
      <h1 className="font-serif text-[34px] leading-none font-semibold">firth</h1>
      <p className="mt-2 text-muted">
        {first
          ? "Nobody may sign in yet. The server printed a one-time code when it began: whoever has it becomes the first administrator."
          : "What can be restored, and what may be purged."}
      </p>
      <form
        aria-label="Sign in"
        className="mt-5 space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (missing) return;
          void run(() => coming(first ? enterFirst({ code, id, name, password }) : enter({ id, password })));
        }}
      >
        {first && <Labelled label="One-time code" value={code} onChange={setCode} autoFocus />}
        <Labelled
          label={first ? "Sign-in name (lower case)" : "Sign-in name"}
          value={id}
          onChange={setId}
          autoFocus={!first}
          autoComplete="username"
        />
        {first && <Labelled label="Your name" value={name} onChange={setName} autoComplete="name" />}
        <Labelled
          label={first ? "Password, at least 10 characters" : "Password"}
          type="password"
          value={password}
          onChange={setPassword}
          autoComplete={first ? "new-password" : "current-password"}
        />
        {problem && <ProblemNote error={problem} />}
        <div className="flex items-center gap-3">
          <button className="ink-button" disabled={missing || pending}>
            {first ? "Begin" : "Sign in"}
          </button>
          {session.provider && (
            <a className="text-button" href="/api/session/provider">
              Sign in another way
            </a>
          )}
        </div>
      </form>
    </main>
  );
}
